"""Flat faces cut along a grid of their own instead of across the sides of their triangles.

The triangles that a view draws a flat face with are long and thin; halved across their longest sides they stay so, and
the border of whatever lies behind the face gets teeth as long as they are.  Cut along lines at halves, quarters and so
on of a step, pieces are never longer than their cell, and finer cells fit into coarser ones.
"""

from __future__ import annotations

import numpy as np

from ..local.surfaces import Floats

SIDES = 7  # at most, of a triangle cut along the sides of a rectangle
FINEST = 24  # halvings of the largest cell
CORNER = 1e-9  # of a piece's extent, within which a line goes through its corner


def plane_axes(normals: Floats) -> Floats:
    """Two unit directions (n, 2, 3) in planes with these normals (n, 3), along axes of the part where they can be."""
    first = np.eye(3)[np.abs(normals).argmin(axis=1)]
    second = np.cross(normals, first)
    second /= np.linalg.norm(second, axis=1, keepdims=True)
    return np.stack([np.cross(second, normals), second], axis=1)


def as_polygons(corners: Floats) -> Floats:
    """Triangles (n, 3, 3) as convex polygons (n, SIDES, 3), whose last corner is repeated."""
    return corners[:, [*range(3), *[2] * (SIDES - 3)]]


def fan(polygons: Floats) -> Floats:
    """The triangles (n, SIDES - 2, 3, 3) of each; those of repeated corners have no area."""
    first = np.repeat(polygons[:, :1], SIDES - 2, axis=1)
    return np.stack([first, polygons[:, 1:-1], polygons[:, 2:]], axis=2)


def fan_areas(polygons: Floats) -> Floats:
    """Of those triangles (n, SIDES - 2)."""
    return triangle_areas(fan(polygons))


def triangle_areas(corners: Floats) -> Floats:
    """Of triangles (…, 3, 3)."""
    ab, ac = corners[..., 1, :] - corners[..., 0, :], corners[..., 2, :] - corners[..., 0, :]
    return np.asarray(np.linalg.norm(np.cross(ab, ac), axis=-1) / 2)


def cut_along_lines(polygons: Floats, axes: Floats, largest: float) -> Floats:
    """Polygons (n, SIDES, 3), each cut in two along one line of its grid, which crosses its longer extent in directions
    axes (n, 2, 3) at the coarsest of the multiples of largest / 2^k (mm).  On the one side first, then on the other."""
    extents = np.einsum("nij,nkj->nki", polygons, axes)
    longer = np.ptp(extents, axis=2).argmax(axis=1)
    heights = extents[np.arange(len(polygons)), longer]
    low, high = heights.min(axis=1), heights.max(axis=1)
    heights = heights - _coarsest_between(low, high, largest)[:, None]
    heights[np.abs(heights) <= CORNER * (high - low)[:, None]] = 0.0
    return np.concatenate([_side(polygons, heights), _side(polygons, -heights)])


def _coarsest_between(low: Floats, high: Floats, largest: float) -> Floats:
    """The multiple of the largest power of a half (times `largest`) that lies between two numbers."""
    slack = 1e-6 * (high - low)
    found = np.full(len(low), np.nan)
    for k in range(FINEST):
        step = largest / 2.0**k
        line = np.ceil((low + slack) / step) * step
        found = np.where(np.isnan(found) & (line < high - slack), line, found)
    return np.where(np.isnan(found), (low + high) / 2, found)


def _side(polygons: Floats, heights: Floats) -> Floats:
    """What of each lies at heights of 0 and more (I. Sutherland and G. Hodgman, 1974)."""
    after, beyond = np.roll(polygons, -1, axis=1), np.roll(heights, -1, axis=1)
    crossed = heights * beyond < 0
    share = heights / np.where(crossed, heights - beyond, 1.0)
    met = polygons + (after - polygons) * share[:, :, None]
    places = np.stack([polygons, met], axis=2).reshape(len(polygons), 2 * SIDES, 3)
    repeated = np.zeros(heights.shape, bool)
    repeated[:, 1:] = (polygons[:, 1:] == polygons[:, :-1]).all(axis=2)
    kept = np.stack([(heights >= 0) & ~repeated, crossed], axis=2).reshape(len(polygons), 2 * SIDES)
    order = np.argsort(~kept, axis=1, kind="stable")[:, :SIDES]
    count = np.maximum(kept.sum(axis=1), 1)
    order = np.where(np.arange(SIDES) < count[:, None], order, order[np.arange(len(order)), count - 1][:, None])
    return np.take_along_axis(places, order[:, :, None], axis=1)
