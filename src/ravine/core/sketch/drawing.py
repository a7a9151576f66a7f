"""Shapes put into a sketch: each from a few spots, with the constraints that make it what it is."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..errors import EditError
from ..tolerances import TOUCHING
from .constraints import fit
from .entities import Constraint, Curve, Point2, Sketch
from .lettering import outlines, width
from .solver import solve


@dataclass(frozen=True)
class Spot:
    """A place to draw at, mm; point: an existing point it is; on: the curve it lies on; middle: the line whose middle
    it is."""

    place: Point2
    point: int = 0
    on: int = 0
    middle: int = 0


class Pen:
    """Adds points, curves and constraints to a sketch; `fresh` gives new ids."""

    def __init__(self, sketch: Sketch, fresh: Iterator[int], construction: bool = False) -> None:
        self.sketch, self._fresh, self.construction = sketch, fresh, construction
        self.curves: list[int] = []

    def point(self, spot: Spot | Point2) -> int:
        if not isinstance(spot, Spot):
            spot = Spot(spot)
        if spot.point:
            return spot.point
        number = next(self._fresh)
        self.sketch = self.sketch.with_points({number: spot.place})
        if spot.on:
            kind = self.sketch.curve(spot.on).kind
            if kind in ("line", "circle", "arc"):
                self.constraint("on" if kind == "line" else "on round", number, spot.on)
        if spot.middle:
            self.constraint("middle", number, spot.middle)
        return number

    def curve(self, kind: str, *points: int, size: float = 0.0, **more: Any) -> int:
        number = next(self._fresh)
        self.sketch = self.sketch.with_curves(Curve(number, kind, points, size, self.construction, **more))
        self.curves.append(number)
        return number

    def constraint(self, kind: str, *on: int, value: float | None = None) -> None:
        self.sketch = self.sketch.with_constraints(Constraint(next(self._fresh), kind, on, value))

    def keep(self, asked: str, *on: int) -> None:
        """The rule in the form that fits."""
        self.constraint(*_spread(fit(self.sketch, asked, on)))

    def line(self, a: int, b: int) -> int:
        """Level or upright lines stay so."""
        found = self.curve("line", a, b)
        (x0, y0), (x1, y1) = self.sketch.points[a], self.sketch.points[b]
        if math.hypot(x1 - x0, y1 - y0) < TOUCHING:
            raise EditError("two places of the line are the same", field="places")
        if abs(y1 - y0) < TOUCHING:
            self.constraint("level", found)
        elif abs(x1 - x0) < TOUCHING:
            self.constraint("upright", found)
        return found

    def arc(self, centre: int, start: int, end: int) -> int:
        size = math.dist(self.sketch.points[centre], self.sketch.points[start])
        return self.curve("arc", centre, start, end, size=size)


def _spread(found: tuple[str, tuple[int, ...]]) -> tuple:
    return (found[0], *found[1])


Drawer = Callable[[Pen, Sequence[Spot], "Asked"], None]


@dataclass(frozen=True)
class Asked:
    """size: radius, half width or height of capitals in mm, where it was given; count: corners of a polygon; words
    and font: of a text."""

    size: float | None = None
    count: int = 6
    words: str = ""
    font: str = "sans"


def draw(
    sketch: Sketch, shape: str, spots: Sequence[Spot], fresh: Iterator[int], asked: Asked, construction: bool = False
) -> tuple[Sketch, list[int]]:
    """The sketch with the shape in it, and its curves.  Raises EditError for places that make none."""
    drawer, least, most, _ = SHAPES[shape]
    if asked.size is not None and shape in SIZED and least == most:
        least -= 1
    if len(spots) < least or (most and len(spots) > most):
        number = f"{least}" if most == least else f"{least} or more" if not most else f"{least} to {most}"
        raise EditError(f"{shape} takes {number} places; there are {len(spots)}", field="places")
    pen = Pen(sketch, fresh, construction)
    drawer(pen, spots, asked)
    solved = solve(pen.sketch)
    if not solved.holds:
        raise EditError("the new curves contradict what already holds in the sketch", field="places")
    return solved.sketch, pen.curves


def _lines(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    closed = len(spots) > 3 and math.dist(spots[0].place, spots[-1].place) < TOUCHING
    points = [pen.point(s) for s in (spots[:-1] if closed else spots)]
    if closed:
        points.append(points[0])
    for a, b in itertools.pairwise(points):
        pen.line(a, b)


def _box(pen: Pen, corners: Sequence[int]) -> list[int]:
    return [pen.line(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]


def _rectangle(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    (x0, y0), (x1, y1) = spots[0].place, spots[1].place
    if min(abs(x1 - x0), abs(y1 - y0)) < TOUCHING:
        raise EditError("the two corners of the rectangle lie on one level or upright line", field="places")
    a, c = pen.point(spots[0]), pen.point(spots[1])
    _box(pen, [a, pen.point((x1, y0)), c, pen.point((x0, y1))])


def _rectangle_about(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    (mx, my), (x, y) = spots[0].place, spots[1].place
    middle = pen.point(spots[0])
    corner = pen.point(spots[1])
    across = pen.point((2 * mx - x, 2 * my - y))
    _box(pen, [corner, pen.point((2 * mx - x, y)), across, pen.point((x, 2 * my - y))])
    kept, pen.construction = pen.construction, True
    pen.constraint("middle", middle, pen.curve("line", corner, across))
    pen.construction = kept


def _circle(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    size = asked.size
    if size is None:
        size = math.dist(spots[0].place, spots[1].place)
    if size < TOUCHING:
        raise EditError("the circle has no size", field="places")
    circle = pen.curve("circle", pen.point(spots[0]), size=size)
    if asked.size is not None:
        pen.constraint("radius", circle, value=asked.size)
    elif spots[1].point:
        pen.constraint("on round", spots[1].point, circle)


def _middle_of(a: Point2, b: Point2, c: Point2) -> Point2:
    """Of the circle through three places."""
    (ax, ay), (bx, by), (cx, cy) = a, b, c
    det = 2 * ((bx - ax) * (cy - ay) - (by - ay) * (cx - ax))
    if abs(det) < 1e-9:
        raise EditError("the three places lie on one line, so no circle runs through them", field="places")
    p, q = (bx - ax) ** 2 + (by - ay) ** 2, (cx - ax) ** 2 + (cy - ay) ** 2
    return (ax + ((cy - ay) * p - (by - ay) * q) / det, ay + ((bx - ax) * q - (cx - ax) * p) / det)


def _circle_through(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    middle = _middle_of(*(s.place for s in spots))
    points = [pen.point(s) for s in spots]
    circle = pen.curve("circle", pen.point(middle), size=math.dist(middle, spots[0].place))
    for spot, point in zip(spots, points, strict=True):
        if spot.point:
            pen.constraint("on round", point, circle)
    loose = [p for s, p in zip(spots, points, strict=True) if not s.point]
    pen.sketch = replace(
        pen.sketch,
        points={n: at for n, at in pen.sketch.points.items() if n not in loose},
        constraints={r.id: r for r in pen.sketch.constraints.values() if not set(r.on) & set(loose)},
    )


def _arc(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """Start, end and a place between."""
    start, end, through = (s.place for s in spots)
    middle = _middle_of(start, end, through)
    ends = [pen.point(s) for s in spots[:2]]
    (sx, sy), (ex, ey), (tx, ty) = start, end, through
    left = (ex - sx) * (ty - sy) - (ey - sy) * (tx - sx)
    pen.arc(pen.point(middle), *(ends if left < 0 else ends[::-1]))


def _arc_about(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """Middle, start, and where it ends, counterclockwise."""
    centre, start, end = (np.array(s.place) for s in spots)
    radius = float(np.hypot(*(start - centre)))
    size = float(np.hypot(*(end - centre)))
    if min(radius, size) < TOUCHING:
        raise EditError("the arc has no size", field="places")
    last: Spot | Point2 = spots[2]
    if not spots[2].point:
        x, y = (centre + (end - centre) * radius / size).tolist()
        last = (x, y)
    pen.arc(pen.point(spots[0]), pen.point(spots[1]), pen.point(last))


def _ellipse(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    centre, tip, side = (np.array(s.place) for s in spots)
    x = tip - centre
    size = float(np.hypot(*x))
    other = abs(float(x[0] * (side - centre)[1] - x[1] * (side - centre)[0])) / max(size, 1e-12)
    if min(size, other) < TOUCHING:
        raise EditError("the ellipse has no size", field="places")
    pen.curve("ellipse", pen.point(spots[0]), pen.point(spots[1]), size=other)


def _arc_on(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """On from the end of a line or arc, tangent to it there, to another place."""
    start, end = spots
    runs = [c for c in pen.sketch.users(start.point) if c.kind in ("line", "arc")] if start.point else []
    runs = [c for c in runs if start.point in (c.points if c.kind == "line" else c.points[1:])]
    if not runs:
        raise EditError("an arc that goes on begins at the end of a line or arc; click on one", field="places")
    before = runs[-1]
    a, b = np.array(start.place), np.array(end.place)
    if before.kind == "line":
        other = next(p for p in before.points if p != start.point)
        way = a - np.array(pen.sketch.points[other])
    else:
        arm = a - np.array(pen.sketch.points[before.points[0]])
        way = np.array([-arm[1], arm[0]]) * (1.0 if start.point == before.points[2] else -1.0)
    way = way / float(np.hypot(*way))
    chord = b - a
    offside = float(way[0] * chord[1] - way[1] * chord[0])
    if abs(offside) < TOUCHING:
        raise EditError("straight on there is no arc; draw a line", field="places")
    radius = float(chord @ chord) / (2 * offside)  # to the left where it is positive
    middle = a + radius * np.array([-way[1], way[0]])
    ends = [pen.point(start), pen.point(end)]
    arc = pen.arc(pen.point((float(middle[0]), float(middle[1]))), *(ends if radius > 0 else ends[::-1]))
    pen.keep("tangent", before.id, arc)


def _polygon_over(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """About a middle, with the middle of a side at the second place."""
    centre, side = (np.array(s.place) for s in spots)
    turn = math.pi / max(asked.count, 3)
    arm, lean = side - centre, math.tan(turn)
    corner = centre + arm + lean * np.array([-arm[1], arm[0]])
    _polygon(pen, [spots[0], Spot((float(corner[0]), float(corner[1])))], asked)


def _polygon(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """About a middle, with a corner at the second place, its corners on a helper circle."""
    if not 3 <= asked.count <= 120:
        raise EditError("a polygon has 3 to 120 corners", nearest="6", field="count")
    centre, corner = (np.array(s.place) for s in spots)
    arm = corner - centre
    if float(np.hypot(*arm)) < TOUCHING:
        raise EditError("the polygon has no size", field="places")
    middle = pen.point(spots[0])
    points = [pen.point(spots[1])]
    for k in range(1, asked.count):
        turn = 2 * math.pi * k / asked.count
        c, s = math.cos(turn), math.sin(turn)
        points.append(
            pen.point((float(centre[0] + c * arm[0] - s * arm[1]), float(centre[1] + s * arm[0] + c * arm[1])))
        )
    sides = [pen.curve("line", a, b) for a, b in zip(points, [*points[1:], points[0]], strict=True)]
    for side in sides[1:]:
        pen.constraint("equal", sides[0], side)
    kept, pen.construction = pen.construction, True
    ring = pen.curve("circle", middle, size=float(np.hypot(*arm)))
    pen.construction = kept
    for point in points:
        pen.constraint("on round", point, ring)


def _slot(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """Two middles, and a place at its side or a half width."""
    a, b = (np.array(s.place) for s in spots[:2])
    along = b - a
    length = float(np.hypot(*along))
    if length < TOUCHING:
        raise EditError("the two middles of the slot are the same place", field="places")
    side = np.array([-along[1], along[0]]) / length
    half = asked.size
    if half is None:
        half = abs(float((np.array(spots[2].place) - a) @ side))
    if half < TOUCHING:
        raise EditError("the slot has no width", field="places")
    first, second = pen.point(spots[0]), pen.point(spots[1])
    corners = [pen.point((float(p[0]), float(p[1]))) for p in (a - half * side, b - half * side, b + half * side, a + half * side)]  # fmt: skip  # noqa: E501
    lines = [pen.line(corners[0], corners[1]), pen.line(corners[2], corners[3])]
    ends = [pen.arc(second, corners[1], corners[2]), pen.arc(first, corners[3], corners[0])]
    for line in lines:
        for end in ends:
            pen.keep("tangent", line, end)
    pen.constraint("equal rounds", *ends)
    if asked.size is not None:
        pen.constraint("radius", ends[0], value=asked.size)


def _spline(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    closed = len(spots) > 3 and math.dist(spots[0].place, spots[-1].place) < TOUCHING
    points = [pen.point(s) for s in (spots[:-1] if closed else spots)]
    pen.curve("spline", *points, *(points[:1] if closed else ()))


def _dots(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    for spot in spots:
        pen.curve("dot", pen.point(spot))


def _text(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """Along x from its first place, or towards the second."""
    if not asked.words:
        raise EditError("the text is still empty", field="words")
    if asked.size is None:
        raise EditError("give the height of the capitals", nearest="5 mm", field="size")
    (x, y), length = spots[0].place, asked.size * width(asked.words, asked.font)
    towards: Spot | Point2 = spots[1] if len(spots) > 1 else (x + length, y)
    if isinstance(towards, Spot) and math.dist(towards.place, (x, y)) < TOUCHING:
        raise EditError("two places of the text are the same", field="places")
    outlines(asked.words, asked.font)
    pen.curve("text", pen.point(spots[0]), pen.point(towards), size=asked.size, words=asked.words, font=asked.font)


def _touching(pen: Pen, spots: Sequence[Spot], asked: Asked) -> None:
    """A line that touches one or two rounds: of all there are the one that touches nearest to the two places."""
    rounds = [pen.sketch.curve(s.on) if s.on else None for s in spots]
    rounds = [c if c and c.kind in ("circle", "arc") else None for c in rounds]
    if not any(rounds):
        raise EditError("a touching line begins or ends on a circle or an arc; click on one", field="places")
    discs = [(np.array(pen.sketch.places(c)[0]), c.size) if c else (np.array(s.place), 0.0)
             for c, s in zip(rounds, spots, strict=True)]  # fmt: skip
    (a, r), (b, q) = discs
    gap = b - a
    apart = float(np.hypot(*gap))
    best, off = None, math.inf
    for side in (1.0, -1.0):
        for other in (1.0, -1.0):
            # unit normal n with n·(b − a) = side r − other q: both rounds lie at their radius from the line
            share = (side * r - other * q) / apart if apart > TOUCHING else 2.0
            if abs(share) > 1:
                continue
            for turn in (1.0, -1.0):
                u = gap / apart
                n = share * u + turn * math.sqrt(1 - share * share) * np.array([-u[1], u[0]])
                ends = (a + side * r * n, b + other * q * n)
                miss = sum(math.dist(e, s.place) for e, s in zip(ends, spots, strict=True))
                if miss < off - 1e-9:
                    best, off = ends, miss
    if best is None or math.dist(*best) < TOUCHING:
        raise EditError("no line touches them both: one lies inside the other", field="places")
    points = []
    for spot, curve, end in zip(spots, rounds, best, strict=True):
        points.append(pen.point(spot) if curve is None else pen.point((float(end[0]), float(end[1]))))
    line = pen.curve("line", *points)
    for curve, point in zip(rounds, points, strict=True):
        if curve is not None:
            pen.constraint("on round", point, curve.id)
            pen.constraint("tangent", line, curve.id)


SIZED = ("circle", "slot")  # a size stands for the last place
# the drawer, how many places it takes at least and at most (0: any number), and what the places are
SHAPES: dict[str, tuple[Drawer, int, int, str]] = {
    "line": (_lines, 2, 0, "from corner to corner; the first place again closes it"),
    "rectangle": (_rectangle, 2, 2, "two opposite corners"),
    "rectangle about": (_rectangle_about, 2, 2, "its middle and a corner"),
    "circle": (_circle, 2, 2, "its middle and a place on it, or a radius"),
    "circle through": (_circle_through, 3, 3, "three places on it"),
    "arc": (_arc, 3, 3, "its ends and a place between"),
    "arc about": (_arc_about, 3, 3, "its middle, start and end, counterclockwise"),
    "arc going on": (_arc_on, 2, 2, "the end of a line or arc, tangent to which it begins, and its other end"),
    "ellipse": (_ellipse, 3, 3, "its middle, a tip and a place at the side"),
    "polygon": (_polygon, 2, 2, "its middle and a corner"),
    "polygon over": (_polygon_over, 2, 2, "its middle and the middle of a side"),
    "slot": (_slot, 3, 3, "the middles of its ends, and a place at its side or a half width"),
    "spline": (_spline, 2, 0, "places it runs through"),
    "dot": (_dots, 1, 0, "where it is"),
    "text": (_text, 1, 2, "where it begins, and a place that it runs towards; the size is the height of its capitals"),
    "touching line": (_touching, 2, 2, "its ends, at least one of them on a circle or arc, which it touches there"),
}


def drag(sketch: Sketch, point: int, place: Point2) -> Sketch:
    """A point taken along as far as the constraints let it; the rest moves as little as it can."""
    solved = solve(sketch, {point: place})
    if not solved.holds:
        raise EditError("the rules of the sketch do not let it go there", [f"p{point}"], field="to")
    return solved.sketch


def moved_by(sketch: Sketch, curve: int, step: Point2) -> Sketch:
    held = {p: (sketch.points[p][0] + step[0], sketch.points[p][1] + step[1]) for p in sketch.curve(curve).points}
    solved = solve(sketch, held)
    if not solved.holds:
        raise EditError("the rules of the sketch do not let it go there", [f"c{curve}"], field="to")
    return solved.sketch
