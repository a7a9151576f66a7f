"""The check-up of a mesh of triangles."""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from ..model.trimesh_body import TriangleMesh
from .checkup import Flaw
from .mesh_borders import border_rings, edge_uses

NEEDLE = 1e-9  # of the largest triangle's area
CRUMB = 1e-3  # of the triangles


def mesh_flaws(mesh: TriangleMesh) -> list[Flaw]:
    """Holes ring by ring; the other kinds once each with their count."""
    found: list[Flaw] = []
    rings, _ = border_rings(mesh.triangles)
    for ring in rings:
        places = mesh.points[ring]
        length = float(np.linalg.norm(places - np.roll(places, -1, axis=0), axis=1).sum())
        found.append(Flaw("hole", places.mean(axis=0), size=length))
    uses = edge_uses(mesh.triangles)
    corners = mesh.corners
    middles = corners.mean(axis=1)

    def once(code: str, numbers: np.ndarray, count: int) -> None:
        if count:
            found.append(Flaw(code, middles[numbers[0]], count=count))

    turned = turned_triangles(mesh.triangles)
    once("turned triangle", turned, len(turned))
    key = np.sort(mesh.triangles, axis=1)
    _, first, many = np.unique(key, axis=0, return_index=True, return_counts=True)
    once("doubled triangle", first[many > 1], int((many - 1).sum()))
    crowded = uses.crowded
    if len(crowded):
        found.append(Flaw("crowded edge", mesh.points[crowded[0]].mean(axis=0), count=len(crowded)))
    areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    needles = np.flatnonzero(areas <= NEEDLE * areas.max(initial=0.0))
    once("needle", needles, len(needles))
    label = pieces_of(mesh.triangles)
    sizes = np.bincount(label)
    for piece in np.flatnonzero(sizes < max(CRUMB * len(label), 4) * (len(sizes) > 1)).tolist():
        found.append(Flaw("crumb", middles[label == piece].mean(axis=0)))
    if not rings and not len(turned) and mesh.volume_and_centroid[0] < 0:
        found.append(Flaw("inside out", mesh.points.mean(axis=0)))
    return found


def pieces_of(triangles: np.ndarray) -> np.ndarray:
    """For each triangle the number of the piece that it hangs together with, over shared points."""
    count = int(triangles.max()) + 1
    rows = np.concatenate([triangles[:, 0], triangles[:, 1]])
    columns = np.concatenate([triangles[:, 1], triangles[:, 2]])
    graph = coo_matrix((np.ones(len(rows), np.int8), (rows, columns)), shape=(count, count))
    label = connected_components(graph, directed=False)[1][triangles[:, 0]]
    return np.unique(label, return_inverse=True)[1]


def turned_triangles(triangles: np.ndarray) -> np.ndarray:
    """Those that look the other way than most of their piece, going from neighbour to neighbour."""
    uses = edge_uses(triangles)
    a, b, against = uses.pairs
    # two copies of every triangle, one for each way to look; neighbours that agree join like copies
    count = len(triangles)
    rows = np.concatenate([a, a + count])
    columns = np.concatenate([np.where(against, b + count, b), np.where(against, b, b + count)])
    graph = coo_matrix((np.ones(len(rows), np.int8), (rows, columns)), shape=(2 * count, 2 * count))
    label = connected_components(graph, directed=False)[1]
    here, there = label[:count], label[count:]
    low = np.minimum(here, there)
    # of each piece, the triangles in one copy and those in the other: the fewer are turned
    side = here == low
    total, inside = np.bincount(low, minlength=2 * count), np.bincount(low, weights=side, minlength=2 * count)
    fewer = np.where(inside[low] * 2 >= total[low], ~side, side)
    return np.flatnonzero(fewer & (here != there))
