"""A sheet part way between flat and folded: to look at, as triangles.

Every bend keeps the length of its neutral surface while it is bent less; what hangs on it goes along (the way a folding
line is followed in rigid origami).  A conical bend keeps its sector.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import mapbox_earcut
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..local.surfaces import Floats
from ..rigid import IDENTITY, Rigid
from .swing import Swing
from .unfold import UP, BendLine, Flat, Laid

SAME = 1e-6  # mm
FAR = 1e5  # mm, beyond any sheet
STEP = math.radians(10)  # of a bend, drawn as one strip


Slab = tuple[Floats, Floats, NDArray[np.int64]]  # places, heights, triangles


@dataclass(eq=False)
class FoldedMesh:
    """points (n, 3) mm in the body's own coordinates; triangles (m, 3)."""

    points: list[Floats] = field(default_factory=list)
    triangles: list[NDArray[np.int64]] = field(default_factory=list)
    count: int = 0

    def add(self, points: Floats, triangles: NDArray[np.int64]) -> None:
        self.points.append(points)
        self.triangles.append(triangles + self.count)
        self.count += len(points)


def folded_mesh(flat: Flat, share: float) -> FoldedMesh:
    """share: 0 laid flat, 1 as it is folded.  A flat root stays where it is; of a rolled one the line where it
    begins, of a cone the middle one."""
    mesh = FoldedMesh()
    home, motions, turns = bent_so_far(flat, dict.fromkeys((b.face for b in flat.bends), share))
    for face, laid in flat.panels.items():
        depth = flat.reading.panels[face].depth
        turn = turns.get(face)
        if turn is None:
            _solid(mesh, laid.shape, depth, home @ motions[face])
            continue
        before = _before(flat, motions, turns, face)
        strips, ends_there = turn.strips(), face not in flat.tree
        for low, high in strips:
            piece = laid.shape.intersection(turn.band(low, high))
            first, last = ends_there and low == strips[0][0], ends_there and high == strips[-1][1]
            joined = (math.nan if first else low, math.nan if last else high)
            _bent(mesh, piece, depth, turn, joined, home @ before)
    return mesh


def bent_so_far(flat: Flat, shares: Mapping[int, float]) -> tuple[Rigid, dict[int, Rigid], dict[int, Turn | ConeTurn]]:
    """shares: of the angle that each bend has by then, by its face.  The place of the flat in the body's own
    coordinates; of each panel what moves it (of a bend, all beyond it) out of the flat; and how bends turn."""
    bends = {b.face: b for b in flat.bends}
    motions: dict[int, Rigid] = {}
    turns: dict[int, Turn | ConeTurn] = {}
    for face, laid in flat.panels.items():  # those that others hang on come first
        before, bend, share = _before(flat, motions, turns, face), bends.get(face), shares.get(face, 0.0)
        if bend is None:
            motions[face] = before
        elif laid.plan.kind == "plane":
            motions[face] = before @ _hinge(laid, bend, flat.reading.panels[face].depth, share)
        elif face in flat.tree:
            turns[face] = Turn.at_edge(flat, laid, bend, flat.tree[face][1], share)
            motions[face] = before @ turns[face].whole
        else:
            turns[face] = (Turn.rolled if laid.plan.kind == "cylinder" else ConeTurn)(flat, laid, bend, share)
            motions[face] = turns[face].whole
    return _home(flat), motions, turns


def _before(flat: Flat, motions: Mapping[int, Rigid], turns: Mapping[int, Turn | ConeTurn], face: int) -> Rigid:
    """What moves the border by which a panel hangs on another one."""
    if face not in flat.tree:
        return IDENTITY
    parent, edge = flat.tree[face]
    if (
        parent == flat.reading.root
        and parent in turns
        and turns[parent].begins_at(flat.panels[parent].flat(flat.reading.topology.samples(edge, 3)))
    ):
        return IDENTITY
    return motions[parent]


def _home(flat: Flat) -> Rigid:
    """From the flat to the body: where a flat root lies, else where the sheet touches the line that stays."""
    plan = flat.panels[flat.reading.root].plan
    if plan.kind == "plane":
        return Rigid.of(np.column_stack([plan.x, plan.y, plan.z]), plan.origin)
    sense = -1.0 if plan.inner else 1.0
    if plan.kind == "cylinder":
        start = plan.middle - sense * plan.span / 2
        radial = math.cos(start) * plan.x + math.sin(start) * plan.y
        turn = np.column_stack([sense * np.cross(plan.z, radial), plan.z, sense * radial])
        begins = -plan.span / 2 * (plan.radius + plan.shift)
        return Rigid.of(turn, plan.origin + plan.radius * radial - turn @ np.array([begins, 0.0, 0.0]))
    radial = math.cos(plan.middle) * plan.x + math.sin(plan.middle) * plan.y
    along = math.cos(plan.slope) * plan.z + math.sin(plan.slope) * radial
    out = sense * (math.cos(plan.slope) * radial - math.sin(plan.slope) * plan.z)
    turn = np.column_stack([along, np.cross(out, along), out])
    apex = plan.origin - plan.shift / math.sin(plan.slope) * plan.z
    return Rigid.of(turn, apex + abs(plan.shift) * out)


