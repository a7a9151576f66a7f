"""Curves of a sketch as places by a parameter, and where they cross.

Lines run over 0…1, rounds over their angle in rad (an arc from its start angle up, counterclockwise), ellipses over
the angle of their own equation, splines over the number of their point.  Points are (n, 2) arrays in mm.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..lazy import later
from ..tolerances import TOUCHING
from .entities import Curve, Sketch
from .lettering import outlines

interpolate = later("scipy.interpolate")

Floats = NDArray[np.float64]
TURN = 2 * np.pi


@dataclass(frozen=True, eq=False)
class PlaneCurve:
    """kind: line, round (full or part), ellipse or spline; numbers: see the makers below."""

    id: int
    kind: str
    first: float
    last: float
    centre: Floats
    x: Floats  # line: end − start; round, ellipse: first half axis
    y: Floats  # round, ellipse: second half axis
    spline: Any = None

    @property
    def closed(self) -> bool:
        if self.kind == "spline":
            return bool(np.linalg.norm(np.subtract(*self.at(np.array([self.first, self.last])))) < TOUCHING)
        return self.kind != "line" and self.last - self.first > TURN - 1e-9

    @property
    def radius(self) -> float:
        """Of a round; the length of a line."""
        return float(np.linalg.norm(self.x))

    def at(self, t: Floats) -> Floats:
        if self.kind == "line":
            return self.centre + t[:, None] * self.x
        if self.spline is not None:
            return self.spline(t)
        return self.centre + np.cos(t)[:, None] * self.x + np.sin(t)[:, None] * self.y

    def slope(self, t: Floats) -> Floats:
        if self.kind == "line":
            return np.repeat(self.x[None], len(t), axis=0)
        if self.spline is not None:
            return self.spline(t, 1)
        return -np.sin(t)[:, None] * self.x + np.cos(t)[:, None] * self.y

    def steps(self, first: float, last: float, fine: bool = False) -> Floats:
        """Parameters (n,) close enough together to draw the piece, or to integrate along it."""
        if self.kind == "line":
            return np.array([first, last])
        if self.spline is not None:
            count = max(2, int(np.ceil(abs(last - first) * (24 if fine else 12))))
        else:
            count = max(3, int(np.ceil(abs(last - first) / TURN * (256 if fine else 64))))
        return np.linspace(first, last, count + 1)

    @cached_property
    def line(self) -> tuple[Floats, Floats]:
        """The whole as parameters and places."""
        t = self.steps(self.first, self.last)
        return t, self.at(t)

    @cached_property
    def box(self) -> Floats:
        """x, y, x, y; a little wide for bent ones."""
        places = self.line[1]
        low, high = places.min(axis=0), places.max(axis=0)
        slack = 0.0 if self.kind == "line" else 0.02 * float((high - low).max())
        return np.array([*(low - slack), *(high + slack)])

    def nearest(self, place: Floats) -> float:
        """Parameter of the nearest place."""
        if self.kind == "line":
            size = float(self.x @ self.x) or 1.0
            return float(np.clip((place - self.centre) @ self.x / size, 0, 1))
        if self.kind == "round":
            gap = place - self.centre
            angle = float(np.arctan2(gap @ self.y, gap @ self.x))
            angle = self.first + (angle - self.first) % TURN
            if angle <= self.last:
                return angle
            return self.last if angle - self.last < self.first + TURN - angle else self.first
        t, places = self.line
        at = int(np.argmin(np.linalg.norm(places - place, axis=1)))
        low, high = t[max(at - 1, 0)], t[min(at + 1, len(t) - 1)]
        for _ in range(60):  # golden section
            a, b = high - 0.618034 * (high - low), low + 0.618034 * (high - low)
            here, there = self.at(np.array([a, b])) - place
            low, high = (low, b) if here @ here < there @ there else (a, high)
        return float((low + high) / 2)

    def holds(self, t: float) -> bool:
        return self.first - 1e-9 <= t <= self.last + 1e-9

    def parameter(self, place: Floats) -> float | None:
        """Of a place on the curve; None where it lies off it."""
        if self.kind not in ("line", "round"):
            samples, places = self.line
            away = np.hypot(*(places - place).T)
            for end in (0, -1):
                if away[end] < TOUCHING:
                    return float(samples[end])
            if away.min() > 1.5 * float(np.hypot(*np.diff(places, axis=0).T).max()):  # well beyond the drawn line
                return None
        t = self.nearest(place)
        return t if float(np.linalg.norm(self.at(np.array([t]))[0] - place)) < TOUCHING else None


ZERO = np.zeros(2)


def plane_curve(sketch: Sketch, curve: Curve) -> PlaneCurve | None:
    """None for a dot, for text, which is many, and for what has shrunk to nothing."""
    found = _whole(sketch, curve)
    return found if found is None or curve.span is None else replace(found, first=curve.span[0], last=curve.span[1])


def _whole(sketch: Sketch, curve: Curve) -> PlaneCurve | None:
    places = [np.array(p) for p in sketch.places(curve)]
    if curve.kind == "line":
        step = places[1] - places[0]
        return PlaneCurve(curve.id, "line", 0.0, 1.0, places[0], step, ZERO) if math.hypot(*step) > TOUCHING else None
    if curve.kind == "circle":
        if curve.size < TOUCHING:
            return None
        return PlaneCurve(curve.id, "round", 0.0, TURN, places[0], np.array([curve.size, 0]), np.array([0, curve.size]))
    if curve.kind == "arc":
        if curve.size < TOUCHING:
            return None
        first, last = (float(np.arctan2(*(p - places[0])[::-1])) for p in places[1:])
        last = first + ((last - first) % TURN or TURN)
        r = curve.size
        return PlaneCurve(curve.id, "round", first, last, places[0], np.array([r, 0.0]), np.array([0.0, r]))
    if curve.kind == "ellipse":
        x = places[1] - places[0]
        size = float(np.linalg.norm(x))
        if size < TOUCHING or curve.size < TOUCHING:
            return None
        y = np.array([-x[1], x[0]]) / size * curve.size
        return PlaneCurve(curve.id, "ellipse", 0.0, TURN, places[0], x, y)
    if curve.kind == "spline":
        rows = np.array(places)
        if len(rows) < 2 or np.linalg.norm(np.diff(rows, axis=0), axis=1).min() < TOUCHING:
            return None
        closed = curve.points[0] == curve.points[-1] and len(rows) > 3
        spline = interpolate.CubicSpline(np.arange(len(rows)), rows, bc_type="periodic" if closed else "not-a-knot")
        return PlaneCurve(curve.id, "spline", 0.0, float(len(rows) - 1), rows[0], ZERO, ZERO, spline)
    return None


def plane_curves(sketch: Sketch, constructions: bool = False) -> list[PlaneCurve]:
    return [f for c in sketch.curves.values() if constructions or not c.construction for f in flats_of(sketch, c)]


def flats_of(sketch: Sketch, curve: Curve) -> list[PlaneCurve]:
    """One for most kinds, none for a dot, many for text."""
    if curve.kind == "text":
        return [flat for outline in text_outlines(sketch, curve) for flat in outline]
    found = plane_curve(sketch, curve)
    return [] if found is None else [found]


def drawn_lines(sketch: Sketch, curve: Curve) -> list[Floats]:
    """Places (n, 2) to draw a curve through; a text has one row for each outline of its letters."""
    if curve.kind != "text":
        return [flat.line[1] for flat in flats_of(sketch, curve)]
    return [np.concatenate([flat.line[1] for flat in outline]) for outline in text_outlines(sketch, curve)]


def text_outlines(sketch: Sketch, curve: Curve) -> list[list[PlaneCurve]]:
    """Of the letters of a text, each closed."""
    (ox, oy), (tx, ty) = sketch.places(curve)
    reach = float(np.hypot(tx - ox, ty - oy))
    if reach < TOUCHING or abs(curve.size) < TOUCHING:
        return []
    along = np.array([tx - ox, ty - oy]) / reach
    turn = abs(curve.size) * np.column_stack([along, np.sign(curve.size) * np.array([-along[1], along[0]])])
    found = []
    for outline in outlines(curve.words, curve.font):
        row = []
        for piece in outline:
            places = piece @ turn.T + (ox, oy)
            if len(places) == 2:
                row.append(PlaneCurve(curve.id, "line", 0.0, 1.0, places[0], places[1] - places[0], ZERO))
            else:
                slopes = 3 * np.array([places[1] - places[0], places[3] - places[2]])
                bent = interpolate.CubicHermiteSpline([0.0, 1.0], places[[0, 3]], slopes)
                row.append(PlaneCurve(curve.id, "spline", 0.0, 1.0, places[0], ZERO, ZERO, bent))
        found.append(row)
    return found


def crossings(a: PlaneCurve, b: PlaneCurve) -> list[tuple[float, float]]:
    """Parameters on both where they cross or touch; for lines that overlap the ends of the overlap."""
    if a.kind == "line" and b.kind == "line":
        return lines_cross([a], [b])[0]
    if a.kind == "line" and b.kind == "round":
        return _line_round(a, b)
    if a.kind == "round" and b.kind == "line":
        return [(s, t) for t, s in _line_round(b, a)]
    if a.kind == "round" and b.kind == "round":
        return _round_round(a, b)
    return _by_search(a, b)


def own_crossings(curve: PlaneCurve) -> list[tuple[float, float]]:
    """Where a spline crosses itself: both parameters.  Spans that follow one another are taken not to."""
    if curve.spline is None or curve.last - curve.first < 2:
        return []
    knots = [curve.first, *np.arange(math.floor(curve.first) + 1, curve.last - 1e-9).tolist(), curve.last]
    spans = [replace(curve, first=a, last=b) for a, b in itertools.pairwise(knots)]
    boxes = np.array([s.box for s in spans])
    found = []
    for i, j in itertools.combinations(range(len(spans)), 2):
        if j == i + 1 or (boxes[i, :2] > boxes[j, 2:]).any() or (boxes[j, :2] > boxes[i, 2:]).any():
            continue
        met = _by_search(spans[i], spans[j])
        found += [(t, s) for t, s in met if not (curve.closed and t - curve.first < 1e-7 and curve.last - s < 1e-7)]
    return found


def lines_cross(a: Sequence[PlaneCurve], b: Sequence[PlaneCurve]) -> list[list[tuple[float, float]]]:
    """The crossings of each line of one list with its fellow in the other."""
    if not a:
        return []
    u, v = np.array([c.x for c in a]), np.array([c.x for c in b])
    gap = np.array([c.centre for c in b]) - np.array([c.centre for c in a])
    size_u, size_v = np.hypot(*u.T), np.hypot(*v.T)
    cross = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    parallel = np.abs(cross) <= 1e-9 * size_u * size_v
    cross = np.where(parallel, 1.0, cross)
    t = (gap[:, 0] * v[:, 1] - gap[:, 1] * v[:, 0]) / cross
    s = (gap[:, 0] * u[:, 1] - gap[:, 1] * u[:, 0]) / cross
    slack_t, slack_s = TOUCHING / size_u, TOUCHING / size_v
    inside = (t >= -slack_t) & (t <= 1 + slack_t) & (s >= -slack_s) & (s <= 1 + slack_s)
    t, s = np.clip(t, 0.0, 1.0), np.clip(s, 0.0, 1.0)
    return [
        _shared_ends(a[k], b[k]) if parallel[k] else [(float(t[k]), float(s[k]))] if inside[k] else []
        for k in range(len(a))
    ]


def _shared_ends(a: PlaneCurve, b: PlaneCurve) -> list[tuple[float, float]]:
    """Ends of one that lie on the other."""
    found = []
    for t in (a.first, a.last):
        s = b.parameter(a.at(np.array([t]))[0])
        if s is not None:
            found.append((t, s))
    for s in (b.first, b.last):
        t_on = a.parameter(b.at(np.array([s]))[0])
        if t_on is not None:
            found.append((t_on, s))
    return found


def _on_both(a: PlaneCurve, b: PlaneCurve, places: list[Floats]) -> list[tuple[float, float]]:
    found = []
    for place in places:
        t, s = a.parameter(place), b.parameter(place)
        if t is not None and s is not None:
            found.append((t, s))
    return found


def _line_round(a: PlaneCurve, b: PlaneCurve) -> list[tuple[float, float]]:
    size = float(np.hypot(*a.x))
    along = a.x / size
    foot = a.centre + ((b.centre - a.centre) @ along) * along
    off = float(np.hypot(*(foot - b.centre)))
    if off > b.radius + TOUCHING:
        return []
    half = float(np.sqrt(max(b.radius**2 - off**2, 0.0)))
    places = [foot] if half < 1e-4 and abs(off - b.radius) < TOUCHING else [foot - half * along, foot + half * along]
    return [*_on_both(a, b, places), *_shared_ends(a, b)]


def _round_round(a: PlaneCurve, b: PlaneCurve) -> list[tuple[float, float]]:
    gap = b.centre - a.centre
    apart = float(np.hypot(*gap))
    if apart < TOUCHING:
        return _shared_ends(a, b) if abs(a.radius - b.radius) < TOUCHING else []
    if apart > a.radius + b.radius + TOUCHING or apart < abs(a.radius - b.radius) - TOUCHING:
        return []
    along = (apart**2 + a.radius**2 - b.radius**2) / (2 * apart)
    half = float(np.sqrt(max(a.radius**2 - along**2, 0.0)))
    u = gap / apart
    v = np.array([-u[1], u[0]])
    foot = a.centre + along * u
    places = [a.centre + np.sign(along) * a.radius * u] if half < 1e-4 else [foot - half * v, foot + half * v]
    return [*_on_both(a, b, places), *_shared_ends(a, b)]


def _by_search(a: PlaneCurve, b: PlaneCurve) -> list[tuple[float, float]]:
    """Where the drawn lines cross, made exact by Newton's method."""
    (ta, pa), (tb, pb) = a.line, b.line
    d, e = np.diff(pa, axis=0), np.diff(pb, axis=0)
    gap = pb[None, :-1] - pa[:-1, None]
    cross = d[:, None, 0] * e[None, :, 1] - d[:, None, 1] * e[None, :, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (gap[..., 0] * e[None, :, 1] - gap[..., 1] * e[None, :, 0]) / cross
        s = (gap[..., 0] * d[:, None, 1] - gap[..., 1] * d[:, None, 0]) / cross
    found: list[tuple[float, float]] = []
    for i, j in np.argwhere((t > -0.1) & (t < 1.1) & (s > -0.1) & (s < 1.1)):
        x = ta[i] + t[i, j] * (ta[i + 1] - ta[i])
        y = tb[j] + s[i, j] * (tb[j + 1] - tb[j])
        for _ in range(12):
            miss = (a.at(np.array([x])) - b.at(np.array([y])))[0]
            u, v = a.slope(np.array([x]))[0], b.slope(np.array([y]))[0]
            det = float(u[1] * v[0] - u[0] * v[1])
            if abs(det) < 1e-12:
                break
            x, y = x - (-miss[0] * v[1] + miss[1] * v[0]) / det, y - (-miss[0] * u[1] + miss[1] * u[0]) / det
            x, y = min(max(x, a.first), a.last), min(max(y, b.first), b.last)
        miss = (a.at(np.array([x])) - b.at(np.array([y])))[0]
        if np.hypot(*miss) < TOUCHING and all(abs(x - p) + abs(y - q) > 1e-7 for p, q in found):
            found.append((float(x), float(y)))
    return [*found, *_shared_ends(a, b)]
