"""Chains of curves set off to one side."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

import numpy as np

from ..errors import EditError
from ..lazy import later
from .chains import LINKS, chain_of, ends_of
from .drawing import Pen
from .entities import Curve, Sketch
from .plane_curves import TURN, Floats, PlaneCurve, crossings, plane_curve

interpolate = later("scipy.interpolate")

STRAYS = 1e-4  # mm, of splines from the true parallel
MOST_POINTS = 400


def set_off(
    sketch: Sketch, number: int, distance: float, fresh: Iterator[int], rounded: bool
) -> tuple[Sketch, list[int]]:
    """A chain of lines, arcs and splines, or a round, parallel to the one a curve belongs to; positive to the left of
    the chain's own run, outwards for circles and ellipses.  Corners sharp or round on the outer side; what is parallel
    to a spline or ellipse is a spline within STRAYS of it."""
    start = sketch.curve(number)
    pen = Pen(sketch, fresh, start.construction)
    if start.kind == "circle":
        size = start.size + distance
        if size < 1e-6:
            raise EditError("the circle would vanish", [f"c{number}"], field="distance")
        pen.curve("circle", start.points[0], size=size)
        return pen.sketch, pen.curves
    if start.kind == "ellipse" or start.span or start.points[0] == start.points[-1]:
        return _alone(pen, start, distance)
    chain, closed = chain_of(sketch, start)
    rows = [_parallel(sketch, c, forward, distance) for c, forward in chain]
    pairs = list(itertools.pairwise([*rows, rows[0]] if closed else rows))
    meets = [_meet(a, b, rounded, distance) for a, b in pairs]
    first = meets[-1][1] if closed else rows[0].start
    places = [first]
    for k, row in enumerate(rows):
        last = meets[k][0] if k < len(meets) else row.end
        row.run = (places[-1], last)
        places.append(meets[k][1] if k < len(meets) else last)
    known: dict[tuple[float, float], int] = {}

    def point(at: Floats) -> int:
        key = (round(float(at[0]), 7), round(float(at[1]), 7))
        if key not in known:
            known[key] = pen.point((float(at[0]), float(at[1])))
        return known[key]

    for k, row in enumerate(rows):
        a, b = row.run
        if row.turned(a, b):
            raise EditError("a piece of the chain would vanish", [f"c{row.curve.id}"], field="distance")
        _lay(pen, row, point(a), point(b))
        if k < len(meets) and np.hypot(*(meets[k][1] - meets[k][0])) > 1e-6:
            corner = row.corner
            ends = (point(meets[k][0]), point(meets[k][1]))
            pen.arc(pen.point((float(corner[0]), float(corner[1]))), *(ends if distance < 0 else ends[::-1]))
    return pen.sketch, pen.curves


def open_ends(sketch: Sketch, curves: Sequence[Curve]) -> list[int]:
    """The points in which only one of these curves ends."""
    ends = [p for c in curves if c.kind in LINKS for p in ends_of(c)]
    return [p for p in ends if ends.count(p) == 1]


def close_ends(
    sketch: Sketch, number: int, rims: Sequence[Sequence[int]], rounded: bool, fresh: Iterator[int]
) -> Sketch:
    """The two parallels of an open chain joined at both ends, straight or by half circles around the ends of the
    chain.  rims: their open ends.  Raises EditError for a chain that has no ends."""
    chain = [c for c, _ in chain_of(sketch, sketch.curve(number))[0]]
    tips = open_ends(sketch, chain)
    if any(len(ends) != 2 for ends in (tips, *rims)):
        raise EditError("the chain closes on itself, so it has no ends to close", [f"c{number}"], field="ends")
    pen = Pen(sketch, fresh, sketch.curve(number).construction)
    for tip in tips:
        place = sketch.points[tip]
        left, right = (min(ends, key=lambda p: math.dist(sketch.points[p], place)) for ends in rims)
        if not rounded:
            pen.line(left, right)
            continue
        inner = next(c for c in chain if tip in ends_of(c))
        away = ends_of(inner)[1] if ends_of(inner)[0] == tip else ends_of(inner)[0]
        (ax, ay), (bx, by) = (np.subtract(sketch.points[p], place) for p in (left, away))
        pen.arc(tip, *((left, right) if ax * by - ay * bx < 0 else (right, left)))
    return pen.sketch


class _Row:
    """One curve of a chain and its parallel: start and end of the parallel, directions there, the old end; for an arc
    its middle, and whether the chain runs it counterclockwise (+1); for a spline its bent parallel."""

    def __init__(
        self, curve: Curve, ends: tuple[Floats, Floats], corner: Floats, ways: tuple[Floats, Floats],
        centre: Floats | None = None, sense: float = 1.0, bent: _Bent | None = None,
    ) -> None:  # fmt: skip
        self.curve, self.corner, self.ways, self.centre, self.sense = curve, corner, ways, centre, sense
        self.start, self.end = ends
        self.run = ends
        self.bent = bent

    @property
    def straight(self) -> bool:
        return self.centre is None and self.bent is None

    def turned(self, a: Floats, b: Floats) -> bool:
        if self.bent is not None:
            return self.bent.near(a) >= self.bent.near(b) - 1e-9
        if self.centre is None:
            return bool((b - a) @ self.ways[0] < 1e-9)
        return bool(np.hypot(*(b - a)) < 1e-9)


def _lay(pen: Pen, row: _Row, a: int, b: int) -> None:
    if row.bent is not None:
        first, last = (row.bent.near(np.array(pen.sketch.points[p])) for p in (a, b))
        inner = row.bent.through(first, last)[1:-1]
        pen.curve("spline", a, *(pen.point((x, y)) for x, y in inner.tolist()), b)
    elif row.centre is None:
        pen.line(a, b)
    else:
        pen.arc(row.curve.points[0], *((a, b) if row.sense > 0 else (b, a)))


class _Bent:
    """The parallel of a spline or ellipse, run one way.  Parameters are those of the curve, its sign turned where it
    is run backwards."""

    def __init__(self, curve: Curve, flat: PlaneCurve, forward: bool, distance: float, asked: float) -> None:
        """distance: to the left of the run; asked: the same as it was typed, for the refusal."""
        self.curve, self.flat, self.sense, self.distance = curve, flat, 1.0 if forward else -1.0, distance
        self.asked = asked
        self.first, self.last = sorted((self.sense * flat.first, self.sense * flat.last))
        self.refuse_cusps()

    def ways(self, t: Floats) -> Floats:
        """Unit directions of the run."""
        slopes = self.sense * self.flat.slope(self.sense * t)
        return slopes / np.hypot(*slopes.T)[:, None]

    def at(self, t: Floats) -> Floats:
        ways = self.ways(t)
        return self.flat.at(self.sense * t) + self.distance * np.column_stack([-ways[:, 1], ways[:, 0]])

    def refuse_cusps(self) -> None:
        t = np.linspace(self.first, self.last, 400)
        turning = np.unwrap(np.arctan2(*self.ways(t).T[::-1]))
        steps = np.hypot(*np.diff(self.flat.at(self.sense * t), axis=0).T)
        bend = float(np.max(np.diff(turning) * np.sign(self.distance) / steps))
        if bend * abs(self.distance) > 1 - 1e-6:
            most = math.floor(0.999e3 / bend) / 1e3
            why = f"c{self.curve.id} bends more sharply than that; up to {most:g} mm works on this side"
            nearest = f"{math.copysign(most, self.asked):g} mm"
            raise EditError(why, [f"c{self.curve.id}"], nearest, "distance")

    def near(self, place: Floats) -> float:
        """Parameter of the place of the parallel that is nearest."""
        ends = self.at(np.array([self.first, self.last])) - place
        for end, away in zip((self.first, self.last), ends, strict=True):
            if np.hypot(*away) < 1e-9:
                return end
        return self.sense * self.flat.nearest(place)

    def through(self, first: float, last: float) -> Floats:
        """Places (n, 2), so close together that a spline through them strays at most STRAYS from the parallel."""
        count = max(4, math.ceil(len(self.curve.points) * (last - first) / (self.last - self.first)))
        while True:
            t = np.linspace(first, last, count + 1)
            places = self.at(t)
            round_about = self.flat.closed and last - first > self.last - self.first - 1e-9
            if round_about:
                places[-1] = places[0]
            spline = interpolate.CubicSpline(
                np.arange(count + 1), places, bc_type="periodic" if round_about else "not-a-knot"
            )
            middles = spline(np.arange(count) + 0.5)
            off = np.hypot(*(middles - self.at((t[:-1] + t[1:]) / 2)).T).max()
            if off < STRAYS or count > MOST_POINTS:
                return places
            count = math.ceil(count * 1.5)


def _alone(pen: Pen, curve: Curve, distance: float) -> tuple[Sketch, list[int]]:
    """The parallel of an ellipse (outwards), of a closed spline or of a part of either (to the left)."""
    flat = plane_curve(pen.sketch, curve)
    if flat is None:
        raise EditError(f"c{curve.id} has no size to set off", [f"c{curve.id}"], field="curve")
    outwards = curve.kind == "ellipse" and flat.closed
    bent = _Bent(curve, flat, True, -distance if outwards else distance, distance)
    points = [pen.point((x, y)) for x, y in bent.through(bent.first, bent.last).tolist()]
    pen.curve("spline", *points[:-1], points[0] if flat.closed else points[-1])
    return pen.sketch, pen.curves


def _parallel(sketch: Sketch, curve: Curve, forward: bool, distance: float) -> _Row:
    if curve.kind == "line":
        a, b = (np.array(p) for p in (sketch.places(curve) if forward else sketch.places(curve)[::-1]))
        way = (b - a) / np.hypot(*(b - a))
        shift = distance * np.array([-way[1], way[0]])
        return _Row(curve, (a + shift, b + shift), b, (way, way))
    if curve.kind == "spline":
        flat = plane_curve(sketch, curve)
        if flat is None:
            raise EditError(f"c{curve.id} has no size to set off", [f"c{curve.id}"], field="curve")
        bent = _Bent(curve, flat, forward, distance, distance)
        ends = np.array([bent.first, bent.last])
        corner = np.array(sketch.points[ends_of(curve)[1 if forward else 0]])
        (start, end), (leaving, coming) = bent.at(ends), bent.ways(ends)
        return _Row(curve, (start, end), corner, (leaving, coming), bent=bent)
    if curve.kind != "arc":
        raise EditError(f"a {curve.kind} cannot be set off; lines, rounds, ellipses and splines can", [f"c{curve.id}"],
                        field="curve")  # fmt: skip
    centre, a, b = (np.array(p) for p in sketch.places(curve))
    sense = 1.0 if forward else -1.0
    if not forward:
        a, b = b, a
    size = curve.size - sense * distance
    if size < 1e-6:
        raise EditError("an arc of the chain would vanish", [f"c{curve.id}"], field="distance")
    first, last = (centre + (p - centre) * size / curve.size for p in (a, b))
    leaving, coming = (sense * np.array([-(p - centre)[1], (p - centre)[0]]) / curve.size for p in (a, b))
    return _Row(curve, (first, last), b, (leaving, coming), centre, sense)


def _meet(a: _Row, b: _Row, rounded: bool, distance: float) -> tuple[Floats, Floats]:
    """Where one parallel ends and the next begins: one place, or two with an arc between."""
    if np.hypot(*(a.end - b.start)) < 1e-9:
        return a.end, a.end
    u, v = a.ways[1], b.ways[0]
    turn = float(u[0] * v[1] - u[1] * v[0])
    outer = turn * distance < 0
    if rounded and outer:
        return a.end, b.start
    if a.straight and b.straight:
        gap = b.start - a.end
        if abs(turn) < 1e-9:
            return a.end, a.end
        at = a.end + u * float(gap[0] * v[1] - gap[1] * v[0]) / turn
        return at, at
    flats = [_flat_of(r) for r in (a, b)]
    found = crossings(*flats)
    if not found:
        if outer:  # a bent piece cannot be taken on
            return a.end, b.start
        raise EditError("two pieces of the chain would no longer meet; try a smaller distance", field="distance")
    places = [flats[0].at(np.array([t]))[0] for t, _ in found]
    at = min(places, key=lambda p: float(np.hypot(*(p - a.corner))))
    return at, at


def _flat_of(row: _Row) -> PlaneCurve:
    """The whole line or circle of a parallel, as far as it may be needed."""
    zero = np.zeros(2)
    if row.bent is not None:
        places = row.bent.through(row.bent.first, row.bent.last)
        spline = interpolate.CubicSpline(np.arange(len(places)), places)
        return PlaneCurve(0, "spline", 0.0, len(places) - 1.0, places[0], zero, zero, spline)
    if row.centre is None:
        far = 1e4 * (row.end - row.start) / np.hypot(*(row.end - row.start))
        return PlaneCurve(0, "line", 0.0, 1.0, row.start - far, row.end - row.start + 2 * far, zero)
    size = float(np.hypot(*(row.start - row.centre)))
    return PlaneCurve(0, "round", 0.0, TURN, row.centre, np.array([size, 0.0]), np.array([0.0, size]))
