"""Meshes with fewer triangles, or smoother."""

from __future__ import annotations

import fast_simplification
import numpy as np
from scipy.sparse import coo_matrix, diags
from scipy.spatial import cKDTree

from ..local.surfaces import Floats
from ..maps.tree import to_triangle
from ..model.trimesh_body import TriangleMesh
from .mesh_borders import edge_uses

SHRINK, SWELL = 0.5, -0.53  # steps of G. Taubin, A Signal Processing Approach to Fair Surface Design, 1995


def fewer(mesh: TriangleMesh, count: int) -> TriangleMesh:
    """About `count` triangles, by quadric errors (M. Garland and P. Heckbert, 1997)."""
    share = 1.0 - count / len(mesh.triangles)
    points, triangles = fast_simplification.simplify(
        mesh.points.astype(np.float64), mesh.triangles.astype(np.int32), float(np.clip(share, 0.0, 0.999))
    )
    return TriangleMesh.tidy(np.asarray(points, np.float64), np.asarray(triangles))


def smoother(mesh: TriangleMesh, rounds: int) -> TriangleMesh:
    """Every point towards the middle of its neighbours and back a little further, so that the body does not shrink;
    points of open borders stay."""
    t = mesh.triangles
    rows = np.concatenate([t[:, 0], t[:, 1], t[:, 2], t[:, 1], t[:, 2], t[:, 0]])
    columns = np.concatenate([t[:, 1], t[:, 2], t[:, 0], t[:, 0], t[:, 1], t[:, 2]])
    count = len(mesh.points)
    graph = coo_matrix((np.ones(len(rows)), (rows, columns)), shape=(count, count)).tocsr()
    graph.data[:] = 1.0
    middle = diags(1.0 / np.maximum(np.asarray(graph.sum(axis=1)).ravel(), 1.0)) @ graph
    free = np.ones((count, 1))
    free[np.unique(edge_uses(t).open)] = 0.0
    points = mesh.points
    for _ in range(rounds):
        for step in (SHRINK, SWELL):
            points = points + step * free * (middle @ points - points)
    return TriangleMesh(np.ascontiguousarray(points), t)


def distances(places: Floats, mesh: TriangleMesh) -> Floats:
    """From each place to the nearest of the triangles around the eight nearest corners, mm."""
    near = cKDTree(mesh.points).query(places, k=min(8, len(mesh.points)))[1].reshape(len(places), -1)
    order = np.argsort(mesh.triangles.reshape(-1), kind="stable")
    owner = order // 3
    starts = np.searchsorted(mesh.triangles.reshape(-1)[order], np.arange(len(mesh.points) + 1))
    best = np.full(len(places), np.inf)
    for column in near.T:
        first, last = starts[column], starts[column + 1]
        for k in range(int((last - first).max(initial=0))):
            live = first + k < last
            triangle = mesh.corners[owner[np.minimum(first + k, len(owner) - 1)]]
            away = to_triangle(places, triangle)
            best = np.where(live, np.minimum(best, away), best)
    return best
