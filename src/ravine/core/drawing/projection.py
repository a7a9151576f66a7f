"""The plane of a view, and curves in space as they are seen in it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.interpolate import CubicSpline, PPoly

from ..kernel.carriers import CurveData, curve_points
from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnView
from ..sketch.plane_curves import ZERO, PlaneCurve

SHORTEST = 1e-5  # mm, below which what is seen of a curve is a mere point
WITHIN = 1e-4  # mm, of a spline to the curve that it stands for
FOLLOWED = 1e-4  # of its radius, how far an outline may lie off the circle that it is
MOST = 512  # places on a spline


@dataclass(frozen=True, eq=False)
class ViewFrame:
    """right, up, eye: unit directions in the model; about: the place that is the middle of the view's own plane."""

    right: Floats
    up: Floats
    eye: Floats
    about: Floats

    @classmethod
    def of(cls, view: DrawnView) -> ViewFrame:
        eye, right = np.array(view.eye), np.array(view.right)
        return cls(right, np.cross(eye, right), eye, np.array(view.about))

    def flat(self, places: Floats) -> Floats:
        """(n, 3) in the model to (n, 2) in the plane, mm."""
        off = np.atleast_2d(places) - self.about
        return np.column_stack([off @ self.right, off @ self.up])

    def depth(self, places: Floats) -> Floats:
        """Towards the eye, mm."""
        return np.asarray((np.atleast_2d(places) - self.about) @ self.eye)

    def way(self, direction: Floats) -> Floats:
        """A direction, as it is seen: (2,), shorter where it runs into the paper."""
        return np.array([direction @ self.right, direction @ self.up])

    def place(self, flat: Floats) -> Floats:
        """In the plane through `about`: (2,) to (3,)."""
        return np.asarray(self.about + flat[0] * self.right + flat[1] * self.up)


def seen_curve(
    curve: CurveData, first: float, last: float, frame: ViewFrame, outline: bool = False
) -> PlaneCurve | None:
    """In the view's plane, running the same way by the same parameter; None for what is seen as a point.  Circles seen
    from the side become lines, from askew ellipses by their axes.  outline: it is one that the kernel followed, which
    is only near to where it should be."""
    if curve.kind == "none" or last - first < 1e-12:
        return None
    if curve.kind == "line":
        return segment(*frame.flat(curve_points(curve, np.array([first, last]))))
    if curve.frame is None:
        return _spline(first, last, lambda t: frame.flat(curve_points(curve, t)), outline)
    centre = frame.flat(curve.frame.origin)[0]
    a = curve.numbers[0] * frame.way(curve.frame.x)
    b = curve.numbers[-1] * frame.way(curve.frame.y)
    u, sizes, v = np.linalg.svd(np.column_stack([a, b]))
    if sizes[1] < 1e-6 * sizes[0]:
        return _edge_on(centre, a, b, first, last)
    turn = math.atan2(v[0, 1], v[0, 0])  # the parameter at which the longer half axis is reached
    x, y = u[:, 0] * sizes[0], u[:, 1] * sizes[1]
    if np.linalg.det(v) < 0:
        y = -y
    low, high = first - turn, last - turn
    if x[0] * y[1] - x[1] * y[0] < 0:  # seen from behind
        y, low, high = -y, -high, -low
    if sizes[0] - sizes[1] < 1e-9 * sizes[0]:
        lean = math.atan2(x[1], x[0])
        r = float(sizes[0])
        return PlaneCurve(0, "round", low + lean, high + lean, centre, np.array([r, 0.0]), np.array([0.0, r]))
    return PlaneCurve(0, "ellipse", low, high, centre, x, y)


def segment(a: Floats, b: Floats) -> PlaneCurve | None:
    return PlaneCurve(0, "line", 0.0, 1.0, a, b - a, ZERO) if math.hypot(*(b - a)) > SHORTEST else None


def _edge_on(centre: Floats, a: Floats, b: Floats, first: float, last: float) -> PlaneCurve | None:
    """A round whose plane holds the eye: as far as it reaches to both sides."""
    along = a if np.hypot(*a) > np.hypot(*b) else b
    along = along / np.hypot(*along)
    p, q = float(a @ along), float(b @ along)
    peak = math.atan2(q, p)
    inner = [t for k in range(-4, 9) if first < (t := peak + k * math.pi) < last]
    reach = [p * math.cos(t) + q * math.sin(t) for t in (first, last, *inner)]
    return segment(centre + min(reach) * along, centre + max(reach) * along)


def _spline(first: float, last: float, at: Callable[[Floats], Floats], outline: bool) -> PlaneCurve | None:
    count = 8
    while True:
        knots = np.linspace(first, last, count + 1)
        places = at(knots)
        if float(np.ptp(places, axis=0).max()) < SHORTEST:
            return None
        closed = math.hypot(*(places[0] - places[-1])) < SHORTEST
        if closed:
            places[-1] = places[0]
        spline = CubicSpline(np.arange(count + 1), places, bc_type="periodic" if closed else "not-a-knot")
        off = np.hypot(*(at((knots[1:] + knots[:-1]) / 2) - spline(np.arange(count) + 0.5)).T).max()
        if off < WITHIN or count >= MOST:
            chord = segment(places[0], places[-1])
            if chord is not None and not closed and _straight(places):
                return chord
            found = _on_circle(places, closed, FOLLOWED if outline else 0.0)
            return found or PlaneCurve(0, "spline", 0.0, float(count), places[0], ZERO, ZERO, spline)
        count *= 2


def _on_circle(places: Floats, closed: bool, slack: float) -> PlaneCurve | None:
    """An arc where all places lie on one: what is seen of a ring along its axis comes as a spline.
    slack: of the radius."""
    near = places - places.mean(axis=0)
    if len(near) < 5 or np.linalg.matrix_rank(near, tol=WITHIN) < 2:
        return None
    solved = np.linalg.lstsq(np.column_stack([2 * near, np.ones(len(near))]), (near**2).sum(axis=1), rcond=None)[0]
    centre = places.mean(axis=0) + solved[:2]
    off = places - centre
    radius = float(np.hypot(*off.T).mean())
    if np.abs(np.hypot(*off.T) - radius).max() > max(WITHIN / 10, slack * radius):
        return None
    turns = np.unwrap(np.arctan2(off[:, 1], off[:, 0]))
    if not (np.all(np.diff(turns) > 0) or np.all(np.diff(turns) < 0)):
        return None
    first, last = sorted((float(turns[0]), float(turns[-1])))
    last = first + 2 * math.pi if closed else last
    return PlaneCurve(0, "round", first, last, centre, np.array([radius, 0.0]), np.array([0.0, radius]))


def _straight(places: Floats) -> bool:
    way = places[-1] - places[0]
    way = way / np.hypot(*way)
    off = places - places[0]
    along = off @ way
    return bool(np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]).max() < WITHIN and np.all(np.diff(along) > 0))


def on_paper(curve: PlaneCurve, scale: float, shift: Floats) -> PlaneCurve:
    """Enlarged about the middle of the view's plane, then moved (mm)."""
    spline = curve.spline
    if spline is not None:
        numbers = scale * np.array(spline.c)
        numbers[-1] += shift
        spline = PPoly(numbers, spline.x)
    return replace(
        curve, centre=scale * curve.centre + shift, x=scale * curve.x, y=scale * curve.y, spline=spline
    )  # fmt: skip
