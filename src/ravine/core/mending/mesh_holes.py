"""Triangles into a hole of a mesh: the triangulation of its ring that needs the least area and bends the least
(P. Liepa, Filling Holes in Meshes, 2003, by dynamic programming); large rings by ears in their middle plane."""

from __future__ import annotations

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
MOST_EXACT = 90  # points of a ring; the work grows with the third power


def hole_triangles(points: Floats, ring: NDArray) -> NDArray[np.int64]:
    """(n − 2, 3) numbers of points, running like the ring."""
    if len(ring) == 3:
        return ring[None].astype(np.int64)
    if len(ring) <= MOST_EXACT:
        return ring[_least_area(points[ring])]
    return ring[_by_ears(points[ring])]


def _least_area(places: Floats) -> NDArray[np.int64]:
    n = len(places)
    cost = np.zeros((n, n))
    best = np.zeros((n, n), np.int64)
    for span in range(2, n):
        for i in range(n - span):
            k = i + span
            middle = np.arange(i + 1, k)
            a, b, c = places[i], places[middle], places[k]
            area = np.linalg.norm(np.cross(b - a, c - a), axis=1)
            total = cost[i, middle] + cost[middle, k] + area
            at = int(np.argmin(total))
            cost[i, k], best[i, k] = total[at], middle[at]
    found, waiting = [], [(0, n - 1)]
    while waiting:
        i, k = waiting.pop()
        if k - i < 2:
            continue
        m = int(best[i, k])
        found.append((i, m, k))
        waiting += [(i, m), (m, k)]
    return np.array(found, np.int64)


def _by_ears(places: Floats) -> NDArray[np.int64]:
    middle = places.mean(axis=0)
    normal = np.cross(places - middle, np.roll(places, -1, axis=0) - middle).sum(axis=0)
    normal /= np.linalg.norm(normal) or 1.0
    x = np.cross(normal, np.eye(3)[int(np.abs(normal).argmin())])
    x /= np.linalg.norm(x)
    flat = np.ascontiguousarray((places - middle) @ np.column_stack([x, np.cross(normal, x)]))
    found = mapbox_earcut.triangulate_float64(flat, np.array([len(flat)], np.uint32)).reshape(-1, 3).astype(np.int64)
    if len(found) != len(places) - 2:
        return np.array([(0, k, k + 1) for k in range(1, len(places) - 1)], np.int64)
    # ears may come wound the other way than the ring
    a, b, c = (flat[found[:, k]] for k in range(3))
    turn = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    found[turn < 0] = found[turn < 0][:, ::-1]
    return found
