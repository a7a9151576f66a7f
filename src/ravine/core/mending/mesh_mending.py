"""Mending a mesh of triangles: twins, needles, crumbs, turned triangles, crowded edges, holes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..model.trimesh_body import TriangleMesh
from .mesh_borders import border_rings, edge_uses
from .mesh_checkup import CRUMB, NEEDLE, pieces_of, turned_triangles
from .mesh_holes import hole_triangles

MERGED = 1e-6  # of the size: points nearer than this are one


@dataclass(frozen=True)
class MendedMesh:
    """done: how many of each kind were put right; left: edges still open; trouble: why it is no closed mesh."""

    mesh: TriangleMesh
    done: dict[str, int]
    left: int
    trouble: str | None


def mesh_mended(mesh: TriangleMesh, only: set[str] | None = None) -> MendedMesh:
    """only: codes of the findings to put right; all when None."""
    points, triangles = mesh.points, mesh.triangles.astype(np.int64)
    done: dict[str, int] = {}

    def wanted(code: str) -> bool:
        return only is None or code in only

    def drop(code: str, doomed: np.ndarray) -> None:
        nonlocal triangles
        if len(doomed):
            done[code] = done.get(code, 0) + len(doomed)
            triangles = np.delete(triangles, doomed, axis=0)

    if wanted("hole"):
        triangles, joined = _welded(points, triangles)
        if joined:
            done["loose border"] = joined
    if wanted("needle"):
        drop("needle", _needles(points, triangles))
    if wanted("doubled triangle"):
        _, first = np.unique(np.sort(triangles, axis=1), axis=0, return_index=True)
        drop("doubled triangle", np.setdiff1d(np.arange(len(triangles)), first))
    if wanted("crowded edge"):
        drop("crowded edge", _crowded(triangles))
    if wanted("crumb"):
        label = pieces_of(triangles)
        sizes = np.bincount(label)
        small = np.flatnonzero(sizes < max(CRUMB * len(label), 4)) if len(sizes) > 1 else np.zeros(0, int)
        if len(small):
            done["crumb"] = len(small)
            triangles = triangles[~np.isin(label, small)]
    if wanted("turned triangle"):
        turned = turned_triangles(triangles)
        if len(turned):
            triangles[turned] = triangles[turned][:, ::-1]
            done["turned triangle"] = len(turned)
    if wanted("hole"):
        rings, _ = border_rings(triangles)
        if rings:
            made = [hole_triangles(points, ring) for ring in rings]
            triangles = np.concatenate([triangles, *made])
            done["hole"] = len(rings)
    fresh = TriangleMesh.tidy(points, triangles)
    if wanted("inside out") and fresh.is_closed and fresh.volume_and_centroid[0] < 0:
        fresh = TriangleMesh(fresh.points, np.ascontiguousarray(fresh.triangles[:, ::-1]))
        done["inside out"] = 1
    left = len(edge_uses(fresh.triangles).open)
    trouble = None if fresh.is_closed else (
        f"{left} edges stay open" if left else "some edges have more than two triangles, or two that disagree"
    )  # fmt: skip
    return MendedMesh(fresh, done, left, trouble)


def _needles(points: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    corners = points[triangles]
    areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    a, b, c = triangles.T
    return np.flatnonzero((areas <= NEEDLE * areas.max(initial=0.0)) | (a == b) | (b == c) | (c == a))


def _welded(points: np.ndarray, triangles: np.ndarray) -> tuple[np.ndarray, int]:
    """Points of open edges that lie on one another made one; how many went."""
    open_ = np.unique(edge_uses(triangles).open)
    if not len(open_):
        return triangles, 0
    size = float(np.ptp(points, axis=0).max())
    _, first, inverse = np.unique(np.round(points[open_] / (MERGED * size)), axis=0, return_index=True,
                                  return_inverse=True)  # fmt: skip
    now = np.arange(len(points))
    now[open_] = open_[first[inverse.reshape(-1)]]
    return now[triangles], int((now != np.arange(len(points))).sum())


def _crowded(triangles: np.ndarray) -> np.ndarray:
    """Of the triangles around an edge with more than two, those that hang on by that edge alone."""
    uses = edge_uses(triangles)
    if not len(uses.crowded):
        return np.zeros(0, int)
    crowded = {(min(a, b), max(a, b)) for a, b in uses.crowded.tolist()}
    open_ = {(min(a, b), max(a, b)) for a, b in uses.open.tolist()}
    found = []
    for number, (a, b, c) in enumerate(triangles.tolist()):
        sides = [(min(p, q), max(p, q)) for p, q in ((a, b), (b, c), (c, a))]
        if any(s in crowded for s in sides) and any(s in open_ for s in sides):
            found.append(number)
    return np.array(found, int)
