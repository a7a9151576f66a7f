"""Edges of a mesh of triangles: who shares them, and the rings of those that are open."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]


@dataclass(frozen=True)
class EdgeUses:
    """open: (n, 2) points of edges with one triangle, in its direction; crowded: (n, 2) those with more than two;
    pairs: two triangles that share an edge, and whether they run it the same way (one of them is turned)."""

    open: Ints
    crowded: Ints
    pairs: tuple[Ints, Ints, NDArray[np.bool_]]


def edge_uses(triangles: NDArray) -> EdgeUses:
    ways = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]).astype(np.int64)
    owner = np.tile(np.arange(len(triangles)), 3)
    low, high = ways.min(axis=1), ways.max(axis=1)
    key = low * (int(triangles.max(initial=0)) + 1) + high
    order = np.argsort(key, kind="stable")
    _, starts, many = np.unique(key[order], return_index=True, return_counts=True)
    single = order[starts[many == 1]]
    double = starts[many == 2]
    first, second = order[double], order[double + 1]
    crowded = order[starts[many > 2]]
    against = ways[first, 0] == ways[second, 0]
    return EdgeUses(ways[single], ways[crowded], (owner[first], owner[second], against))


def border_rings(triangles: NDArray) -> tuple[list[Ints], int]:
    """Closed rings of points around holes, run so that a triangle laid in looks the same way as its neighbours; and
    how many open edges close to no ring."""
    open_ = edge_uses(triangles).open
    onward: dict[int, list[int]] = {}
    for a, b in open_.tolist():
        onward.setdefault(b, []).append(a)  # against the triangle that is there
    rings, stray = [], 0
    while onward:
        start = next(iter(onward))
        row = [start]
        seen = {start: 0}
        while True:
            here = row[-1]
            ways = onward.get(here)
            if not ways:
                stray += len(row) - 1
                break
            there = ways.pop()
            if not ways:
                del onward[here]
            if there in seen:
                at = seen[there]
                rings.append(np.array(row[at:], np.int64))
                for p in row[at:]:
                    seen.pop(p)
                row = row[:at]
                if not row:
                    break
                row.append(there)
                seen[there] = len(row) - 1
                continue
            seen[there] = len(row)
            row.append(there)
    return [r for r in rings if len(r) > 2], stray
