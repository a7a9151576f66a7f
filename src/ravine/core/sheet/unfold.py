"""A sheet laid flat: panels put edge to edge from the root on, the outline, bend lines, and where the flat lies over
itself."""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from shapely.affinity import affine_transform
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..local.surfaces import Floats
from ..sketch.loops import followed, polygon
from ..sketch.plane_curves import PlaneCurve
from .allowance import Allowance
from .creases import middle_loop, middle_points, opens_up
from .development import Development, development
from .flat_curves import area_of, flat_curve, length_of, line
from .outlines import plane_polygon, walked
from .reading import Joint, SheetReading

JOINED = 1e-5  # mm, within which ends of curves are one place
FINE = 401  # places along a curve that is summed over
OVERLAP = 1e-3  # of the thickness squared, mm², above which panels lie over each other
UP, DOWN = "up", "down"


@dataclass(frozen=True, eq=False)
class Laid:
    """A panel in the flat.  turn (2, 2), shift (2,): its development to the flat; loops: curves round each wire."""

    face: int
    plan: Development
    turn: Floats
    shift: Floats
    loops: tuple[tuple[PlaneCurve, ...], ...]
    edges: tuple[tuple[int, ...], ...]

    def flat(self, points: Floats) -> Floats:
        return self.plan.flat(points) @ self.turn.T + self.shift

    def folded(self, places: Floats) -> Floats:
        """Points (n, 3) on the side that was read."""
        return self.plan.folded((places - self.shift) @ self.turn)

    @cached_property
    def shape(self) -> BaseGeometry:
        return plane_polygon([polygon(loop) for loop in self.loops])

    @cached_property
    def area(self) -> float:
        """mm², exact."""
        outer, *holes = (abs(area_of(loop)) for loop in self.loops)
        return outer - sum(holes)


@dataclass(frozen=True, eq=False)
class BendLine:
    """face: of the panel; angle: rad, by which the sheet is bent; radius: mm, on the inner side; length: mm, of the
    bend line; allowance: mm of flat that the bend takes up; direction: up where it folds towards the eye; start, end:
    of the line in its middle, which of a cone runs through the apex; cone: half angle, rad, 0 for a cylinder; edge:
    of a sharp fold between two walls, of which face is the one that hangs on the other."""

    face: int
    angle: float
    radius: float
    allowance: float
    direction: str
    start: tuple[float, float]
    end: tuple[float, float]
    cone: float = 0.0
    edge: int | None = None

    @property
    def length(self) -> float:
        return float(np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]))


@dataclass(frozen=True)
class Clash:
    """Two panels that lie over each other in the flat: their faces, how much (mm²), and where."""

    faces: tuple[int, int]
    area: float
    place: tuple[float, float]


@dataclass(frozen=True)
class Ring:
    """A joint that would close the flat on itself: the edge has to be opened.  gap: mm by which it does not meet."""

    edge: int
    faces: tuple[int, int]
    gap: float


@dataclass(eq=False)
class Flat:
    """loops: curves of each closed outline in mm, the outer one first; forms: outlines of what was pressed out, which
    is not cut."""

    reading: SheetReading
    allowance: Allowance
    panels: dict[int, Laid] = field(default_factory=dict)
    bends: list[BendLine] = field(default_factory=list)
    loops: list[list[PlaneCurve]] = field(default_factory=list)
    forms: list[list[PlaneCurve]] = field(default_factory=list)
    clashes: list[Clash] = field(default_factory=list)
    rings: list[Ring] = field(default_factory=list)
    tree: dict[int, tuple[int, int]] = field(default_factory=dict)  # panel: the one it hangs on, and the edge between

    @property
    def area(self) -> float:
        """mm², exact; what was pressed out counts as flat as it was."""
        return sum(p.area for p in self.panels.values()) + sum(abs(area_of(loop)) for loop in self.forms)

    @property
    def volume(self) -> float:
        """mm³ of the folded sheet that the panels stand for: area by area through the thickness."""
        total = 0.0
        for laid in self.panels.values():
            depth, plan = self.reading.panels[laid.face].depth, laid.plan
            if plan.kind == "plane":
                total += laid.area * depth
                continue
            near = -plan.shift  # of the two sides, off the neutral surface and away from the axis
            far = near + (depth if plan.inner else -depth)
            round_it = laid.area / (plan.radius + plan.shift) if plan.kind == "cylinder" else _swing(laid)
            lean = 1.0 if plan.kind == "cylinder" else 1 / np.tan(plan.slope)
            total += abs(laid.area * (far - near) + lean * round_it * (far**2 - near**2) / 2)
        return float(total)

    @property
    def cut_length(self) -> float:
        """mm of outline, holes included."""
        return sum(length_of(c) for loop in self.loops for c in loop)

    @cached_property
    def size(self) -> tuple[float, float]:
        """mm, of the smallest rectangle around it, the longer side first."""
        points = np.vstack([polygon(loop) for loop in self.loops])
        box = shapely.minimum_rotated_rectangle(shapely.MultiPoint(points))
        corners = np.array(box.exterior.coords) if isinstance(box, Polygon) else np.zeros((3, 2))
        sides = np.hypot(*np.diff(corners, axis=0).T)[:2].tolist()
        return max(sides), min(sides)

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        boxes = np.array([c.box if c.kind != "round" else _round_box(c) for loop in self.loops for c in loop])
        x0, y0 = boxes[:, :2].min(axis=0).tolist()
        x1, y1 = boxes[:, 2:].max(axis=0).tolist()
        return x0, y0, x1, y1


