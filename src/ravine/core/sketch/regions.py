"""Closed areas of a sketch: the arrangement of all its curves.

Curves are cut where they cross; what ends nowhere falls away; walking the remaining pieces with the area on the left
hand gives one loop around each area and one around each outside (M. de Berg et al., Computational Geometry, ch. 2).
An area is named by a place inside it, so that the name still means the same after curves moved a little.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..lazy import later
from ..tolerances import TOUCHING
from .entities import Point2, Sketch
from .plane_curves import TURN, Floats, PlaneCurve, crossings, lines_cross, own_crossings, plane_curves

spatial = later("scipy.spatial")

SHORT = 2e-6  # mm, of a piece that counts


@dataclass(frozen=True, eq=False)
class BoundaryPiece:
    """Part of a curve between two nodes, run from `first` to `last` (which may be the lower one)."""

    curve: PlaneCurve
    first: float
    last: float

    @property
    def back(self) -> BoundaryPiece:
        found = BoundaryPiece(self.curve, self.last, self.first)
        found.__dict__["_ends"] = self._ends[::-1]
        return found

    @cached_property
    def _ends(self) -> Floats:
        return self.curve.at(np.array([self.first, self.last]))

    def ends(self) -> Floats:
        return self._ends

    def middle(self) -> Floats:
        if self.curve.kind == "line":
            return (self._ends[0] + self._ends[1]) / 2
        return self.curve.at(np.array([(self.first + self.last) / 2]))[0]

    def line(self, fine: bool = False) -> Floats:
        if self.curve.kind == "line":
            return self._ends
        return self.curve.at(self.curve.steps(self.first, self.last, fine))

    def swept(self) -> float:
        """Its share of the area: half the integral of x dy − y dx, exact."""
        curve = self.curve
        if curve.kind == "line":
            (ax, ay), (bx, by) = self._ends.tolist()
            return (ax * by - bx * ay) / 2
        if curve.spline is not None:
            low, high = min(self.first, self.last), max(self.first, self.last)
            knots = np.unique([low, *np.arange(np.ceil(low), np.floor(high) + 1), high])
            nodes, weights = np.polynomial.legendre.leggauss(4)
            total = 0.0
            for a, b in itertools.pairwise(knots):
                t = (a + b + (b - a) * nodes) / 2
                p, d = curve.at(t), curve.slope(t)
                total += float(((p[:, 0] * d[:, 1] - p[:, 1] * d[:, 0]) * weights).sum()) * (b - a) / 4
            return total if self.last > self.first else -total
        turn = self.last - self.first
        cross = float(curve.x[0] * curve.y[1] - curve.x[1] * curve.y[0])
        chord = self.ends()[1] - self.ends()[0]
        return (cross * turn + float(curve.centre[0] * chord[1] - curve.centre[1] * chord[0])) / 2


Loop = tuple[BoundaryPiece, ...]


@dataclass(frozen=True, eq=False)
class Region:
    """outer: counterclockwise; holes: clockwise; amount in mm²; inside: a place in it."""

    outer: Loop
    holes: tuple[Loop, ...]
    amount: float

    @cached_property
    def lines(self) -> list[Floats]:
        return [loop_line(loop) for loop in (self.outer, *self.holes)]

    def covers(self, place: Point2) -> bool:
        point = np.array(place)
        return covers(self.lines[0], point) and not any(covers(h, point) for h in self.lines[1:])

    @cached_property
    def inside(self) -> Point2:
        """Well inside: the middle of the widest gap along some level lines."""
        rows = self.lines
        low, high = rows[0].min(axis=0), rows[0].max(axis=0)
        best, width = (float(rows[0][0, 0]), float(rows[0][0, 1])), -1.0
        for share in (0.5, 0.37, 0.63, 0.22, 0.78, 0.1, 0.9):
            y = float(low[1] + share * (high[1] - low[1]))
            at = []
            for row in rows:
                a, b = row, np.roll(row, -1, axis=0)
                over = (a[:, 1] > y) != (b[:, 1] > y)
                a, b = a[over], b[over]
                at += (a[:, 0] + (y - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])).tolist()
            at.sort()
            for x0, x1 in zip(at[::2], at[1::2], strict=False):
                if x1 - x0 > width * 1.2:
                    best, width = ((x0 + x1) / 2, y), x1 - x0
        return best

    @property
    def curves(self) -> set[int]:
        return {p.curve.id for loop in (self.outer, *self.holes) for p in loop}


def loop_line(loop: Loop) -> Floats:
    """Places around, the first not repeated."""
    return np.concatenate([p.line()[:-1] for p in loop])


def covers(ring: Floats, point: Floats) -> bool:
    above = ring[:, 1] > point[1]
    over = np.flatnonzero(above != np.concatenate([above[1:], above[:1]]))
    a, b = ring[over], ring[(over + 1) % len(ring)]
    at = a[:, 0] + (point[1] - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool((at > point[0]).sum() % 2)


def regions(sketch: Sketch) -> list[Region]:
    """The largest first."""
    return areas_of(plane_curves(sketch))


def areas_of(curves: Sequence[PlaneCurve]) -> list[Region]:
    pieces = _cut(curves)
    if not pieces:
        return []
    _place_lines(pieces)
    ends = np.array([p.ends() for p in pieces])
    nodes, starts, stops = _nodes(ends)
    pieces, starts, stops = _sound(pieces, starts, stops, len(nodes))
    loops = _walk(pieces, starts, stops)
    sizes = [sum(p.swept() for p in loop) for loop in loops]
    outers = sorted((i for i, s in enumerate(sizes) if s > 1e-9), key=lambda i: sizes[i])
    lines = {i: loop_line(loop) for i, loop in enumerate(loops)}
    boxes = np.array([[*lines[o].min(axis=0), *lines[o].max(axis=0)] for o in outers]).reshape(-1, 4)
    holes: dict[int, list[int]] = {}
    for i, size in enumerate(sizes):
        if size >= -1e-9:
            continue
        spot = _beside(loops[i])
        near = np.flatnonzero(((boxes[:, :2] <= spot) & (boxes[:, 2:] >= spot)).all(axis=1))
        likely = (outers[k] for k in near)
        around = next((o for o in likely if sizes[o] > -size + 1e-9 and covers(lines[o], spot)), None)
        if around is not None:
            holes.setdefault(around, []).append(i)
    found = [
        Region(loops[o], tuple(loops[h] for h in holes.get(o, ())), sizes[o] + sum(sizes[h] for h in holes.get(o, ())))
        for o in outers
    ]
    return sorted((a for a in found if a.amount > 1e-9), key=lambda a: -a.amount)


def _beside(loop: Loop) -> Floats:
    """A place just outside of what a clockwise loop runs around, which is on its left hand."""
    piece = loop[0]
    t = np.array([(piece.first + piece.last) / 2])
    place, way = piece.curve.at(t)[0], piece.curve.slope(t)[0]
    way = way * (1.0 if piece.last > piece.first else -1.0)
    return place + 10 * TOUCHING * np.array([-way[1], way[0]]) / (np.hypot(*way) + 1e-300)


def _cut(curves: Sequence[PlaneCurve]) -> list[BoundaryPiece]:
    """All curves in pieces that meet one another at their ends only."""
    cuts: list[list[float]] = [[] for _ in curves]
    pairs = _near_pairs(curves)
    straight = [(i, j) for i, j in pairs if curves[i].kind == "line" == curves[j].kind]
    for (i, j), found in zip(straight, lines_cross([curves[i] for i, _ in straight], [curves[j] for _, j in straight]),
                             strict=True):  # fmt: skip
        for t, s in found:
            cuts[i].append(t)
            cuts[j].append(s)
    for i, j in pairs:
        if curves[i].kind == "line" == curves[j].kind:
            continue
        for t, s in crossings(curves[i], curves[j]):
            cuts[i].append(t)
            cuts[j].append(s)
    for i, curve in enumerate(curves):
        cuts[i] += [t for pair in own_crossings(curve) for t in pair]
    return _once([piece for curve, at in zip(curves, cuts, strict=True) for piece in _pieces(curve, at)])


def _place_lines(pieces: Sequence[BoundaryPiece]) -> None:
    """The ends of all straight pieces at once."""
    lines = [p for p in pieces if p.curve.kind == "line"]
    if not lines:
        return
    start, way = np.array([p.curve.centre for p in lines]), np.array([p.curve.x for p in lines])
    at = np.array([(p.first, p.last) for p in lines])
    for piece, ends in zip(lines, start[:, None] + at[:, :, None] * way[:, None], strict=True):
        piece.__dict__["_ends"] = ends


def _boxes(curves: Sequence[PlaneCurve]) -> Floats:
    boxes = np.empty((len(curves), 4))
    lines = [i for i, c in enumerate(curves) if c.kind == "line"]
    if lines:
        start = np.array([curves[i].centre for i in lines])
        end = start + np.array([curves[i].x for i in lines])
        boxes[lines, :2], boxes[lines, 2:] = np.minimum(start, end), np.maximum(start, end)
    for i, curve in enumerate(curves):
        if curve.kind != "line":
            boxes[i] = curve.box
    return boxes


def _near_pairs(curves: Sequence[PlaneCurve]) -> list[tuple[int, int]]:
    boxes = _boxes(curves)
    low, high = boxes[:, :2] - TOUCHING, boxes[:, 2:] + TOUCHING
    touch = (low[:, None] <= high[None]).all(axis=2) & (high[:, None] >= low[None]).all(axis=2)
    rows, columns = np.nonzero(np.triu(touch, 1))
    return list(zip(rows.tolist(), columns.tolist(), strict=True))


def _pieces(curve: PlaneCurve, cuts: Sequence[float]) -> list[BoundaryPiece]:
    if not cuts and not curve.closed:
        return [BoundaryPiece(curve, curve.first, curve.last)]
    if curve.kind == "line":
        shortest = SHORT / curve.radius
        rows = [0.0]
        rows += [t for t in sorted(cuts) if shortest < t < 1 - shortest]
        kept = [t for k, t in enumerate(rows) if not k or t - rows[k - 1] > shortest] + [1.0]
        return [BoundaryPiece(curve, a, b) for a, b in itertools.pairwise(kept)]
    t = np.unique([curve.first, curve.last, *cuts])
    places = curve.at(t)
    keep = [0]
    for k in range(1, len(t)):
        middle = curve.at(np.array([(t[keep[-1]] + t[k]) / 2]))[0]
        length = np.hypot(*(places[k] - middle)) + np.hypot(*(middle - places[keep[-1]]))
        if length > SHORT:
            keep.append(k)
    values = t[keep].tolist()
    values[-1] = curve.last
    if curve.closed and curve.kind != "spline" and len(values) > 2:
        if curve.kind != "line" and not any(abs(c - curve.first) < 1e-9 or abs(c - curve.last) < 1e-9 for c in cuts):
            # the seam of a circle is no corner: the piece runs through it
            runs = [*itertools.pairwise(values), (values[-2], values[1] + TURN)]
            return [BoundaryPiece(curve, a, b) for a, b in runs]
    elif curve.closed and len(values) == 2:
        middle = (values[0] + values[1]) / 2
        return [BoundaryPiece(curve, values[0], middle), BoundaryPiece(curve, middle, values[1])]
    return [BoundaryPiece(curve, a, b) for a, b in itertools.pairwise(values)]


def _once(pieces: list[BoundaryPiece]) -> list[BoundaryPiece]:
    """Of pieces that lie on one another only the first."""
    if len(pieces) < 2:
        return pieces
    _place_lines(pieces)
    spots = np.array([p.middle() for p in pieces])
    doomed: set[int] = set()
    for i, j in spatial.cKDTree(spots).query_pairs(TOUCHING):
        a, b = pieces[i].ends(), pieces[j].ends()
        same = min(float(np.abs(a - b).max()), float(np.abs(a - b[::-1]).max())) < TOUCHING * 2
        if same:
            doomed.add(max(i, j))
    return [p for i, p in enumerate(pieces) if i not in doomed]


def _nodes(ends: Floats) -> tuple[Floats, list[int], list[int]]:
    """Ends (n, 2, 2) that lie together are one node."""
    flat = ends.reshape(-1, 2)
    label = np.full(len(flat), -1)
    tree = spatial.cKDTree(flat)
    near = tree.query_ball_point(flat, 2 * TOUCHING)
    count = 0
    for i, others in enumerate(near):
        if label[i] >= 0:
            continue
        waiting = list(others)
        while waiting:
            k = waiting.pop()
            if label[k] < 0:
                label[k] = count
                waiting += near[k]
        count += 1
    places = flat[np.unique(label, return_index=True)[1]]
    rows = label.reshape(-1, 2)
    return places, rows[:, 0].tolist(), rows[:, 1].tolist()


def _sound(
    pieces: list[BoundaryPiece], starts: list[int], stops: list[int], count: int
) -> tuple[list[BoundaryPiece], list[int], list[int]]:
    """Without what leads to a dead end."""
    alive = [True] * len(pieces)
    around: list[set[int]] = [set() for _ in range(count)]
    for i, (a, b) in enumerate(zip(starts, stops, strict=True)):
        around[a].add(i)
        around[b].add(i)
    waiting = [n for n in range(count) if len(around[n]) == 1]
    while waiting:
        node = waiting.pop()
        if len(around[node]) != 1 or starts[next(iter(around[node]))] == stops[next(iter(around[node]))]:
            continue
        piece = around[node].pop()
        alive[piece] = False
        other = stops[piece] if starts[piece] == node else starts[piece]
        around[other].discard(piece)
        if len(around[other]) == 1:
            waiting.append(other)
    kept = [i for i, yes in enumerate(alive) if yes]
    return [pieces[i] for i in kept], [starts[i] for i in kept], [stops[i] for i in kept]


def _walk(pieces: list[BoundaryPiece], starts: list[int], stops: list[int]) -> list[Loop]:
    """Half pieces 2i (forwards) and 2i+1 (back); at each node go on with the next one clockwise from where one came."""
    runs = [p for piece in pieces for p in (piece, piece.back)]
    origin = [n for a, b in zip(starts, stops, strict=True) for n in (a, b)]
    leaving: dict[int, list[int]] = {}
    for half, node in enumerate(origin):
        leaving.setdefault(node, []).append(half)
    after = [0] * len(runs)
    for halves in leaving.values():
        halves.sort(key=lambda h: _heading(runs[h]))
        for k, half in enumerate(halves):
            after[half ^ 1] = halves[k - 1]
    found, seen = [], [False] * len(runs)
    for start in range(len(runs)):
        if seen[start]:
            continue
        loop, half = [], start
        while not seen[half]:
            seen[half] = True
            loop.append(runs[half])
            half = after[half]
        found.append(tuple(loop))
    return found


def _heading(piece: BoundaryPiece) -> tuple[float, float]:
    """Angle in which a piece leaves its start, and how it bends from there, for pieces that leave in one direction."""
    curve, sense = piece.curve, 1.0 if piece.last > piece.first else -1.0
    way = (curve.x if curve.kind == "line" else curve.slope(np.array([piece.first]))[0]) * sense
    x, y = way.tolist()
    angle = round(math.atan2(y, x), 7)
    if angle <= -round(math.pi, 7):
        angle += round(TURN, 7)
    return angle, _bend(piece, way)


def _bend(piece: BoundaryPiece, way: Floats) -> float:
    """Curvature to the left."""
    curve = piece.curve
    if curve.kind == "line":
        return 0.0
    step = (piece.last - piece.first) * 1e-3
    later = curve.slope(np.array([piece.first + step]))[0] * (1.0 if piece.last > piece.first else -1.0)
    gap = np.hypot(*(curve.at(np.array([piece.first + step]))[0] - curve.at(np.array([piece.first]))[0]))
    cross = float(way[0] * later[1] - way[1] * later[0]) / float(np.hypot(*way) * np.hypot(*later))
    return cross / float(gap)