def _hinge(laid: Laid, fold: BendLine, depth: float, share: float) -> Rigid:
    """About a fold in the middle of the sheet."""
    a, b = np.array(fold.start), np.array(fold.end)
    along = (b - a) / np.hypot(*(b - a))
    inwards = np.array(laid.shape.centroid.coords[0]) - a
    x, y = (inwards - (inwards @ along) * along).tolist()
    angle = share * fold.angle * (1.0 if fold.direction == UP else -1.0)
    return Rigid.about((*a.tolist(), -depth / 2), (y, -x, 0.0), angle)


@dataclass(frozen=True, eq=False)
class Turn:
    """A bend at a share of its angle.  start, along, into: in the flat, a place where it begins, the direction of that
    line, and that into the bend; length: mm of flat; angle: rad; up: 1.0 where it bends towards the eye, else -1.0;
    neutral: height of the neutral surface (the side that is read lies at 0)."""

    start: Floats
    along: Floats
    into: Floats
    length: float
    angle: float
    up: float
    neutral: float

    @classmethod
    def at_edge(cls, flat: Flat, laid: Laid, bend: BendLine, edge: int, share: float) -> Turn:
        """About an axis along the edge by which it hangs on the panel before it."""
        a, b = laid.flat(flat.reading.topology.samples(edge, 2))
        along = (b - a) / np.hypot(*(b - a))
        inwards = np.array(laid.shape.centroid.coords[0]) - a
        into = inwards - (inwards @ along) * along
        return cls(a, along, into / np.hypot(*into), bend.allowance, share * bend.angle, _way(bend),
                   -abs(laid.plan.shift))  # fmt: skip

    @classmethod
    def rolled(cls, flat: Flat, laid: Laid, bend: BendLine, share: float) -> Turn:
        """The root itself, from one of its ends."""
        start = np.array([-bend.allowance / 2, 0.0])
        return cls(start, np.array([0.0, 1.0]), np.array([1.0, 0.0]), bend.allowance, share * bend.angle, _way(bend),
                   -abs(laid.plan.shift))  # fmt: skip

    @property
    def radius(self) -> float:
        return self.length / self.angle if self.angle > 1e-9 else math.inf

    def begins_at(self, places: Floats) -> bool:
        return bool(np.abs((places - self.start) @ self.into).max() < SAME)

    def at(self, places: Floats, heights: Floats) -> Floats:
        """Points (n, 3) over the flat, bent as they are."""
        far = (places - self.start) @ self.into
        side = (places - self.start) @ self.along
        out, up = far, heights
        if math.isfinite(self.radius):
            turn = far / self.radius
            reach = self.radius - self.up * (heights - self.neutral)
            out = reach * np.sin(turn)
            up = self.neutral + self.up * (self.radius - reach * np.cos(turn))
        flat = self.start + side[:, None] * self.along + out[:, None] * self.into
        return np.column_stack([flat, up])

    @property
    def whole(self) -> Rigid:
        """What the bend does to all that lies beyond it."""
        frame = np.column_stack([[*self.into, 0.0], [*self.along, 0.0], [0.0, 0.0, 1.0]])
        here = Rigid.of(frame, np.array([*self.start, 0.0])) if np.linalg.det(frame) > 0 else None
        if here is None:
            frame[:, 1] *= -1
            here = Rigid.of(frame, np.array([*self.start, 0.0]))
        bent = Swing(self.length, self.angle, self.neutral, self.up).motion
        return here @ bent @ here.inverse

    def strips(self) -> list[tuple[float, float]]:
        count = max(1, math.ceil(self.angle / STEP))
        ends = np.linspace(0.0, 1.0, count + 1) * self.length
        return list(zip(ends[:-1].tolist(), ends[1:].tolist(), strict=True))

    def borders(self, places: Floats, ends: tuple[float, float]) -> NDArray[np.int64]:
        """1 and 2 for places on the two ends of a strip where more of the sheet follows, else 0."""
        far = (places - self.start) @ self.into
        return np.where(np.abs(far - ends[0]) < SAME, 1, np.where(np.abs(far - ends[1]) < SAME, 2, 0))

    def band(self, low: float, high: float) -> BaseGeometry:
        corners = [self.start + u * self.into + v * self.along for u, v in
                   ((low, -FAR), (high, -FAR), (high, FAR), (low, FAR))]  # fmt: skip
        return Polygon(corners)


def _way(bend: BendLine) -> float:
    return 1.0 if bend.direction == UP else -1.0