def _round_box(curve: PlaneCurve) -> Floats:
    quarters = np.arange(np.ceil(curve.first / (np.pi / 2)), np.floor(curve.last / (np.pi / 2)) + 1) * np.pi / 2
    places = curve.at(np.array([curve.first, curve.last, *quarters]))
    return np.array([*places.min(axis=0), *places.max(axis=0)])


def _swing(laid: Laid) -> float:
    """mm: the distance from the apex of a laid cone, taken round its outline by the angle (Green's theorem)."""
    total = 0.0
    for loop in laid.loops:
        ring = 0.0
        for curve, back in followed(loop):
            ends = (curve.last, curve.first) if back else (curve.first, curve.last)
            places = (curve.at(np.linspace(*ends, FINE)) - laid.shift) @ laid.turn
            far, turn = np.hypot(*places.T), np.unwrap(np.arctan2(places[:, 1], places[:, 0]))
            ring += float(((far[1:] + far[:-1]) / 2 * np.diff(turn)).sum())
        total += abs(ring) if loop is laid.loops[0] else -abs(ring)
    return total


def unfold(reading: SheetReading, allowance: Allowance | None = None) -> Flat:
    """From the root's panel, which stays where its own plane has it.  Raises EditError where a bend table lacks a
    bend."""
    flat = Flat(reading, allowance or Allowance())
    joints: dict[int, list[Joint]] = {}
    for joint in reading.joints:
        joints.setdefault(joint.first, []).append(joint)
        joints.setdefault(joint.second, []).append(joint)
    flat.panels[reading.root] = _laid(flat, reading.root, np.eye(2), np.zeros(2))
    waiting, used = deque([reading.root]), set()
    while waiting:
        face = waiting.popleft()
        for joint in joints.get(face, []):
            other = joint.second if joint.first == face else joint.first
            if joint.edge in used:
                continue
            used.add(joint.edge)
            if other in flat.panels:
                _meet_again(flat, joint)
                continue
            flat.panels[other] = _beside(flat, face, other, joint)
            flat.tree[other] = (face, joint.edge)
            waiting.append(other)
    flat.bends = [_bend_line(flat, p) for p in flat.panels.values() if reading.panels[p.face].bend]
    folds = {j.edge: j for j in reading.joints if j.fold}
    flat.bends += [_fold_line(flat, f, folds[e]) for f, (_, e) in flat.tree.items() if e in folds]
    pressed = {e for form in reading.forms for e in form.edges}
    joined = {e for piece in reading.pieces for e in piece.edges}
    flat.loops = _outline(flat, (used | pressed | joined) - {r.edge for r in flat.rings})
    flat.forms = _pressed(flat, pressed)
    flat.clashes = _clashes(flat)
    return flat


def _plan(flat: Flat, face: int) -> Development:
    panel = flat.reading.panels[face]
    skin = flat.reading.outlines.skin(face)
    if skin.kind == "plane":
        return skin
    radius = skin.radius if skin.inner else skin.radius - panel.depth
    k_factor = flat.allowance(max(radius, 0.0), panel.depth, skin.span)
    return development(flat.reading.topology, face, panel.depth, k_factor)


