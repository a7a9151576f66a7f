"""Edges laid flat as curves in the plane: lines and arcs where they are, else splines; and what their loops enclose."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence

import numpy as np
from scipy.interpolate import CubicSpline

from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..sketch.loops import followed
from ..sketch.plane_curves import TURN, ZERO, PlaneCurve

CLOSE = 1e-7  # mm, how near a line or an arc must be to what it stands for
WITHIN = 1e-6  # mm, of a spline
MOST = 1024  # places on a spline
GAUSS = np.polynomial.legendre.leggauss(4)

Mapping = Callable[[Floats], Floats]


def flat_curve(topology: SolidTopology, edge: int, flat: Mapping) -> PlaneCurve:
    """flat: of points (n, 3) to places (n, 2), without jumps along the edge."""
    places = flat(topology.samples(edge, 9))
    size = float(np.ptp(places, axis=0).max()) or 1.0
    start, step = places[0], places[-1] - places[0]
    length = float(np.hypot(*step))
    if length > CLOSE:
        off = np.abs((places - start) @ np.array([-step[1], step[0]])) / length
        if off.max() < max(CLOSE, 1e-10 * size):
            return line(start, places[-1])
    return _arc(places, size) or _spline(topology, edge, flat)


def line(a: Floats, b: Floats) -> PlaneCurve:
    return PlaneCurve(0, "line", 0.0, 1.0, a, b - a, ZERO)


def _arc(places: Floats, size: float) -> PlaneCurve | None:
    """The circle through them in the least squares (Kåsa), where they all lie on it."""
    middle = places.mean(axis=0)
    w = places - middle
    rows = np.column_stack([2 * w, np.ones(len(w))])
    (cx, cy, c), *_ = np.linalg.lstsq(rows, (w**2).sum(axis=1), rcond=None)
    radius = float(np.sqrt(max(c + cx**2 + cy**2, 0.0)))
    centre = np.array([cx, cy])
    if not 0 < radius < 1e5 * size or np.abs(np.hypot(*(w - centre).T) - radius).max() > max(CLOSE, 1e-9 * radius):
        return None
    turn = np.unwrap(np.arctan2(*(w - centre).T[::-1]))
    first, last = float(turn[0]), float(turn[-1])
    if last < first:
        first, last = last, first
    if last - first > TURN - 1e-6:
        last = first + TURN
    return PlaneCurve(0, "round", first, last, middle + centre, np.array([radius, 0.0]), np.array([0.0, radius]))


def _spline(topology: SolidTopology, edge: int, flat: Mapping) -> PlaneCurve:
    count = 16
    while True:
        places = flat(topology.samples(edge, 2 * count + 1))
        spline = CubicSpline(np.arange(count + 1.0), places[::2])
        if count >= MOST or np.abs(spline(np.arange(count) + 0.5) - places[1::2]).max() < WITHIN:
            return PlaneCurve(0, "spline", 0.0, float(count), places[0], ZERO, ZERO, spline)
        count *= 2


def area_of(loop: Sequence[PlaneCurve]) -> float:
    """mm², positive counterclockwise, in the order in which the curves follow one another (Green's theorem)."""
    total = 0.0
    for curve, back in followed(loop):
        sense = -1.0 if back else 1.0
        if curve.kind == "line":
            a, b = curve.at(np.array([0.0, 1.0]))
            total += sense * float(a[0] * b[1] - a[1] * b[0])
        elif curve.kind == "round":
            a, b = curve.at(np.array([curve.first, curve.last]))
            swing, r = curve.last - curve.first, curve.radius
            bulge = curve.centre[0] * (b[1] - a[1]) - curve.centre[1] * (b[0] - a[0])
            total += sense * float(r * r * swing + bulge)
        else:
            knots = curve.spline.x
            for low, high in itertools.pairwise(knots):
                t = (low + high) / 2 + (high - low) / 2 * GAUSS[0]
                p, d = curve.at(t), curve.slope(t)
                total += sense * float((high - low) / 2 * GAUSS[1] @ (p[:, 0] * d[:, 1] - p[:, 1] * d[:, 0]))
    return total / 2


def length_of(curve: PlaneCurve) -> float:
    """mm."""
    if curve.kind == "line":
        return curve.radius
    if curve.kind == "round":
        return (curve.last - curve.first) * curve.radius
    knots = curve.spline.x
    t = (knots[:-1, None] + knots[1:, None]) / 2 + (np.diff(knots) / 2)[:, None] * GAUSS[0]
    speed = np.hypot(*curve.slope(t.ravel()).T).reshape(t.shape)
    return float(((np.diff(knots) / 2) * (speed @ GAUSS[1])).sum())
