"""A tree of boxes around triangles: where rays first meet them, and which one is nearest.

Whole sets of rays or places go down the tree together, so that the work at each box is one array operation.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from ..local.surfaces import Floats

Ints = NDArray[np.int64]
LEAF = 24  # triangles


class TriangleTree:
    """corners: (n, 3, 3), mm."""

    def __init__(self, corners: Floats) -> None:
        self.corners = corners
        self.order = np.arange(len(corners))
        self._low, self._high = corners.min(axis=1), corners.max(axis=1)
        self._middles = corners.mean(axis=1)
        self.nodes: list[tuple[Floats, Floats, int, int, int, int]] = []  # low, high, first, last, left, right
        if len(corners):
            self._build(0, len(corners))

    def _build(self, first: int, last: int) -> int:
        rows = self.order[first:last]
        number = len(self.nodes)
        low, high = self._low[rows].min(axis=0), self._high[rows].max(axis=0)
        self.nodes.append((low, high, first, last, -1, -1))
        if last - first > LEAF:
            axis = int(np.argmax(np.ptp(self._middles[rows], axis=0)))
            half = (last - first) // 2
            self.order[first:last] = rows[np.argpartition(self._middles[rows, axis], half)]
            left = self._build(first, first + half)
            right = self._build(first + half, last)
            self.nodes[number] = (low, high, first, last, left, right)
        return number

    # --- rays ------------------------------------------------------------------------------------------------------

    def first_hits(self, origins: Floats, directions: Floats, beyond: Floats) -> Floats:
        """How far (mm) along unit directions (n, 3) each ray meets a triangle farther away than its `beyond` (n,); inf
        where it meets none."""
        best = np.full(len(origins), np.inf)
        if not self.nodes or not len(origins):
            return best
        with np.errstate(divide="ignore", invalid="ignore"):
            inverse = 1.0 / directions
        turn, shift = self._unit
        stack: list[tuple[int, Ints]] = [(0, np.arange(len(origins)))]
        while stack:
            number, rays = stack.pop()
            low, high, first, last, left, right = self.nodes[number]
            start, slope = origins[rays], inverse[rays]
            with np.errstate(invalid="ignore"):
                a, b = (low - start) * slope, (high - start) * slope
            enter = _of_three(np.fmax, np.minimum(a, b))
            leave = _of_three(np.fmin, np.maximum(a, b))
            rays = rays[(enter <= leave + 1e-9) & (leave >= beyond[rays]) & (enter <= best[rays])]
            if not len(rays):
                continue
            if left >= 0:
                stack += [(left, rays), (right, rays)]
                continue
            some = self.order[first:last]
            found = _crossings(turn[some], shift[some], origins[rays], directions[rays])
            found[found <= beyond[rays, None]] = np.inf
            best[rays] = np.minimum(best[rays], found.min(axis=1))
        return best

    @cached_property
    def _unit(self) -> tuple[Floats, Floats]:
        return _to_unit(self.corners)

    # --- nearest ---------------------------------------------------------------------------------------------------

    def nearest(self, places: Floats) -> tuple[Floats, Ints]:
        """Distance (mm) from each place (n, 3) to the nearest triangle, and which."""
        start = cKDTree(self._middles).query(places)[1]
        best = to_triangle(places, self.corners[start])
        which = start.astype(np.int64)
        stack: list[tuple[int, Ints]] = [(0, np.arange(len(places)))]
        while stack:
            number, rows = stack.pop()
            low, high, first, last, left, right = self.nodes[number]
            away = np.linalg.norm(np.maximum(np.maximum(low - places[rows], places[rows] - high), 0), axis=1)
            rows = rows[away < best[rows]]
            if not len(rows):
                continue
            if left >= 0:
                stack += [(left, rows), (right, rows)]
                continue
            for triangle in self.order[first:last].tolist():
                found = to_triangle(places[rows], self.corners[triangle][None])
                closer = found < best[rows]
                best[rows[closer]] = found[closer]
                which[rows[closer]] = triangle
        return best, which


def _of_three(pick: np.ufunc, rows: Floats) -> Floats:
    """Of three columns; what is no number is passed over."""
    found: Floats = pick(pick(rows[:, 0], rows[:, 1]), rows[:, 2])
    return found


def _to_unit(corners: Floats) -> tuple[Floats, Floats]:
    """(n, 3, 3) and (n, 3): what takes each triangle to (0, 0, 0), (1, 0, 0), (0, 1, 0) with its unit normal along z;
    nan for those without an area (D. Baldwin and M. Weber, Fast Ray-Triangle Intersections by Coordinate
    Transformation, 2016)."""
    ab, ac = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    normal = np.cross(ab, ac)
    area = np.linalg.norm(normal, axis=1)
    sound = area > 1e-14 * np.maximum((ab**2).sum(axis=1), (ac**2).sum(axis=1))
    turn = np.full((len(corners), 3, 3), np.nan)
    turn[sound] = np.linalg.inv(np.stack([ab, ac, normal / np.maximum(area, 1e-300)[:, None]], axis=2)[sound])
    return turn, -np.einsum("nij,nj->ni", turn, corners[:, 0])


def _crossings(turn: Floats, shift: Floats, origins: Floats, directions: Floats) -> Floats:
    """(rays, triangles): distance along each ray, inf where it misses."""
    flat = turn.reshape(-1, 3).T
    start = (origins @ flat).reshape(len(origins), len(turn), 3) + shift
    way = (directions @ flat).reshape(len(origins), len(turn), 3)
    with np.errstate(divide="ignore", invalid="ignore"):
        t = -start[:, :, 2] / way[:, :, 2]
        u, v = start[:, :, 0] + t * way[:, :, 0], start[:, :, 1] + t * way[:, :, 1]
        hit = (np.abs(way[:, :, 2]) > 1e-12) & (u >= -1e-9) & (v >= -1e-9) & (u + v <= 1 + 1e-9)
    return np.where(hit, t, np.inf)


def to_triangle(p: Floats, corners: Floats) -> Floats:
    """Row by row (C. Ericson, Real-Time Collision Detection, 2005, 5.1.5, by clamping to the plane and the sides)."""
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    ab, ac, ap = b - a, c - a, p - a
    d11, d12, d22 = (np.einsum("ij,ij->i", u, v) for u, v in ((ab, ab), (ab, ac), (ac, ac)))
    d1, d2 = np.einsum("ij,ij->i", ap, ab), np.einsum("ij,ij->i", ap, ac)
    area = np.maximum(d11 * d22 - d12 * d12, 1e-300)
    v, w = (d22 * d1 - d12 * d2) / area, (d11 * d2 - d12 * d1) / area
    inside = (v >= 0) & (w >= 0) & (v + w <= 1)
    flat = np.linalg.norm(ap - v[:, None] * ab - w[:, None] * ac, axis=1)
    sides = np.min([_to_segment(p, *pair) for pair in ((a, b), (b, c), (c, a))], axis=0)
    return np.where(inside, flat, sides)


def _to_segment(p: Floats, a: Floats, b: Floats) -> Floats:
    way = b - a
    t = np.clip(np.einsum("ij,ij->i", p - a, way) / np.maximum(np.einsum("ij,ij->i", way, way), 1e-300), 0, 1)
    return np.linalg.norm(p - a - t[:, None] * way, axis=1)