def _laid(flat: Flat, face: int, turn: Floats, shift: Floats, plan: Development | None = None) -> Laid:
    plan = plan or _plan(flat, face)
    topology = flat.reading.topology

    def put(places: Floats) -> Floats:
        return places @ turn.T + shift

    def place(points: Floats) -> Floats:
        return put(plan.flat(points))

    edges = [tuple(e for e, _ in walked(topology, wire)) for wire in topology.wires(face)]
    loops = [tuple(flat_curve(topology, e, place) for e in wire) for wire in edges]
    folds = flat.reading.folds.get(face, set())
    for k, wire in enumerate(edges):
        if folds & set(wire):
            curves, own = middle_loop(flat.reading, face, plan, wire, loops[k], put)
            loops[k], edges[k] = tuple(curves), tuple(own)
    sizes = [abs(area_of(loop)) for loop in loops]
    order = sorted(range(len(loops)), key=lambda k: -sizes[k])
    return Laid(face, plan, turn, shift, tuple(loops[k] for k in order), tuple(edges[k] for k in order))


def _beside(flat: Flat, face: int, other: int, joint: Joint) -> Laid:
    """The next panel, turned and shifted so that the edge between them is one (Kabsch, in the plane)."""
    points = _along(flat, joint)
    there, plan = flat.panels[face].flat(points), _plan(flat, other)
    here = plan.flat(points)
    a, b = here - here.mean(axis=0), there - there.mean(axis=0)
    angle = np.arctan2(float(a[:, 0] @ b[:, 1] - a[:, 1] @ b[:, 0]), float(np.einsum("ij,ij->", a, b)))
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    return _laid(flat, other, turn, there.mean(axis=0) - turn @ here.mean(axis=0), plan)


def _along(flat: Flat, joint: Joint) -> Floats:
    return middle_points(flat.reading, joint) if joint.fold else flat.reading.topology.samples(joint.edge, 5)


def _meet_again(flat: Flat, joint: Joint) -> None:
    """Both panels lie already: where the edge is one in the flat, too, all is well."""
    points = _along(flat, joint)
    gap = float(np.abs(flat.panels[joint.first].flat(points) - flat.panels[joint.second].flat(points)).max())
    if gap > 1e-4 * flat.reading.thickness:
        flat.rings.append(Ring(joint.edge, (joint.first, joint.second), gap))


def _bend_line(flat: Flat, laid: Laid) -> BendLine:
    plan, depth = laid.plan, flat.reading.panels[laid.face].depth
    neutral = plan.radius + plan.shift
    inner = plan.radius if plan.inner else plan.radius - depth
    _x0, y0, _x1, y1 = _own_shape(laid).bounds
    if plan.kind == "cylinder":
        ends = np.array([[0.0, y0], [0.0, y1]])
        middle = _clipped(laid, ends)
        allowance = plan.span * neutral
    else:
        reach = float(np.hypot(*np.array(_own_shape(laid).exterior.coords).T).max())
        middle = _clipped(laid, np.array([[0.0, 0.0], [reach, 0.0]]))
        half = float(np.hypot(*(((middle[0] + middle[1]) / 2 - laid.shift) @ laid.turn)))
        allowance = plan.span * np.sin(plan.slope) * half
        inner = (half - plan.shift / np.tan(plan.slope)) * np.tan(
            plan.slope
        )  # normal to the axis' plane, at mid length
        inner -= 0.0 if plan.inner else depth
    direction = UP if plan.inner else DOWN
    start, end = (tuple(p) for p in middle.tolist())
    return BendLine(laid.face, plan.span, float(inner), float(allowance), direction, start, end,
                    plan.slope if plan.kind == "cone" else 0.0)  # fmt: skip


def _fold_line(flat: Flat, face: int, joint: Joint) -> BendLine:
    laid = flat.panels[face]
    rows = [c for loop, edges in zip(laid.loops, laid.edges, strict=True)
            for c, e in zip(loop, edges, strict=True) if e == joint.edge]  # fmt: skip
    ends = rows[0].at(np.array([rows[0].first, rows[0].last])) if rows else laid.flat(_along(flat, joint))[[0, -1]]
    start, end = (tuple(p) for p in ends.tolist())
    direction = UP if opens_up(flat.reading, joint) else DOWN
    return BendLine(face, joint.fold, 0.0, 0.0, direction, start, end, edge=joint.edge)


def _own_shape(laid: Laid) -> BaseGeometry:
    """In the coordinates of its development."""
    (a, b), (c, d) = laid.turn.T.tolist()
    x, y = (-laid.turn.T @ laid.shift).tolist()
    found = affine_transform(laid.shape, [a, b, c, d, x, y])
    return max(found.geoms, key=lambda g: g.area) if hasattr(found, "geoms") else found


def _clipped(laid: Laid, ends: Floats) -> Floats:
    """The line in the development, as far as the panel goes, in the flat (2, 2)."""
    inside = LineString(ends).intersection(_own_shape(laid).buffer(1e-7))
    found = np.array(ends if inside.is_empty else [inside.bounds[:2], inside.bounds[2:]])
    if np.ptp(ends[:, 1]) < 1e-12:
        found = np.array([[found[:, 0].min(), 0.0], [found[:, 0].max(), 0.0]])
    return found @ laid.turn.T + laid.shift


