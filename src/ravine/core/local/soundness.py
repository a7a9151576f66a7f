"""Whether rebuilt faces are sound and pass through nothing, looked at only where something changed.

The kernel's check of a face sees loops that cross, but not one face running through another.  Two faces that cross
have an edge of one running through the other, or a loop that lies inside both; so edges of rebuilt faces are tried
against the faces near them, and the other way round, and curved faces by lines notes on them.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from ..kernel.check import face_fault, whole_fault
from ..kernel.classify import FaceBounds
from ..kernel.rebuild import loops_of, subshapes, with_loops
from .failure import LocalFailure
from .surfaces import Floats, Surface
from .topology import SolidTopology

CLEAR = 2e-5  # mm: what runs closer than this touches rather than crosses
ALIKE = 1e-4  # square of the sine between surfaces that count as running alike
SAME = 1e-9  # mm
PER_EDGE = 9
FEW = 4  # loops of a face, up to which the kernel looks at all of them
GRID = 7
Boxes = tuple[Floats, Floats]  # low and high corners, (n, 3) each


def check(topology: SolidTopology, faces: Iterable[int], before: SolidTopology | None = None) -> None:
    """faces: all that changed, by number; before: the sound solid that it came from, part by part in the same order.
    Raises LocalFailure naming the faces that cross."""
    faces = list(faces)
    for face in faces:
        shape = topology.index.get("face", face)
        flat = before and before.surface(face).kind == topology.surface(face).kind == "plane"
        if before and flat and len(topology.wires(face)) > FEW:
            shape = with_loops(shape, _at_risk(before, topology, face))
        if face_fault(shape):
            raise LocalFailure("faces or edges of the result would cross", [face])
    _Passage(topology, faces).check()
    if len(subshapes(topology.index.shape)) > 1 and whole_fault(topology.index.shape):
        raise LocalFailure("a hollow inside would reach the outside", faces)


def _at_risk(before: SolidTopology, topology: SolidTopology, face: int) -> list[bool]:
    """For each loop of a plane face, as the face lists them, whether it can cross others now: it is the outer one, it
    changed otherwise than with the plane, or it comes near to what an edge that did has passed over.  All else is as
    it was in the plane."""
    old, new = before.surface(face), topology.surface(face)
    loops, edges = loops_of(topology.index, face), topology.edges_of(face)
    if float(old.axial.z @ new.axial.z) < 1 - 1e-12:
        return [True] * len(loops.stored)
    shift = float((new.axial.origin - old.axial.origin) @ new.axial.z) * new.axial.z
    still = [np.abs(topology.samples(e, PER_EDGE) - before.samples(e, PER_EDGE) - shift).max() < SAME for e in edges]
    here, there = (np.array([f.drawn_edges.of("box", e, f.edge_box) for e in edges]) for f in (topology, before))
    there += np.tile(shift, 2)
    moved = np.flatnonzero(~np.array(still))
    low = np.minimum(here, there)[moved, :3] - CLEAR
    high = np.maximum(here, there)[moved, 3:] + CLEAR
    meets = (here[:, None, :3] <= high).all(axis=2) & (here[:, None, 3:] >= low).all(axis=2)
    near = dict(zip(edges, meets.any(axis=1).tolist(), strict=True))
    return [loop == loops.ordered[0] or any(near[e] for e, _ in loop) for loop in loops.stored]


class _Passage:
    def __init__(self, topology: SolidTopology, faces: list[int]) -> None:
        self.topology, self.faces = topology, faces

    def check(self) -> None:
        low, high = self.topology.boxes[:, :3], self.topology.boxes[:, 3:]
        touched = set(self.faces)
        for face in self.faces:
            near = np.flatnonzero((low <= high[face] - CLEAR).all(axis=1) & (high >= low[face] + CLEAR).all(axis=1))
            others = {
                other: bool(shared)
                for other in near.tolist()
                if other != face and not (other in touched and other < face)
                and not self._smooth(shared := set(self.topology.edges_of(face)) & set(self.topology.edges_of(other)))
            }  # fmt: skip
            found = self._crossed(face, others) if others else None
            if found is not None:
                raise LocalFailure("it would run into another face of the body", [face, found])

    def _smooth(self, shared: set[int]) -> bool:
        return any(self.topology.meeting(e) in ("same", "smooth") for e in shared)

    def _crossed(self, face: int, others: Mapping[int, bool]) -> int | None:
        """One of these faces that runs through a face, or the other way round.  others: whether they share an edge with
        it; where not, curved ones may poke through its middle."""
        rows = {other: self._drawn_on(other, shared) for other, shared in others.items()}
        owners = np.repeat(list(rows), [len(lines) for lines, _ in rows.values()])
        lines = np.concatenate([lines for lines, _ in rows.values()])
        boxes = tuple(np.concatenate([row[1][k] for row in rows.values()]) for k in (0, 1))
        found = self._through(face, lines, (boxes[0], boxes[1]), owners)
        if found is not None:
            return found
        for other, shared in others.items():
            own, around = self._drawn_on(face, shared)
            if self._through(other, own, around, np.full(len(own), face)) is not None:
                return other
            if not shared and self._coplanar(face, other):
                return other
        return None

    def _drawn_on(self, face: int, shared: bool) -> tuple[Floats, Boxes]:
        """Its edges; with the lines along its parameters, where it is curved and shares no edge."""
        if shared or self.topology.surface(face).kind == "plane":
            return self.lines(face)
        found: tuple[Floats, Boxes] = self.topology.notes.of("drawn on", face, self._lines_and_grid)
        return found

    def _lines_and_grid(self, face: int) -> tuple[Floats, Boxes]:
        return _boxed(np.concatenate([self.lines(face)[0], self._grid(face)]))

    def lines(self, face: int) -> tuple[Floats, Boxes]:
        """(edges, PER_EDGE, 3), and their boxes."""
        found: tuple[Floats, Boxes] = self.topology.notes.of("lines", face, self._lines)
        return found

    def _lines(self, face: int) -> tuple[Floats, Boxes]:
        topology = self.topology
        rows = [topology.samples(e, PER_EDGE) for e in topology.edges_of(face) if topology.curve(e)[0].kind != "none"]
        return _boxed(np.array(rows).reshape(-1, PER_EDGE, 3))

    def bounds(self, face: int) -> FaceBounds:
        found: FaceBounds = self.topology.notes.of(
            "bounds", face, lambda f: FaceBounds(self.topology.index.get("face", f))
        )
        return found

    def covers_any(self, face: int, points: Floats) -> bool:
        surface, bounds = self.topology.surface(face), self.bounds(face)
        return any(bounds.inside(uv) for p in points for uv in surface.parameters(p[None]))

    def _through(self, face: int, lines: Floats, boxes: Boxes, owners: Floats) -> int | None:
        """The owner of one of these lines (n, k, 3), notes on the owners' (n,) surfaces, that passes from one side of
        a face to the other within its bounds."""
        box = self.topology.boxes[face]
        near = ((boxes[1] >= box[:3]) & (boxes[0] <= box[3:])).all(axis=1)
        lines, owners = lines[near], owners[near]
        if not len(lines):
            return None
        surface = self.topology.surface(face)
        distance = surface.distance(lines.reshape(-1, 3))[0].reshape(lines.shape[:2])
        size = np.abs(distance)
        row, at = np.nonzero((distance[:, :-1] * distance[:, 1:] < 0) & (np.minimum(size[:, :-1], size[:, 1:]) > CLEAR))
        if not len(row):
            return None
        a, b = distance[row, at][:, None], distance[row, at + 1][:, None]
        spots = lines[row, at] + a / (a - b) * (lines[row, at + 1] - lines[row, at])
        reach = np.linalg.norm(lines[row, at + 1] - lines[row, at], axis=1)[:, None]
        near = ((spots >= box[:3] - reach) & (spots <= box[3:] + reach)).all(axis=1)
        spots, owners = spots[near], owners[row][near]
        for owner in dict.fromkeys(owners.tolist()):
            own = spots[owners == owner]
            for _ in range(4):
                own = _towards_crossing(own, surface, self.topology.surface(owner))
            within = ((own >= box[:3] - CLEAR) & (own <= box[3:] + CLEAR)).all(axis=1)
            if self.covers_any(face, own[within]):
                return int(owner)
        return None

    def _coplanar(self, a: int, b: int) -> bool:
        """Two plane faces that came to lie on one another."""
        here, there = self.topology.surface(a), self.topology.surface(b)
        if here.kind != "plane" or there.kind != "plane" or abs(here.axial.z @ there.axial.z) < 1 - 1e-12:
            return False
        if abs(float((there.axial.origin - here.axial.origin) @ here.axial.z)) > CLEAR:
            return False
        middles = ((self.lines(f)[0][:, PER_EDGE // 2], g) for f, g in ((a, b), (b, a)))
        return any(self.covers_any(g, points) for points, g in middles)

    def _grid(self, face: int) -> Floats:
        """Lines (n, PER_EDGE, 3) along both parameters of a curved face, as far as they lie within its bounds."""
        u0, u1, v0, v1 = self.bounds(face).box
        surface = self.topology.surface(face)
        share = np.linspace(0.02, 0.98, GRID)
        fine = np.linspace(0, 1, PER_EDGE)
        rows = [np.column_stack([np.full(PER_EDGE, u0 + s * (u1 - u0)), v0 + fine * (v1 - v0)]) for s in share]
        rows += [np.column_stack([u0 + fine * (u1 - u0), np.full(PER_EDGE, v0 + s * (v1 - v0))]) for s in share]
        bounds = self.bounds(face)
        kept = [r for r in rows if all(bounds.inside(uv) for uv in r[1:-1:2])]
        return surface.points(np.array(kept).reshape(-1, 2)).reshape(-1, PER_EDGE, 3)


def _towards_crossing(spots: Floats, a: Surface, b: Surface) -> Floats:
    """From a chord to where two surfaces cross (least step); where they run alike, on to the first one."""
    (off, slope), (other, across) = a.distance(spots), b.distance(spots)
    share = np.einsum("ni,ni->n", slope, across)
    square = 1 - share**2
    alike = square < ALIKE
    square = np.where(alike, 1.0, square)
    first = np.where(alike, off, (off - share * other) / square)
    second = np.where(alike, 0.0, (other - share * off) / square)
    return np.asarray(spots - first[:, None] * slope - second[:, None] * across)


def _boxed(lines: Floats) -> tuple[Floats, Boxes]:
    return lines, (lines.min(axis=1), lines.max(axis=1))
