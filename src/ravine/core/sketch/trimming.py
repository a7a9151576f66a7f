"""Curves cut back at what crosses them, corners rounded, chains set off."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from ..errors import EditError
from .drawing import Pen
from .entities import Curve, Point2, Sketch
from .plane_curves import TURN, PlaneCurve, crossings, plane_curve, plane_curves
from .solver import solve


def trim(sketch: Sketch, number: int, place: Point2, fresh: Iterator[int]) -> Sketch:
    """Without the piece of a curve at `place`, from crossing to crossing; the whole where nothing crosses it."""
    curve = sketch.curve(number)
    flat = plane_curve(sketch, curve)
    if flat is None:
        raise EditError(f"a {curve.kind} cannot be cut back; lines, rounds and splines can", [f"c{number}"],
                        field="curve")  # fmt: skip
    cuts = sorted(
        {round(t, 10) for other in plane_curves(sketch) if other.id != number for t, _ in crossings(flat, other)}
    )
    here = flat.nearest(np.array(place))
    if curve.kind in ("ellipse", "spline"):
        return _shortened(sketch, curve, flat, cuts, here, fresh)
    pen = Pen(sketch.without([number]), fresh, curve.construction)
    pen.sketch = pen.sketch.with_points({p: sketch.points[p] for p in curve.points})
    if flat.closed:
        if len(cuts) > 1:
            before = max((c for c in cuts if c < here), default=cuts[-1] - TURN)
            after = min((c for c in cuts if c > here), default=cuts[0] + TURN)
            pen.arc(curve.points[0], _at(pen, flat, after), _at(pen, flat, before))
    else:
        ends = {"line": (curve.points[0], curve.points[-1]), "arc": curve.points[1:]}[curve.kind]
        inner = [c for c in cuts if flat.first + 1e-9 < c < flat.last - 1e-9]
        stop = max((c for c in inner if c < here), default=None)
        start = min((c for c in inner if c > here), default=None)
        for first, last in (
            (ends[0], stop if stop is None else _at(pen, flat, stop)),
            (start if start is None else _at(pen, flat, start), ends[1]),
        ):
            if first is None or last is None:
                continue
            if curve.kind == "line":
                pen.line(first, last)
            else:
                pen.arc(curve.points[0], first, last)
    return _settled(pen.sketch.without([]))


def _shortened(
    sketch: Sketch, curve: Curve, flat: PlaneCurve, cuts: list[float], here: float, fresh: Iterator[int]
) -> Sketch:
    """What is left of an ellipse or spline keeps its points, and so its form."""
    turn = flat.last - flat.first
    left: list[tuple[float, float]] = []
    if flat.closed:
        if len(cuts) > 1:
            before = max((c for c in cuts if c < here), default=cuts[-1] - turn)
            after = min((c for c in cuts if c > here), default=cuts[0] + turn)
            left = [(after - turn, before)] if after > turn else [(after, before + turn)]
    else:
        inner = [c for c in cuts if flat.first + 1e-9 < c < flat.last - 1e-9]
        stop = max((c for c in inner if c < here), default=None)
        start = min((c for c in inner if c > here), default=None)
        left = [(flat.first, stop)] if stop is not None else []
        left += [(start, flat.last)] if start is not None else []
    if not left:
        return _settled(sketch.without([curve.id]))
    first, *others = (replace(curve, span=span) for span in left)
    return _settled(sketch.with_curves(first, *(replace(c, id=next(fresh)) for c in others)))


def extend(sketch: Sketch, number: int, place: Point2, fresh: Iterator[int]) -> Sketch:
    """The end of a line or arc that is nearest to `place` taken on to the next curve that it meets."""
    curve = sketch.curve(number)
    flat = plane_curve(sketch, curve)
    if flat is None or curve.kind not in ("line", "arc"):
        raise EditError(f"a {curve.kind} cannot be taken on; lines and arcs can", [f"c{number}"], field="curve")
    ends = {"line": curve.points, "arc": curve.points[1:]}[curve.kind]
    tail = math.dist(sketch.points[ends[0]], place) > math.dist(sketch.points[ends[1]], place)
    others = [f for f in plane_curves(sketch, constructions=True) if f.id != number]
    if curve.kind == "line":
        far = 1e6 / flat.radius
        longer = replace(flat, centre=flat.centre - far * flat.x, x=(1 + 2 * far) * flat.x)
        met = {(longer.at(np.array([t]))[0] - flat.centre) @ flat.x / flat.radius**2: f
               for f in others for t, _ in crossings(longer, f)}  # fmt: skip
    else:
        longer = replace(flat, first=flat.first, last=flat.first + TURN)
        met = {t if tail else t - TURN: f for f in others for t, _ in crossings(longer, f)}
    slack = 1e-6 / flat.radius
    onwards = {t: f for t, f in met.items() if (t > flat.last + slack if tail else t < flat.first - slack)}
    if curve.kind == "arc":
        onwards = {t: f for t, f in onwards.items() if (t < flat.first + TURN if tail else t > flat.last - TURN)}
    if not onwards:
        raise EditError("nothing lies ahead that it would meet", [f"c{number}"], field="at")
    t = min(onwards) if tail else max(onwards)
    pen = Pen(sketch, fresh, curve.construction)
    point = _at(pen, flat, t)
    barrier = sketch.curve(onwards[t].id)
    spots = list(curve.points)
    spots[-1 if tail else -2] = point
    pen.sketch = pen.sketch.with_curves(replace(curve, points=tuple(spots)))
    if point not in barrier.points and barrier.kind in ("line", "circle", "arc"):
        pen.constraint("on" if barrier.kind == "line" else "on round", point, barrier.id)
    return _settled(pen.sketch.without(_of_size(sketch, number)))


def divide(sketch: Sketch, number: int, place: Point2, fresh: Iterator[int]) -> Sketch:
    """A curve in two that meet at the place; a circle in two halves from there."""
    curve = sketch.curve(number)
    flat = plane_curve(sketch, curve)
    if flat is None:
        raise EditError(f"a {curve.kind} cannot be split", [f"c{number}"], field="curve")
    t = flat.nearest(np.array(place))
    if not flat.closed and min(t - flat.first, flat.last - t) < 1e-6 * (flat.last - flat.first):
        raise EditError("that is its end; split it somewhere between", [f"c{number}"], field="at")
    pen = Pen(sketch, fresh, curve.construction)
    if curve.kind in ("ellipse", "spline"):
        spans = [(flat.first, t), (t, flat.last)]
        if flat.closed:
            half = (flat.last - flat.first) / 2
            spans = [(t, t + half), (t + half, t + 2 * half)]
        pen.sketch = pen.sketch.with_curves(replace(curve, span=spans[0]),
                                            replace(curve, span=spans[1], id=next(fresh)))  # fmt: skip
        return _settled(pen.sketch)
    point = _at(pen, flat, t)
    if curve.kind == "circle":
        pen.sketch = pen.sketch.without([number]).with_points({p: pen.sketch.points[p] for p in (*curve.points, point)})
        across = _at(pen, flat, t + math.pi)
        pen.arc(curve.points[0], point, across)
        pen.arc(curve.points[0], across, point)
        return _settled(pen.sketch)
    *before, last = curve.points
    pen.sketch = pen.sketch.with_curves(replace(curve, points=(*before, point)))
    if curve.kind == "line":
        pen.keep("in line", number, pen.curve("line", point, last))
    else:
        pen.arc(curve.points[0], point, last)
    return _settled(pen.sketch.without(_of_size(sketch, number)))


def _of_size(sketch: Sketch, number: int) -> list[int]:
    """Rules that say how long a curve is, or where its middle lies."""
    return [r.id for r in sketch.constraints.values() if number in r.on and r.kind in ("length", "equal", "middle")]


def _at(pen: Pen, flat: PlaneCurve, t: float) -> int:
    """A point at a parameter: the one that is there already, else a new one."""
    x, y = flat.at(np.array([t]))[0].tolist()
    near = next((n for n, p in pen.sketch.points.items() if math.dist(p, (x, y)) < 1e-6), None)
    return pen.point((x, y)) if near is None else near


def _settled(sketch: Sketch) -> Sketch:
    solved = solve(sketch)
    if not solved.holds:
        raise EditError("the rules of the sketch do not hold after that")
    return solved.sketch


def round_corner(sketch: Sketch, point: int, radius: float, fresh: Iterator[int]) -> Sketch:
    """An arc in the corner of two lines that share a point, tangent to both."""
    lines = [c for c in sketch.users(point) if c.kind == "line" and not c.construction]
    if len(lines) != 2:
        raise EditError("a corner to round is where two lines share an end", [f"p{point}"], field="corners")
    corner = np.array(sketch.points[point])
    ways, rooms, others = [], [], []
    for line in lines:
        other = line.points[1] if line.points[0] == point else line.points[0]
        arm = np.array(sketch.points[other]) - corner
        rooms.append(float(np.hypot(*arm)))
        ways.append(arm / rooms[-1])
        others.append(other)
    half = math.acos(float(np.clip(ways[0] @ ways[1], -1, 1))) / 2
    if half < 1e-6 or half > math.pi / 2 - 1e-6:
        raise EditError("the two lines run on into each other, so there is no corner", [f"p{point}"], field="corners")
    reach = radius / math.tan(half)
    if reach > min(rooms) - 1e-6:
        most = (min(rooms) - 1e-6) * math.tan(half)
        raise EditError(f"a radius of {radius:.6g} mm is longer than the lines; the largest is {most:.4g} mm",
                        [f"p{point}"], nearest=f"{math.floor(most * 1000) / 1000:g} mm", field="radius")  # fmt: skip
    inwards = ways[0] + ways[1]
    middle = corner + inwards / np.hypot(*inwards) * radius / math.sin(half)
    pen = Pen(sketch, fresh)
    feet = [pen.point(tuple((corner + reach * w).tolist())) for w in ways]
    for line, foot, other in zip(lines, feet, others, strict=True):
        ends = (foot, other) if line.points[0] == point else (other, foot)
        pen.sketch = pen.sketch.with_curves(Curve(line.id, "line", ends, 0.0, line.construction))
    left = float(ways[0][0] * ways[1][1] - ways[0][1] * ways[1][0])
    arc = pen.arc(pen.point(tuple(middle.tolist())), *(feet if left < 0 else feet[::-1]))
    for line in lines:
        pen.keep("tangent", line.id, arc)
    pen.constraint("radius", arc, value=radius)
    lost = [
        r.id
        for r in sketch.constraints.values()
        if point in r.on or (r.kind == "length" and r.on[0] in [c.id for c in lines])
    ]
    return _settled(pen.sketch.without(lost))
