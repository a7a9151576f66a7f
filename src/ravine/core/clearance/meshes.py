"""Parts of which one at least is a mesh: how near they come, and whether they take up the same room."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from ..maps.tree import TriangleTree
from ..rigid import Vec, vec_of
from ..section.rings import Ints
from ..tolerances import TOUCHING

MOST_PAIRS = 20_000_000  # of points and triangles that are looked at for what lies inside


@dataclass(frozen=True, eq=False)
class Skin:
    """points (n, 3), mm in the model; triangles (m, 3)."""

    points: Floats
    triangles: Ints
    tree: TriangleTree

    @classmethod
    def of(cls, points: Floats, triangles: Ints) -> Skin:
        return cls(points, triangles, TriangleTree(points[triangles]))


def way_between(one: Skin, other: Skin) -> tuple[float, Vec, Vec]:
    """mm, from a place on the first to one on the second: from the corners of each to the triangles of the other, so
    where edges come nearest to edges the true way is a little shorter."""
    found = []
    for a, b in ((one, other), (other, one)):
        away, which = b.tree.nearest(a.points)
        k = int(np.argmin(away))
        ends = a.points[k], nearest_on(a.points[k], b.tree.corners[which[k]])
        found.append((float(away[k]), *(ends if a is one else ends[::-1])))
    gap, p, q = min(found, key=lambda row: row[0])
    return gap, vec_of(p), vec_of(q)


def nearest_on(place: Floats, triangle: Floats) -> Floats:
    """The place of a triangle (3, 3) that is nearest (C. Ericson, Real-Time Collision Detection, 2005, 5.1.5)."""
    a, b, c = triangle
    normal = np.cross(b - a, c - a)
    area = float(normal @ normal)
    if area > 0:
        foot = place - float((place - a) @ normal) / area * normal
        sides = [float(np.cross(q - p, foot - p) @ normal) for p, q in ((a, b), (b, c), (c, a))]
        if min(sides) >= 0:
            return np.asarray(foot)
    ends = []
    for p, q in ((a, b), (b, c), (c, a)):
        way = q - p
        share = float((place - p) @ way) / max(float(way @ way), 1e-300)
        ends.append(p + min(max(share, 0.0), 1.0) * way)
    return np.asarray(min(ends, key=lambda e: float(np.linalg.norm(place - e))))


def shared_place(one: Skin, other: Skin) -> Vec | None:
    """Of the corners and edges of each the place that lies deepest within the other; None where they share no room.
    On edges it is looked for in the middle of what the other cuts off them."""
    deepest: tuple[float, Floats] | None = None
    for a, b in ((one, other), (other, one)):
        low, high = b.points.min(axis=0), b.points.max(axis=0)
        tried = np.concatenate([a.points, _cut_off(a, b, low, high)])
        tried = tried[((tried > low) & (tried < high)).all(axis=1)]
        tried = tried[:: max(1, len(tried) * len(b.triangles) // MOST_PAIRS)]
        if not len(tried):
            continue
        depth, _ = b.tree.nearest(tried)
        inner = np.flatnonzero(depth > TOUCHING)
        inner = inner[winding(tried[inner], b.tree.corners) > 0.5]
        if len(inner):
            k = int(inner[np.argmax(depth[inner])])
            if deepest is None or depth[k] > deepest[0]:
                deepest = float(depth[k]), tried[k]
    return None if deepest is None else vec_of(deepest[1])


def _cut_off(a: Skin, b: Skin, low: Floats, high: Floats) -> Floats:
    """Of edges that meet the other: the middles of what lies between their ends and where they first meet it from
    there, and of what lies between."""
    edges = np.unique(np.sort(a.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1), axis=0)
    start, end = a.points[edges[:, 0]], a.points[edges[:, 1]]
    near = (np.maximum(start, end) >= low).all(axis=1) & (np.minimum(start, end) <= high).all(axis=1)
    start, end = start[near], end[near]
    size = np.linalg.norm(end - start, axis=1)
    start, end, size = start[size > TOUCHING], end[size > TOUCHING], size[size > TOUCHING]
    ways = (end - start) / size[:, None]
    there = b.tree.first_hits(start, ways, np.full(len(start), TOUCHING))
    back = b.tree.first_hits(end, -ways, np.full(len(start), TOUCHING))
    met = (there < size) & (back < size)
    start, end, ways = start[met], end[met], ways[met]
    first, last = start + there[met, None] * ways, end - back[met, None] * ways
    return np.concatenate([(start + first) / 2, (first + last) / 2, (last + end) / 2])


def winding(places: Floats, corners: Floats) -> Floats:
    """How often closed triangles (m, 3, 3) that face outwards wind about each place (n, 3): 1 inside, 0 outside, and
    between for a skin with holes (A. van Oosterom and J. Strackee, The Solid Angle of a Plane Triangle, 1983;
    A. Jacobson et al., Robust Inside-Outside Segmentation, 2013)."""
    found = np.zeros(len(places))
    step = max(1, 400_000 // max(len(corners), 1))
    for k in range(0, len(places), step):
        arms = corners[None] - places[k : k + step, None, None]
        sizes = np.linalg.norm(arms, axis=-1)
        a, b, c = (arms[:, :, j] for j in range(3))
        la, lb, lc = (sizes[:, :, j] for j in range(3))
        top = np.einsum("nmi,nmi->nm", a, np.cross(b, c))
        base = (la * lb * lc + np.einsum("nmi,nmi->nm", a, b) * lc + np.einsum("nmi,nmi->nm", b, c) * la
                + np.einsum("nmi,nmi->nm", c, a) * lb)  # fmt: skip
        found[k : k + step] = np.arctan2(top, base).sum(axis=1) / (2 * np.pi)
    return found