class ConeTurn:
    """A rolled cone at a share of its turn: its sector stays, so it is blunter the less it goes round; the line in its
    middle stays where it is."""

    def __init__(self, flat: Flat, laid: Laid, bend: BendLine, share: float) -> None:
        plan = laid.plan
        self.sector = plan.span * math.sin(plan.slope)
        self.slope = math.pi / 2 + share * (plan.slope - math.pi / 2)
        self.turn = self.sector / math.sin(self.slope)
        self.sense = -1.0 if plan.inner else 1.0
        self.neutral = -abs(plan.shift)
        self.whole = IDENTITY

    def begins_at(self, places: Floats) -> bool:
        return True

    def at(self, places: Floats, heights: Floats) -> Floats:
        """As Turn.at."""
        sine, cosine = math.sin(self.slope), math.cos(self.slope)
        far, turn = np.hypot(*places.T), np.arctan2(places[:, 1], places[:, 0]) * self.turn / self.sector
        axis = np.array([cosine, 0.0, -self.sense * sine])
        first, side = np.array([sine, 0.0, self.sense * cosine]), np.array([0.0, 1.0, 0.0])
        radial = np.cos(turn)[:, None] * first + np.sin(turn)[:, None] * side
        out = self.sense * (cosine * radial - sine * axis)
        on = far[:, None] * (cosine * axis + sine * radial)
        return np.asarray(on + [0.0, 0.0, self.neutral] + (heights - self.neutral)[:, None] * out)

    def strips(self) -> list[tuple[float, float]]:
        count = max(1, math.ceil(self.turn / STEP))
        ends = np.linspace(-self.sector / 2, self.sector / 2, count + 1)
        return list(zip(ends[:-1].tolist(), ends[1:].tolist(), strict=True))

    def borders(self, places: Floats, ends: tuple[float, float]) -> NDArray[np.int64]:
        """As Turn.borders."""
        turn, far = np.arctan2(places[:, 1], places[:, 0]), np.hypot(*places.T)
        return np.where(np.abs(turn - ends[0]) * far < SAME, 1, np.where(np.abs(turn - ends[1]) * far < SAME, 2, 0))

    def band(self, low: float, high: float) -> BaseGeometry:
        return Polygon([(0.0, 0.0), *((FAR * math.cos(t), FAR * math.sin(t)) for t in (low, high))])


def _polygons(shape: BaseGeometry) -> list[Polygon]:
    return [p for p in getattr(shape, "geoms", [shape]) if isinstance(p, Polygon) and p.area > 1e-9]


def _rings(polygon: Polygon) -> list[Floats]:
    return [np.array(r.coords)[:-1, :2] for r in (polygon.exterior, *polygon.interiors)]


def _shell(polygon: Polygon, depth: float, within: Callable[[Floats], NDArray[np.int64]]) -> Slab:
    """Places, heights and triangles of a slab under a polygon; within: places on borders to more of the sheet, where it
    has no wall."""
    rings = _rings(shapely.geometry.polygon.orient(polygon))
    places = np.vstack(rings)
    ends = np.cumsum([len(r) for r in rings]).astype(np.uint32)
    caps = mapbox_earcut.triangulate_float64(places, ends).reshape(-1, 3).astype(np.int64)
    n = len(places)
    inside = within(places)
    # caps and walls have corners of their own, so that edges stay sharp
    heights = np.concatenate([np.zeros(n), np.full(n, -depth), np.zeros(n), np.full(n, -depth)])
    rows = [caps, caps[:, ::-1] + n]
    start = 0
    for ring in rings:
        here = start + np.arange(len(ring))
        after = start + (np.arange(len(ring)) + 1) % len(ring)
        open_ = ~((inside[here] == inside[after]) & (inside[here] > 0))
        here, after = here[open_] + 2 * n, after[open_] + 2 * n
        rows += [np.column_stack([here, here + n, after]), np.column_stack([after, here + n, after + n])]
        start += len(ring)
    return np.vstack([places] * 4), heights, np.vstack(rows)


def _solid(mesh: FoldedMesh, shape: BaseGeometry, depth: float, motion: Rigid) -> None:
    for polygon in _polygons(shape):
        places, heights, triangles = _shell(polygon, depth, lambda p: np.zeros(len(p), int))
        mesh.add(motion.points(np.column_stack([places, heights])), triangles)


def _bent(
    mesh: FoldedMesh, shape: BaseGeometry, depth: float, turn: Turn | ConeTurn, ends: tuple[float, float], motion: Rigid
) -> None:
    for polygon in _polygons(shape):
        places, heights, triangles = _shell(polygon, depth, lambda p: turn.borders(p, ends))
        mesh.add(motion.points(turn.at(places, heights)), triangles)


def packed(flat: Flat, share: float) -> bytes:
    """Counts of points and triangles (uint32), points (float32), corners (uint32), little-endian."""
    mesh = folded_mesh(flat, share)
    points, triangles = np.vstack(mesh.points), np.vstack(mesh.triangles)
    head = np.array([len(points), len(triangles)], "<u4").tobytes()
    return head + points.astype("<f4").tobytes() + triangles.astype("<u4").tobytes()
