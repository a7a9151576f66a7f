"""The area that a curve sweeps, seen from the origin: half the integral of r × dr.

Summed around a plane region it is its area vector (Stokes), whatever the origin.  In closed form along lines and
conics, by Gauss points between the knots of a spline: exact for polynomial ones, since the integrand is one degree
below twice theirs.
"""

from __future__ import annotations

import numpy as np
from OCP.Geom import Geom_BSplineCurve, Geom_TrimmedCurve
from scipy.interpolate import BSpline

from .carriers import CurveData, Floats, GeomHandle, cross, curve_points

MOST_GAUSS = 8  # points a span, for curves that are no polynomials


def swept_area(curve: CurveData, first: float, last: float) -> Floats:
    """(3,), mm², from `first` to `last`; none of an edge that has shrunk to a point."""
    if curve.kind == "none":
        return np.zeros(3)
    frame = curve.frame
    if frame is None:
        return _along_spline(curve.handle, first, last)
    if curve.kind == "line":
        return (last - first) / 2 * cross(frame.origin, frame.z)
    a, b = curve.numbers[0], curve.numbers[-1]
    start, end = curve_points(curve, np.array([first, last]))
    return (cross(frame.origin, end - start) + a * b * (last - first) * cross(frame.x, frame.y)) / 2


def _along_spline(handle: GeomHandle, first: float, last: float) -> Floats:
    while isinstance(handle, Geom_TrimmedCurve):
        handle = handle.BasisCurve()
    if isinstance(handle, Geom_BSplineCurve) and not handle.IsPeriodic():
        ends = [handle.Knot(i + 1) for i in range(handle.NbKnots())]
        count = MOST_GAUSS if handle.IsRational() else max(handle.Degree(), 1)
        t, weights = _gauss(first, last, ends, count)
        place, way = _evaluated(handle, ends, t)
    else:
        t, weights = _gauss(first, last, np.linspace(first, last, 17).tolist(), MOST_GAUSS)
        place, way = np.empty((len(t), 3)), np.empty((len(t), 3))
        for i, value in enumerate(t.tolist()):
            spot, slope = handle.Value(value), handle.DN(value, 1)
            place[i], way[i] = (spot.X(), spot.Y(), spot.Z()), (slope.X(), slope.Y(), slope.Z())
    return np.asarray((np.cross(place, way) * weights[:, None]).sum(axis=0) / 2)


def _gauss(first: float, last: float, knots: list[float], count: int) -> tuple[Floats, Floats]:
    """Parameters (n,) between the knots with their weights."""
    nodes, weights = np.polynomial.legendre.leggauss(count)
    cuts = np.array([first, *(k for k in knots if first + 1e-12 < k < last - 1e-12), last])
    half = (cuts[1:] - cuts[:-1])[:, None] / 2
    return ((cuts[1:] + cuts[:-1])[:, None] / 2 + half * nodes).reshape(-1), (half * weights).reshape(-1)


def _evaluated(handle: Geom_BSplineCurve, ends: list[float], t: Floats) -> tuple[Floats, Floats]:
    """Places and derivatives (n, 3)."""
    poles = np.empty((handle.NbPoles(), 4))
    for i in range(len(poles)):
        pole, weight = handle.Pole(i + 1), handle.Weight(i + 1)
        poles[i] = (pole.X() * weight, pole.Y() * weight, pole.Z() * weight, weight)
    knots = np.repeat(ends, [handle.Multiplicity(i + 1) for i in range(len(ends))])
    spline = BSpline(knots, poles, handle.Degree())
    raw, slope = spline(t), spline(t, 1)
    place = raw[:, :3] / raw[:, 3:]
    return place, (slope[:, :3] - slope[:, 3:] * place) / raw[:, 3:]
