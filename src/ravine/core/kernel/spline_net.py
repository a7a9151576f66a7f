"""A B-spline surface as plain arrays: many points at a time, where the kernel's calls go one by one.

Formulas: L. Piegl, W. Tiller, The NURBS Book, 2nd ed., algorithms 2.2, 2.3 and equation 4.20.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from OCP.collections import Array1_double, Array1_int, Array2_double, Array2_gp_Pnt
from OCP.Geom import Geom_BSplineSurface
from OCP.gp import gp_Pnt
from scipy.spatial import cKDTree

Floats = NDArray[np.float64]
PER_SPAN = 4  # places looked at in each span for where to begin a search
STEPS = 25
SMALL = 1e-8  # a last step of this size leaves an error of about its square
HIGHEST = 11  # degree


@dataclass(frozen=True)
class SplineNet:
    """poles (n, m, 4), homogeneous; knots: both full sequences, clamped; degrees; periods: 0 where there is none."""

    poles: Floats
    knots: tuple[Floats, Floats]
    degrees: tuple[int, int]
    periods: tuple[float, float]

    @classmethod
    def read(cls, surface: Geom_BSplineSurface) -> SplineNet | None:
        """None for one whose ends are not clamped, or of a degree whose powers lose too many digits."""
        periods = (
            surface.UPeriod() if surface.IsUPeriodic() else 0.0,
            surface.VPeriod() if surface.IsVPeriodic() else 0.0,
        )
        if any(periods):
            bounds = surface.Bounds()
            surface = surface.Copy()
            surface.Segment(*bounds)  # one turn, clamped
        poles = np.empty((surface.NbUPoles(), surface.NbVPoles(), 4))
        for i in range(poles.shape[0]):
            for j in range(poles.shape[1]):
                pole, weight = surface.Pole(i + 1, j + 1), surface.Weight(i + 1, j + 1)
                poles[i, j] = (pole.X() * weight, pole.Y() * weight, pole.Z() * weight, weight)
        u, v = (
            np.repeat([knot(i + 1) for i in range(count)], [times(i + 1) for i in range(count)]).astype(float)
            for knot, times, count in (
                (surface.UKnot, surface.UMultiplicity, surface.NbUKnots()),
                (surface.VKnot, surface.VMultiplicity, surface.NbVKnots()),
            )
        )
        found = cls(poles, (u, v), (surface.UDegree(), surface.VDegree()), periods)
        return found if found._is_plain(0) and found._is_plain(1) else None

    def _is_plain(self, along: int) -> bool:
        knots, degree = self.knots[along], self.degrees[along]
        if degree > HIGHEST:
            return False
        full = len(knots) == self.poles.shape[along] + degree + 1
        return full and bool(knots[0] == knots[degree] and knots[-1] == knots[-1 - degree])

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        u, v = self.knots
        return float(u[0]), float(u[-1]), float(v[0]), float(v[-1])

    @cached_property
    def size(self) -> float:
        """mm, of the box around the poles."""
        poles = self.poles[..., :3] / self.poles[..., 3:]
        return float(np.linalg.norm(np.ptp(poles.reshape(-1, 3), axis=0)))

    @cached_property
    def _box(self) -> tuple[Floats, Floats]:
        u0, u1, v0, v1 = self.bounds
        return np.array([u0, v0]), np.array([u1, v1])

    def surface(self) -> Geom_BSplineSurface:
        """Back into the kernel."""
        n, m = self.poles.shape[:2]
        poles, weights = Array2_gp_Pnt(1, n, 1, m), Array2_double(1, n, 1, m)
        for i in range(n):
            for j in range(m):
                x, y, z, w = self.poles[i, j].tolist()
                poles.SetValue(i + 1, j + 1, gp_Pnt(x / w, y / w, z / w))
                weights.SetValue(i + 1, j + 1, w)
        knots = [np.unique(k, return_counts=True) for k in self.knots]
        values, counts = [_doubles(k) for k, _ in knots], [_integers(c) for _, c in knots]
        if float(np.ptp(self.poles[..., 3])) < 1e-14 * float(self.poles[..., 3].max()):
            found = Geom_BSplineSurface(poles, *values, *counts, *self.degrees)
        else:
            found = Geom_BSplineSurface(poles, weights, *values, *counts, *self.degrees)
        if self.periods[0]:
            found.SetUPeriodic()
        if self.periods[1]:
            found.SetVPeriodic()
        return found

    # --- places ----------------------------------------------------------------------------------------------------

    @cached_property
    def _pieces(self) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats], Floats]:
        """For each direction the spans' beginnings and ends, and for every pair of spans the coefficients
        (spans, spans, p + 1, q + 1, 4) of its polynomial in parameters that run from -1 to 1."""
        rows, spans = self.poles, []
        for along in (0, 1):
            knots, degree = self.knots[along], self.degrees[along]
            ends = np.unique(knots)
            nodes = np.cos(np.pi * (np.arange(degree + 1) + 0.5) / (degree + 1))
            spans.append((ends[:-1], ends[1:]))
            values = (ends[:-1, None] + ends[1:, None] + (ends[1:] - ends[:-1])[:, None] * nodes) / 2
            basis, poles = _basis(knots, degree, values.reshape(-1))
            at = np.einsum("na,na...->n...", basis, rows[poles]).reshape(*values.shape, *rows.shape[1:])
            shaped = np.einsum("cd,sd...->sc...", np.linalg.inv(np.vander(nodes, degree + 1, increasing=True)), at)
            rows = np.moveaxis(shaped, 2, 0)  # what comes next to the front
        return spans[0], spans[1], rows.transpose(0, 1, 3, 2, 4).copy()

    def at(self, uv: Floats, order: int = 0) -> list[Floats]:
        """At parameters (n, 2): places (n, 3); with order 1 also the derivatives by u and v; with order 2 also by
        uu, uv and vv."""
        uv = self._inside(uv)
        *spans, coefficients = self._pieces
        powers, where = [], []
        for k, (low, high) in enumerate(spans):
            i = np.clip(np.searchsorted(low, uv[:, k], side="right") - 1, 0, len(low) - 1)
            rate = 2 / (high[i] - low[i])
            powers.append(_powers((uv[:, k] - low[i]) * rate - 1, rate, self.degrees[k], order))
            where.append(i)
        near = coefficients[where[0], where[1]]
        wanted = [(0, 0), (1, 0), (0, 1), (2, 0), (1, 1), (0, 2)][: (1, 3, 6)[order]]
        halves = [np.matmul(p[:, None, :], near.reshape(len(uv), near.shape[1], 4 * near.shape[2])) for p in powers[0]]
        halves = [h.reshape(len(uv), near.shape[2], 4) for h in halves]
        raw = {ij: np.matmul(powers[1][ij[1]][:, None, :], halves[ij[0]])[:, 0] for ij in wanted}
        w = raw[0, 0][:, 3:]
        place = raw[0, 0][:, :3] / w
        found = {(0, 0): place}
        if order:
            for ij in ((1, 0), (0, 1)):
                found[ij] = (raw[ij][:, :3] - raw[ij][:, 3:] * place) / w
        if order == 2:
            for ij, a, b in (((2, 0), (1, 0), (1, 0)), ((1, 1), (1, 0), (0, 1)), ((0, 2), (0, 1), (0, 1))):
                mixed = raw[a][:, 3:] * found[b] + raw[b][:, 3:] * found[a]
                found[ij] = (raw[ij][:, :3] - mixed - raw[ij][:, 3:] * place) / w
        return [found[ij] for ij in wanted]

    def _inside(self, uv: Floats) -> Floats:
        low, high = self._box
        found = uv.copy()
        for k, period in enumerate(self.periods):
            if period:
                found[:, k] = low[k] + (found[:, k] - low[k]) % period
        return np.minimum(np.maximum(found, low), high)

    @cached_property
    def starts(self) -> tuple[cKDTree, Floats]:
        """Places all over the surface, and their parameters (n, 2)."""
        rows = []
        for knots in self.knots:
            ends = np.unique(knots)
            rows.append(
                np.unique(np.concatenate([np.linspace(a, b, PER_SPAN + 1) for a, b in itertools.pairwise(ends)]))
            )
        uv = np.stack(np.meshgrid(*rows, indexing="ij"), axis=-1).reshape(-1, 2)
        return cKDTree(self.at(uv)[0]), uv

    def feet(self, points: Floats, near: Floats | None = None) -> tuple[Floats, NDArray[np.bool_]]:
        """Parameters (n, 2) of the nearest places, and which of them settled: Newton's method on the squared
        distance, kept inside the bounds.  near (n, 2): where to begin."""
        tree, uv0 = self.starts
        uv = uv0[tree.query(points)[1]].copy() if near is None else near.copy()
        low, high = self._box
        free = np.array([bool(p) for p in self.periods])
        low, high = np.where(free, -np.inf, low), np.where(free, np.inf, high)
        settled = np.zeros(len(points), bool)
        going = np.arange(len(points))
        came = np.zeros((len(points), 2))
        off = np.full(len(points), np.inf)
        for _ in range(STEPS):
            step, usable, away = self._step(points[going], uv[going], low, high)
            back = away > off[going] * (1 + 1e-9) + 1e-18  # a step that led away is halved
            step = np.where(back[:, None], -came[going] / 2, step)
            uv[going] += step
            came[going] = np.where(back[:, None], -step, step)
            off[going] = np.where(back, off[going], away)
            small = (np.abs(step) < SMALL * (1 + np.abs(uv[going]))).all(axis=1)
            settled[going[usable & small]] = True
            going = going[usable & ~small]
            if not len(going):
                break
        return uv, settled

    def _step(self, points: Floats, uv: Floats, low: Floats, high: Floats) -> tuple[Floats, NDArray[np.bool_], Floats]:
        """Where to go on (n, 2), whether that is any use, and the squares of the distances (n,)."""
        place, du, dv, duu, duv, dvv = self.at(uv, 2)
        gap = place - points
        f, g = _dot(gap, du), _dot(gap, dv)
        a, b, c = _dot(du, du) + _dot(gap, duu), _dot(du, dv) + _dot(gap, duv), _dot(dv, dv) + _dot(gap, dvv)
        flat = (a * c - b * b <= 0) | (a <= 0)  # no minimum near by: the first-order step leads towards one
        a, b, c = (np.where(flat, _dot(x, y), z) for x, y, z in ((du, du, a), (du, dv, b), (dv, dv, c)))
        det = a * c - b * b
        usable = det > 1e-300
        det = np.where(usable, det, 1.0)
        step = np.column_stack([(b * g - c * f) / det, (b * f - a * g) / det])
        most = (self._box[1] - self._box[0]) / 4
        step = np.minimum(np.maximum(step, -most), most)
        for k, (own, force) in enumerate(((c, g), (a, f))):  # beyond a border: its nearest place
            over = (uv[:, k] + step[:, k] < low[k]) | (uv[:, k] + step[:, k] > high[k])
            if over.any():
                step[:, k] = np.clip(uv[:, k] + step[:, k], low[k], high[k]) - uv[:, k]
                other = np.clip(-(force + b * step[:, k]) / np.where(own > 1e-300, own, 1.0), -most[1 - k], most[1 - k])
                step[:, 1 - k] = np.where(over, other, step[:, 1 - k])
                step[:, 1 - k] = np.clip(uv[:, 1 - k] + step[:, 1 - k], low[1 - k], high[1 - k]) - uv[:, 1 - k]
        return np.where(usable[:, None], step, 0.0), usable, _dot(gap, gap)

    def normals(self, uv: Floats) -> tuple[Floats, Floats]:
        """Places and natural unit normals (n, 3), zero where the surface has none."""
        place, du, dv = self.at(uv, 1)
        normal = np.cross(du, dv)
        size = np.linalg.norm(normal, axis=1, keepdims=True)
        return place, np.where(size > 1e-14, normal / np.maximum(size, 1e-14), 0.0)


def _dot(a: Floats, b: Floats) -> Floats:
    return np.einsum("ni,ni->n", a, b)


def _basis(knots: Floats, degree: int, values: Floats) -> tuple[Floats, NDArray[np.int64]]:
    """Basis functions (n, degree + 1), and the poles (n, degree + 1) they belong to."""
    span = np.clip(np.searchsorted(knots, values, side="right") - 1, degree, len(knots) - degree - 2)
    row = np.ones((len(values), 1))
    for p in range(1, degree + 1):
        last, row = row, np.zeros((len(values), p + 1))
        for j in range(p):
            right, left = knots[span + j + 1], knots[span + j + 1 - p]
            share = last[:, j] / (right - left)
            row[:, j] += (right - values) * share
            row[:, j + 1] += (values - left) * share
    return row, span[:, None] + np.arange(-degree, 1)


def _powers(t: Floats, rate: Floats, degree: int, order: int) -> list[Floats]:
    """1, t, t² … (n, degree + 1) and their derivatives up to `order`, where t grows by `rate` a unit."""
    found = [np.vander(t, degree + 1, increasing=True)]
    for k in range(1, order + 1):
        row = np.zeros_like(found[0])
        row[:, 1:] = found[k - 1][:, :-1] * np.arange(1, degree + 1) * rate[:, None]
        found.append(row)
    return found


def _doubles(values: Floats) -> Array1_double:
    found = Array1_double(1, len(values))
    for i, value in enumerate(values.tolist(), 1):
        found.SetValue(i, value)
    return found


def _integers(values: NDArray[np.int64]) -> Array1_int:
    found = Array1_int(1, len(values))
    for i, value in enumerate(values.tolist(), 1):
        found.SetValue(i, value)
    return found