def _outline(flat: Flat, joined: set[int]) -> list[list[PlaneCurve]]:
    """Curves of edges with no panel beyond, chained to loops; straight runs in one."""
    left: list[PlaneCurve] = []
    for laid in flat.panels.values():
        for loop, edges in zip(laid.loops, laid.edges, strict=True):
            left += [c for c, e in zip(loop, edges, strict=True) if e not in joined]
    for piece in flat.reading.pieces:  # holes that go on through them
        if (under := flat.panels.get(piece.panel)) is not None:
            left += [flat_curve(flat.reading.topology, e, under.flat) for e in piece.hole]
    loops = [_straightened(loop) for loop in chained(left)]
    return sorted(loops, key=lambda loop: -abs(area_of(loop)))


def _pressed(flat: Flat, edges: set[int]) -> list[list[PlaneCurve]]:
    rows = [
        c for laid in flat.panels.values() for loop, es in zip(laid.loops, laid.edges, strict=True)
        for c, e in zip(loop, es, strict=True) if e in edges
    ]  # fmt: skip
    return chained(rows)


def chained(curves: Sequence[PlaneCurve]) -> list[list[PlaneCurve]]:
    """Curves that follow one another, as closed loops as far as they close."""
    left = [c for c in curves if not c.closed]
    loops = [[c] for c in curves if c.closed]
    ends = [c.at(np.array([c.first, c.last])) for c in left]
    spots: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for k, pair in enumerate(ends):
        for e in (0, 1):
            spots.setdefault(_cell(pair[e]), []).append((k, e))
    used: set[int] = set()
    for k in range(len(left)):
        if k in used:
            continue
        loop, at, tip = [left[k]], k, ends[k][1]
        used.add(k)
        while (found := _next(spots, ends, used, tip)) is not None:
            at, e = found
            used.add(at)
            loop.append(left[at])
            tip = ends[at][1 - e]
        loops.append(loop)
    return loops


def _cell(place: Floats) -> tuple[int, int]:
    return round(float(place[0]) / JOINED / 4), round(float(place[1]) / JOINED / 4)


def _next(
    spots: dict[tuple[int, int], list[tuple[int, int]]], ends: list[Floats], used: set[int], tip: Floats
) -> tuple[int, int] | None:
    x, y = _cell(tip)
    near = [(k, e) for i in (-1, 0, 1) for j in (-1, 0, 1) for k, e in spots.get((x + i, y + j), []) if k not in used]
    near = [(k, e) for k, e in near if np.hypot(*(ends[k][e] - tip)) < JOINED]
    return min(near, key=lambda row: float(np.hypot(*(ends[row[0]][row[1]] - tip))), default=None)


def _straightened(loop: list[PlaneCurve]) -> list[PlaneCurve]:
    """Lines that go on in one direction become one."""
    if len(loop) < 3 or all(c.kind != "line" for c in loop):
        return loop
    corners: list[tuple[Floats, Floats, PlaneCurve | None]] = []
    for curve, back in followed(loop):
        a, b = curve.at(np.array([curve.first, curve.last]))
        a, b = (b, a) if back else (a, b)
        corners.append((a, b, None if curve.kind == "line" else curve))
    while True:
        for k in range(len(corners)):
            (a, b, one), (c, d, two) = corners[k], corners[(k + 1) % len(corners)]
            if one is not None or two is not None or len(corners) < 3:
                continue
            way, further = b - a, d - c
            if abs(way[0] * further[1] - way[1] * further[0]) < 1e-9 * np.hypot(*way) * np.hypot(*further) + 1e-12 and (
                way @ further > 0
            ):
                corners[k] = (a, d, None)
                del corners[(k + 1) % len(corners)]
                break
        else:
            break
    return [line(a, b) if curve is None else curve for a, b, curve in corners]


def _clashes(flat: Flat) -> list[Clash]:
    panels = list(flat.panels.values())
    tree = shapely.STRtree([p.shape for p in panels])
    found = []
    for k, laid in enumerate(panels):
        for other in tree.query(laid.shape):
            if other <= k:
                continue
            shared = laid.shape.intersection(panels[other].shape)
            if shared.area > max(OVERLAP * flat.reading.thickness**2, 1e-5):
                x, y = shared.representative_point().coords[0]
                found.append(Clash((laid.face, panels[other].face), float(shared.area), (x, y)))
    return found
