"""The exact figure of a cut: curves and areas from the kernel, not from triangles."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import CubicSpline

from ..kernel.carriers import CurveData, curve_points, read_curve
from ..kernel.cells import plane_section
from ..kernel.properties import area_properties, edge_length
from ..kernel.shapes import Shape, parts_of
from ..kernel.slices import slice_faces
from ..local.surfaces import Floats
from ..model.finishes import colour_of
from ..model.geometry import Geometry, GeometryStore, Solid
from ..model.snapshot import Snapshot, text_id
from ..sketch.entities import Plane
from ..sketch.plane_curves import ZERO, PlaneCurve
from .cut import within
from .rings import CutRing, rings_of, skin_of

WITHIN = 1e-6  # mm, of a spline to the kernel's own curve
MOST = 1024  # places on a spline


@dataclass(frozen=True, eq=False)
class CutRegion:
    """One connected piece of cut matter.  loops: its outline first, then its holes, each as curves in the order of
    going round; area mm²."""

    loops: tuple[tuple[PlaneCurve, ...], ...]
    area: float


@dataclass(frozen=True, eq=False)
class Figure:
    """A part as the plane cuts it.  lines: of open surfaces, which bound nothing.  area mm², perimeter mm."""

    node: str
    name: str
    finish: str | None
    regions: tuple[CutRegion, ...]
    lines: tuple[PlaneCurve, ...]
    area: float
    perimeter: float

    def curves(self) -> list[PlaneCurve]:
        return [c for r in self.regions for loop in r.loops for c in loop] + list(self.lines)


def figures_of(snapshot: Snapshot, geometry: GeometryStore, plane: Plane, hidden: Collection[str] = ()) -> list[Figure]:
    """Of every part that the plane meets.  Raises EditError when the kernel gives up."""
    found = []
    for place in snapshot.occurrences():
        node = text_id("node", place.node.id)
        if node in hidden:
            continue
        body = geometry.get(place.body.shape)
        here = within(plane, place.matrix)
        rings = rings_of(skin_of(body), here)
        if not rings:
            continue
        made = _of_solid(body, here) if place.body.kind == "solid" else _of_skin(body, here, rings, place.body.kind)
        if made.regions or made.lines:
            found.append(Figure(node, place.node.name, colour_of(place.body.finish), *made.rest()))
    return found


@dataclass(frozen=True)
class _Made:
    regions: tuple[CutRegion, ...] = ()
    lines: tuple[PlaneCurve, ...] = ()
    perimeter: float = 0.0

    def rest(self) -> tuple[tuple[CutRegion, ...], tuple[PlaneCurve, ...], float, float]:
        return self.regions, self.lines, sum(r.area for r in self.regions), self.perimeter


def _of_solid(body: Geometry, plane: Plane) -> _Made:
    assert isinstance(body, Solid)
    regions, perimeter = [], 0.0
    for face in slice_faces(body.shape, plane.origin, plane.x, plane.normal):
        loops = [_flats(parts_of(wire, "edge"), plane) for wire in parts_of(face, "wire")]
        loops.sort(key=_size, reverse=True)
        regions.append(CutRegion(tuple(map(tuple, loops)), abs(area_properties(face).amount)))
        perimeter += sum(edge_length(edge) for edge in parts_of(face, "edge"))
    return _Made(tuple(regions), (), perimeter)


def _of_skin(body: Geometry, plane: Plane, rings: list[CutRing], kind: str) -> _Made:
    """Of an open surface, exactly; of a mesh, as its triangles are."""
    if kind == "surface":
        assert isinstance(body, Solid)
        edges = plane_section(body.shape, plane.origin, plane.normal)
        return _Made((), tuple(_flats(edges, plane)), sum(edge_length(e) for e in edges))
    loops = [tuple(_segments(ring)) for ring in rings]
    lines = tuple(c for ring, loop in zip(rings, loops, strict=True) if not ring.closed for c in loop)
    length = sum(c.radius for loop in loops for c in loop)
    whole = [(ring, loop) for ring, loop in zip(rings, loops, strict=True) if ring.closed]
    area = sum(ring.area for ring, _ in whole)
    outlines = tuple(loop for _, loop in sorted(whole, key=lambda row: -abs(row[0].area)))
    return _Made((CutRegion(outlines, area),) if outlines else (), lines, length)


def _segments(ring: CutRing) -> list[PlaneCurve]:
    after = np.roll(ring.places, -1, axis=0) if ring.closed else ring.places[1:]
    return [
        PlaneCurve(0, "line", 0.0, 1.0, a, b - a, ZERO) for a, b in zip(ring.places, after, strict=False)
    ]  # fmt: skip


def _size(loop: Iterable[PlaneCurve]) -> float:
    boxes = np.array([c.box for c in loop])
    return float(np.prod(boxes[:, 2:].max(axis=0) - boxes[:, :2].min(axis=0)))


def _flats(edges: list[Shape], plane: Plane) -> list[PlaneCurve]:
    """In the order of going round, where they do."""
    left = [flat_of(edge, plane) for edge in edges]
    found = [left.pop(0)] if left else []
    while left:
        ends = found[-1].at(np.array([found[-1].first, found[-1].last]))
        gaps = [
            min(float(np.hypot(*(p - q))) for p in ends for q in c.at(np.array([c.first, c.last]))) for c in left
        ]  # fmt: skip
        found.append(left.pop(int(np.argmin(gaps))))
    return found


def flat_of(edge: Shape, plane: Plane) -> PlaneCurve:
    """An edge that lies in a plane, in the plane's coordinates."""
    curve, first, last = read_curve(edge)
    origin, x, y = (np.array(v) for v in (plane.origin, plane.x, plane.y))

    def flat(v: Floats) -> Floats:
        return np.column_stack([v @ x, v @ y])

    if curve.kind == "line":
        a, b = flat(curve_points(curve, np.array([first, last])) - origin)
        return PlaneCurve(0, "line", 0.0, 1.0, a, b - a, ZERO)
    if curve.frame is None:
        return _spline(curve, first, last, lambda t: flat(curve_points(curve, t) - origin))
    frame = curve.frame
    centre, u, v = flat(np.array([frame.origin - origin, frame.x * curve.numbers[0], frame.y * curve.numbers[-1]]))
    if u[0] * v[1] - u[1] * v[0] < 0:  # seen from behind: the same places the other way round
        v, first, last = -v, -last, -first
    if curve.kind == "circle":  # angles count from the plane's own x
        turn = float(np.arctan2(u[1], u[0]))
        r = curve.numbers[0]
        return PlaneCurve(0, "round", first + turn, last + turn, centre, np.array([r, 0.0]), np.array([0.0, r]))
    return PlaneCurve(0, "ellipse", first, last, centre, u, v)


def _spline(curve: CurveData, first: float, last: float, at: Callable[[Floats], Floats]) -> PlaneCurve:
    """Through ever more places until it lies within a hair's breadth of the kernel's curve between them."""
    count = 16
    while True:
        knots = np.linspace(first, last, count + 1)
        places = at(knots)
        closed = bool(np.linalg.norm(places[0] - places[-1]) < WITHIN)
        if closed:
            places[-1] = places[0]
        spline = CubicSpline(np.arange(count + 1), places, bc_type="periodic" if closed else "not-a-knot")
        off = np.hypot(*(at((knots[1:] + knots[:-1]) / 2) - spline(np.arange(count) + 0.5)).T).max()
        if off < WITHIN or count >= MOST:
            return PlaneCurve(0, "spline", 0.0, float(count), places[0], ZERO, ZERO, spline)
        count *= 2
