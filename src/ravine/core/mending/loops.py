"""Open borders of sewn faces as loops, and the surfaces that missing faces lay on.

A missing face has left its border behind.  Planes, cylinders, cones, spheres and tori through that border are tried,
made from the circles and lines in it; the surface that runs through most loops is taken, and where two forms fit
equally (a cone or a tube through two coaxial circles), the one that the body already has elsewhere.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..kernel.carriers import CurveData, Frame, curve_points, read_curve
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..local.surfaces import Floats, Surface

SAMPLES = 9  # of an edge
EXACT = 1e-4  # mm: nearer than this a border lies on a surface for certain
ORDER = ("plane", "cylinder", "cone", "sphere", "torus", "spline")


@dataclass(frozen=True, eq=False)
class Loop:
    """wire: closed; edges of it with their curves, samples (n, 3) along each, and the face beside each by number."""

    wire: Shape
    edges: tuple[Shape, ...]
    curves: tuple[CurveData, ...]
    rows: tuple[Floats, ...]
    beside: tuple[int, ...]

    @property
    def points(self) -> Floats:
        return np.concatenate(self.rows)

    @property
    def middle(self) -> Floats:
        low, high = self.points.min(axis=0), self.points.max(axis=0)
        return (low + high) / 2

    @property
    def length(self) -> float:
        return float(sum(np.linalg.norm(np.diff(r, axis=0), axis=1).sum() for r in self.rows))

    def on(self, surface: Surface) -> float:
        """The largest distance from a surface, mm."""
        return float(np.abs(surface.distance(self.points)[0]).max())


def read_loop(index: ShapeIndex | None, wire: Shape) -> Loop:
    """index: of the faces around the loop, where there are any."""
    edges = tuple(parts_of(wire, "edge"))
    curves, rows, beside = [], [], []
    for edge in edges:
        curve, first, last = read_curve(edge)
        curves.append(curve)
        rows.append(curve_points(curve, np.linspace(first, last, SAMPLES)))
        at = index.find("edge", edge) if index else -1
        beside.append(index.faces_of_edges[at][0] if index and at >= 0 else -1)
    return Loop(wire, edges, tuple(curves), tuple(rows), tuple(beside))


@dataclass(frozen=True, eq=False)
class Lost:
    """A surface that missing faces lay on, with the loops that it runs through."""

    surface: Surface
    loops: tuple[Loop, ...]


@dataclass
class Search:
    """surfaces: of the faces that are there; hints: of faces taken out because they were unsound; close: mm within
    which a loop lies on a surface."""

    surfaces: Sequence[Surface]
    hints: Sequence[Surface] = ()
    close: float = 1e-3
    lost: list[Lost] = field(default_factory=list)

    def assign(self, loops: Sequence[Loop]) -> list[Loop]:
        """Fills `lost`; gives the loops that no surface runs through."""
        left = list(loops)
        while left:
            best = self._best(left)
            if best is None:
                return left
            self.lost.append(best)
            left = [loop for loop in left if loop not in best.loops]
        return []

    def _best(self, loops: Sequence[Loop]) -> Lost | None:
        found: list[tuple[tuple, Lost]] = []
        known = [(s, True) for s in self.hints]
        fresh = itertools.chain(candidates(loops), tubes_between(loops, self.surfaces))
        for surface, known_one in itertools.chain(known, ((s, False) for s in fresh)):
            on = tuple(x for x in loops if x.on(surface) < self.close and not self._goes_on(surface, x))
            if not on or (surface.kind != "plane" and not self._encloses(surface, on)):
                continue
            exact = max(x.on(surface) for x in on) < EXACT
            rank = (not exact, not known_one, -len(on), ORDER.index(surface.kind) - 2.5 * self._usual(surface))
            found.append((rank, Lost(surface, on)))
        return min(found, key=lambda pair: pair[0])[1] if found else None

    def _goes_on(self, surface: Surface, loop: Loop) -> bool:
        """Whether the faces all around the loop lie on that very surface: then it is a hole in them, no border."""
        size = max(loop.length, 1.0)
        return all(b >= 0 and self._same(surface, self.surfaces[b], size) for b in loop.beside)

    @staticmethod
    def _same(a: Surface, b: Surface, size: float) -> bool:
        if a.kind != b.kind:
            return False
        if a.kind == "plane":
            apart = abs(float((a.axial.origin - b.axial.origin) @ b.axial.z))
            return abs(float(a.axial.z @ b.axial.z)) > 1 - 1e-6 and apart < 1e-3
        return a.same(b, size)

    def _usual(self, surface: Surface) -> bool:
        """Whether the body has another face of that form and size: a round or a chamfer like this one."""
        if surface.kind == "torus":
            return any(
                s.kind in ("torus", "cylinder", "sphere") and abs(s.radius - surface.radius) < 1e-3
                for s in self.surfaces
            )
        return False

    @staticmethod
    def _encloses(surface: Surface, loops: Sequence[Loop]) -> bool:
        """A band all around needs two borders; what closes off a region, one."""
        around = sum(_turns(surface, loop) for loop in loops)
        return around % 2 == 0 or surface.kind in ("sphere", "cone")


def _turns(surface: Surface, loop: Loop) -> bool:
    """Whether the loop runs all around the axis."""
    if surface.kind in ("plane", "spline"):
        return False
    return winding(surface, loop)[0] != 0


def winding(surface: Surface, loop: Loop) -> tuple[int, int]:
    """How often the loop runs around in both parameters of a surface."""
    rows = [surface.parameters(r) for r in loop.rows]
    total = np.zeros(2)
    # each edge by itself: its own change of parameters, whichever way the wire runs it
    points, ends = [], []
    for row, at in zip(rows, loop.rows, strict=True):
        points.append((at[0], at[-1]))
        ends.append(row[-1] - row[0])
    used = [False] * len(rows)
    place = points[0][1]
    total += ends[0]
    used[0] = True
    for _ in range(len(rows) - 1):
        options = [
            (float(np.linalg.norm(points[k][s] - place)), k, s) for k in range(len(rows)) if not used[k] for s in (0, 1)
        ]
        _, k, s = min(options)
        used[k] = True
        total += ends[k] if s == 0 else -ends[k]
        place = points[k][1 - s]
    u, v = (total / (2 * np.pi)).tolist()
    return round(u), round(v) if surface.kind == "torus" else 0


def candidates(loops: Sequence[Loop]) -> Iterator[Surface]:
    """Surfaces that these loops suggest."""
    circles = [
        (c.frame, c.numbers[0], loop, k)
        for loop in loops for k, c in enumerate(loop.curves) if c.kind == "circle" and c.frame is not None
    ]  # fmt: skip
    for loop in loops:
        plane = plane_through(loop.points)
        if plane is not None:
            yield plane
        ball = ball_through(loop.points)
        if ball is not None and plane is None:
            yield ball
        cone = _cone_of_lines(loop)
        if cone is not None:
            yield cone
    seen: set[tuple] = set()
    for frame, radius, _, _ in circles:
        foot = frame.origin - (frame.origin @ frame.z) * frame.z
        key = (*np.round(np.abs(frame.z), 5), *np.round(foot, 4), round(radius, 5))
        if key not in seen:
            seen.add(key)
            yield Surface("cylinder", frame, (radius,))
    near = circles[:80]
    for (a, r, loop, i), (b, q, other, j) in itertools.combinations(near, 2):
        if loop is other and i == j:
            continue
        if _coaxial(a, b):
            yield from _around_axis(a, r, b, q)
        for tube, minor, ring in ((a, r, b), (b, q, a)):
            found = _tube(tube, minor, ring)
            if found is not None:
                yield found


def tubes_between(loops: Sequence[Loop], surfaces: Sequence[Surface]) -> Iterator[Surface]:
    """Tori between two coaxial circles that are smooth with the faces on both sides: rounds all around."""
    rings = [
        (c.frame, c.numbers[0], surfaces[b])
        for loop in loops
        for c, b in zip(loop.curves, loop.beside, strict=True)
        if c.kind == "circle" and c.frame is not None and b >= 0
    ]
    for (a, r, one), (b, q, other) in itertools.combinations(rings[:80], 2):
        if not _coaxial(a, b):
            continue
        spots = [a.origin + r * a.x, b.origin + q * a.x]
        normals = [s.distance(p[None])[1][0] for s, p in zip((one, other), spots, strict=True)]
        across = spots[1] - spots[0]
        lean = float(across @ normals[0])
        if abs(lean) < 1e-9:
            continue
        reach = float(across @ across) / (2 * lean)
        centre = spots[0] + reach * normals[0]
        back = (spots[1] - centre) / abs(reach)
        if abs(abs(float(back @ normals[1])) - 1) > 1e-5:
            continue
        out = centre - a.origin
        major = float(out @ a.x)
        if major > 1e-3:
            yield Surface("torus", Frame(a.origin + (out @ a.z) * a.z, a.x, a.y, a.z), (major, abs(reach)))


def _coaxial(a: Frame, b: Frame) -> bool:
    gap = b.origin - a.origin
    return abs(float(a.z @ b.z)) > 1 - 1e-8 and float(np.linalg.norm(gap - (gap @ a.z) * a.z)) < 1e-3


def _around_axis(a: Frame, r: float, b: Frame, q: float) -> Iterator[Surface]:
    """Cone and quarter tubes between two circles on one axis."""
    height = float((b.origin - a.origin) @ a.z)
    if abs(height) < 1e-6 or abs(q - r) < 1e-6:
        return
    yield (
        Surface("cone", a, (r, float(np.arctan2(q - r, height))))
        if height > 0
        else Surface("cone", Frame(a.origin, a.x, -a.y, -a.z), (r, float(np.arctan2(q - r, -height))))
    )
    if abs(abs(height) - abs(q - r)) < 1e-4:  # a quarter round between a face across the axis and one along it
        minor = abs(height)
        for centre, major in ((a.origin, q), (b.origin, r)):
            if major > 1e-6:
                yield Surface("torus", Frame(centre, a.x, a.y, a.z), (major, minor))


def _tube(tube: Frame, minor: float, ring: Frame) -> Surface | None:
    """A torus whose section is one circle, around the axis of another."""
    out = tube.origin - ring.origin
    out = out - (out @ ring.z) * ring.z
    major = float(np.linalg.norm(out))
    if major < 1e-3 or abs(float(tube.z @ ring.z)) > 1e-5 or abs(float(tube.z @ out)) > 1e-5 * major:
        return None
    centre = ring.origin + ((tube.origin - ring.origin) @ ring.z) * ring.z
    return Surface("torus", Frame(centre, ring.x, ring.y, ring.z), (major, minor))


def plane_through(points: Floats, close: float = 1e-3) -> Surface | None:
    middle = points.mean(axis=0)
    _, sizes, axes = np.linalg.svd(points - middle, full_matrices=False)
    if sizes[1] < 1e-9 or np.abs((points - middle) @ axes[2]).max() > close:
        return None
    return Surface.plane(middle, axes[2])


def ball_through(points: Floats, close: float = 1e-3) -> Surface | None:
    """By linear least squares on |p|² = 2 p·c + (r² − c²)."""
    middle = points.mean(axis=0)
    rows = points - middle
    matrix = np.column_stack([2 * rows, np.ones(len(rows))])
    found, _, rank, _ = np.linalg.lstsq(matrix, (rows**2).sum(axis=1), rcond=None)
    if rank < 4:
        return None
    centre = found[:3]
    square = float(found[3] + centre @ centre)
    radius = float(np.sqrt(max(square, 0.0)))
    if radius < 1e-6 or radius > 1e5 or np.abs(np.linalg.norm(rows - centre, axis=1) - radius).max() > close:
        return None
    return Surface("sphere", Frame(centre + middle, *np.eye(3)), (radius,))


def _cone_of_lines(loop: Loop) -> Surface | None:
    """A piece of a cone between two of its lines and an arc."""
    arcs = [c for c in loop.curves if c.kind == "circle" and c.frame is not None]
    lines = [r for c, r in zip(loop.curves, loop.rows, strict=True) if c.kind == "line"]
    if not arcs or not lines or arcs[0].frame is None:
        return None
    frame, radius = arcs[0].frame, arcs[0].numbers[0]
    a, b = lines[0][0] - frame.origin, lines[0][-1] - frame.origin
    heights = [float(p @ frame.z) for p in (a, b)]
    sizes = [float(np.linalg.norm(p - h * frame.z)) for p, h in zip((a, b), heights, strict=True)]
    if abs(heights[1] - heights[0]) < 1e-6 or abs(sizes[1] - sizes[0]) < 1e-6:
        return None
    slope = (sizes[1] - sizes[0]) / (heights[1] - heights[0])
    return Surface("cone", frame, (radius, float(np.arctan(slope))))
