"""How far behind every plane face the nearest one stands that looks the other way: the thickness of flat walls."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

Floats = NDArray[np.float64]
CELL = 1e-5  # of unit vectors that count as one direction
LEAST = 1e-6  # mm


def wall_depths(normals: Floats, points: Floats) -> Floats:
    """(n,), mm: along the outward normals (n, 3) of planes through points (n, 3), inwards; nan where nothing is behind.

    Faces of one direction are sorted by their height; the nearest below is the last before that looks the other way.
    """
    found = np.full(len(normals), np.nan)
    if not len(normals):
        return found
    way = _ways(normals)
    group = _groups(normals * way[:, None])
    common = np.zeros((group.max() + 1, 3))
    np.add.at(common, group, normals * way[:, None])
    common /= np.linalg.norm(common, axis=1, keepdims=True)
    heights = np.einsum("ni,ni->n", points, common[group])
    for side in (1.0, -1.0):
        order = np.lexsort((side * heights, group))
        mine = way[order] == side
        level, block = side * heights[order], group[order]
        before = np.maximum.accumulate(np.where(mine, -1, np.arange(len(order))))
        rows = np.flatnonzero(mine)
        at = before[rows]
        for _ in range(len(rows)):  # faces that lie on it are none behind it
            level_with = (at >= 0) & (block[at] == block[rows]) & (level[rows] - level[at] < LEAST)
            if not level_with.any():
                break
            at = np.where(level_with, np.where(at > 0, before[at - 1], -1), at)
        known = (at >= 0) & (block[at] == block[rows])
        found[order[rows[known]]] = level[rows[known]] - level[at[known]]
    return found


def _ways(normals: Floats) -> Floats:
    """+1 or -1 (n,), so that opposite normals become one."""
    first = np.argmax(np.abs(normals) > 1e-6, axis=1)
    return np.sign(normals[np.arange(len(normals)), first])


def _groups(directions: Floats) -> NDArray[np.int64]:
    """A number for each direction (n,).  On two grids, half a cell apart, since two that are one may be told apart by
    the border of a cell on one of them."""
    rows, columns = [], []
    for shift in (0.0, 0.5):
        cells = np.floor(directions / CELL + shift).astype(np.int64)
        _, first, number = np.unique(cells, axis=0, return_index=True, return_inverse=True)
        rows.append(np.arange(len(directions)))
        columns.append(first[number.reshape(-1)])
    links = (np.ones(2 * len(directions)), (np.concatenate(rows), np.concatenate(columns)))
    return np.asarray(connected_components(coo_array(links, shape=(len(directions),) * 2), directed=False)[1], np.int64)
