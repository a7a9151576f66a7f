"""An exact solid from a mesh that is told apart into forms: corners where three or more of them meet, edges where two
do, and faces inside those."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..kernel.carriers import CurveData, Frame, spline_through
from ..kernel.check import fault
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.soup import Shard, edges_between, face_over, facing_alike, open_edges, ring_of, sewn_within, solid_of
from ..local.edge_curves import EdgeCurve, crossing
from ..local.failure import LocalFailure
from ..local.surfaces import Floats, Surface
from ..model.trimesh_body import TriangleMesh
from .forms import Progress, frame_about, silent
from .loops import Loop, Lost, read_loop
from .patches import laid, regions_within
from .tidy_forms import tidied

LEVEL = 5e-6  # of the size: what single precision leaves open
SAMPLES = 25  # points along an edge that it is drawn near
WHOLE = {"sphere": (0.0, 2 * np.pi, -np.pi / 2, np.pi / 2), "torus": (0.0, 2 * np.pi, 0.0, 2 * np.pi)}


@dataclass(frozen=True)
class FromForms:
    """shape: the solid, None where it does not close; loosest: mm by which an edge misses its faces at most; trouble:
    what stands in the way; at: a place there (mm)."""

    shape: Shape | None
    loosest: float
    trouble: str | None = None
    at: Floats | None = None


def solid_from(mesh: TriangleMesh, level: float | None = None, progress: Progress = silent) -> FromForms:
    """mesh: closed and divided, every face with a form; level: mm that forms may be off, for the precision of single
    numbers when None."""
    size = float(np.ptp(mesh.points, axis=0).max())
    return _Maker(mesh, level or LEVEL * size, size).made(progress)


@dataclass
class _Chain:
    """points: of the mesh, in order; faces: the two beside it; closed: it runs back into its start."""

    points: list[int]
    faces: tuple[int, int]
    closed: bool


@dataclass
class _Maker:
    mesh: TriangleMesh
    level: float
    size: float
    chains: list[_Chain] = field(default_factory=list)
    loops: dict[int, list[list[tuple[int, bool]]]] = field(default_factory=dict)

    def made(self, progress: Progress) -> FromForms:
        surfaces = [f.surface for f in self.mesh.forms]
        if any(s is None for s in surfaces):
            raise ValueError("a face without a form")
        self.surfaces = tidied([s for s in surfaces if s is not None], 2 * self.level, self.size)
        self._trace()
        corners = self._corners()
        progress(0.3, "drawing edges where forms meet")
        pieces, loosest = [], 0.0
        for chain in self.chains:
            try:
                piece, miss = self._piece(chain, corners)
            except LocalFailure as error:
                a, b = (self.surfaces[f].kind for f in chain.faces)
                return FromForms(None, loosest, f"a {a} and a {b} do not meet where the mesh has an edge ({error})",
                                 self.mesh.points[chain.points[len(chain.points) // 2]])  # fmt: skip
            pieces.append(piece)
            loosest = max(loosest, miss)
        edges = edges_between([(place, max(1e-7, 1.5 * miss, loosest)) for place, miss in corners.rows], pieces)
        faces: list[Shape] = []
        for number, surface in enumerate(self.surfaces):
            progress(0.4 + 0.4 * number / len(self.surfaces), "laying faces")
            found = self._faces(number, surface, edges)
            if found is None:
                return FromForms(None, loosest, f"no {surface.kind} fits inside its edges",
                                 self.mesh.facet(number, 0)[0])  # fmt: skip
            faces += found
        progress(0.85, "sewing")
        for tolerance in (1e-6, 1e-5, max(2 * loosest, 2 * self.level), max(10 * loosest, 20 * self.level)):
            whole = sewn_within(faces, tolerance).shape
            if not open_edges(ShapeIndex(whole)):
                break
        left = open_edges(ShapeIndex(whole))
        if left:
            return FromForms(None, loosest, f"{len(left)} edges stay open")
        solid = solid_of(facing_alike(whole))
        if solid is None:
            return FromForms(None, loosest, "the faces close, but to more than one shell")
        return FromForms(solid, loosest, fault(solid))

    # --- the mesh's own edges --------------------------------------------------------------------------------------

    def _trace(self) -> None:
        """Chains of mesh edges between two faces, and the loops that they make around each."""
        labels = self.mesh.labels
        assert labels is not None
        t = self.mesh.triangles.astype(np.int64)
        start, end = t.reshape(-1), np.roll(t, -1, axis=1).reshape(-1)
        label = np.repeat(labels, 3)
        count = len(self.mesh.points)
        key = start * count + end
        order = np.argsort(key)
        across = label[order[np.searchsorted(key[order], end * count + start)]]
        border = np.flatnonzero(label != across)
        meets: dict[int, set[int]] = {}
        uses: dict[int, int] = {}
        onward: dict[tuple[int, int], list[tuple[int, int]]] = {}
        for k in border.tolist():
            p, q, mine, other = int(start[k]), int(end[k]), int(label[k]), int(across[k])
            meets.setdefault(p, set()).update((mine, other))
            uses[p] = uses.get(p, 0) + 1  # each border edge starts twice, once in each way
            onward.setdefault((mine, p), []).append((q, other))
        self.junctions = {p for p in meets if uses[p] != 2 or len(meets[p]) != 2}
        self.meets = meets
        known: dict[tuple, tuple[int, bool]] = {}
        for mine, first in list(onward):
            while onward.get((mine, first)):
                self.loops.setdefault(mine, []).append(self._loop(onward, mine, first, known))

    def _loop(self, onward: dict, mine: int, first: int, known: dict) -> list[tuple[int, bool]]:
        row: list[tuple[int, int]] = []  # (point, face across the edge that leaves it)
        here = first
        while True:
            ways = onward[mine, here]
            there, other = ways.pop()
            row.append((here, other))
            here = there
            if here == first:
                break
        cuts = [i for i, (p, _) in enumerate(row) if p in self.junctions]
        found = []
        if not cuts:
            points = [p for p, _ in row]
            found.append(self._chain(points, (mine, row[0][1]), True, known))
        for i, cut in enumerate(cuts):
            stop = cuts[(i + 1) % len(cuts)]
            span = (stop - cut - 1) % len(row) + 1
            points = [row[(cut + j) % len(row)][0] for j in range(span + 1)]
            found.append(self._chain(points, (mine, row[cut][1]), False, known))
        return found

    def _chain(self, points: list[int], faces: tuple[int, int], closed: bool, known: dict) -> tuple[int, bool]:
        """Its number and whether it is run against its own way."""
        if closed:
            at = points.index(min(points))
            points = points[at:] + points[:at]
            against = points[1] > points[-1]
            points = [points[0], *points[:0:-1]] if against else points
            points = [*points, points[0]]
        else:
            against = points[::-1] < points
            points = points[::-1] if against else points
        key = (tuple(points), tuple(sorted(faces)))
        if key not in known:
            known[key] = len(self.chains), False
            self.chains.append(_Chain(points, faces, closed))
        return known[key][0], against

    # --- corners and edges -----------------------------------------------------------------------------------------

    def _corners(self) -> _Corners:
        found = _Corners()
        for p in self.junctions:
            found.add(p, *self._settled(p, [self.surfaces[f] for f in self.meets[p]]))
        for chain in self.chains:
            if chain.closed:
                pair = [self.surfaces[f] for f in chain.faces]
                found.add(chain.points[0], *self._settled(chain.points[0], pair))
        return found

    def _settled(self, point: int, surfaces: Sequence[Surface]) -> tuple[Floats, float]:
        place = self.mesh.points[point][None]
        for _ in range(30):
            found = [s.distance(place) for s in surfaces]
            miss = np.array([d[0] for d, _ in found])
            slopes = np.array([g[0] for _, g in found])
            step = np.linalg.pinv(slopes, rcond=1e-3) @ miss
            place = place - step
            if np.abs(step).max() < 1e-12:
                break
        miss_ = max(float(np.abs(s.distance(place)[0]).max()) for s in surfaces)
        return place[0], miss_

    def _piece(self, chain: _Chain, corners: _Corners) -> tuple[Shard, float]:
        pair = [self.surfaces[f] for f in chain.faces]
        points = self.mesh.points[_thinned(chain.points, chain.closed)].astype(float)
        a, b = corners.at[chain.points[0]], corners.at[chain.points[-1]]
        points[0], points[-1] = corners.rows[a][0], corners.rows[b][0]
        if len(points) == 2:
            share = np.linspace(0, 1, 5)[:, None]
            points = points[0] + share * (points[1] - points[0])
        try:
            border = crossing(points, pair, chain.closed, (0, 1), 2 * self.level)
        except LocalFailure:
            border = _loose(points)
        near = border.points(2 * SAMPLES)
        miss = max(float(np.abs(s.distance(near)[0]).max()) for s in pair)
        if miss > 50 * self.level:
            raise LocalFailure(f"they stand {miss:.3g} mm off", [0, 1])
        piece = Shard(border.kernel, border.first, border.last, max(1e-7, 1.2 * miss), (a, b))
        return piece, miss

    # --- faces -----------------------------------------------------------------------------------------------------

    def _faces(self, number: int, surface: Surface, edges: Sequence[Shape]) -> list[Shape] | None:
        loops = self.loops.get(number, [])
        if not loops:
            made = face_over(surface.kernel, WHOLE[surface.kind]) if surface.kind in WHOLE else None
            return None if made is None else [made]
        if surface.kind == "sphere":
            surface = self._turned(number, surface)
        rows: list[Loop] = [read_loop(None, ring_of([(edges[e], against) for e, against in row])) for row in loops]
        found = []
        for group in regions_within(Lost(surface, tuple(rows))):
            face = laid(surface, group)
            if face is None:
                return None
            found += parts_of(face, "face")
        return found

    def _turned(self, number: int, ball: Surface) -> Surface:
        """A sphere whose poles lie beside the face, as far as that can be."""
        corners = self.mesh.corners[self.mesh.triangles_of_faces[number]]
        outward = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]).sum(axis=0)
        if np.linalg.norm(outward) < self.level**2:
            return ball
        beside = frame_about(ball.axial.origin, outward)
        return Surface("sphere", Frame(beside.origin, beside.z, beside.x, beside.y), ball.numbers)


@dataclass
class _Corners:
    """rows: place and miss of each; at: its number for a point of the mesh."""

    rows: list[tuple[Floats, float]] = field(default_factory=list)
    at: dict[int, int] = field(default_factory=dict)

    def add(self, point: int, place: Floats, miss: float) -> None:
        self.at[point] = len(self.rows)
        self.rows.append((place, miss))


def _thinned(points: list[int], closed: bool) -> NDArray[np.int64]:
    if len(points) <= SAMPLES:
        return np.array(points)
    return np.array(points)[np.unique(np.linspace(0, len(points) - 1, SAMPLES).round().astype(int))]


def _loose(points: Floats) -> EdgeCurve:
    """A spline through the points themselves, where two forms touch and say nothing exact."""
    lengths = np.append(0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1)))
    curve = CurveData("spline", None, (), spline_through(points, lengths))
    return EdgeCurve(curve, 0.0, float(lengths[-1]), 1e-7)
