"""Lines of meshes, which have no exact edges: where facets meet in a kink, where the skin turns away from the eye,
borders."""

from __future__ import annotations

import math

import numpy as np

from ..local.surfaces import Floats
from ..maps.tree import TriangleTree
from ..sketch.plane_curves import ZERO, PlaneCurve
from .projection import SHORTEST, ViewFrame

KINK = 30.0  # degrees between facets, from which their edge is drawn
PIECES = 160  # so many stretches over the size of everything are looked at one by one
LIFT = 1e-4  # of the size, off the skin towards the eye


def mesh_lines(
    points: Floats, triangles: np.ndarray, everything: Floats, frame: ViewFrame
) -> list[tuple[PlaneCurve, bool]]:
    """Curves in the view's plane (mm), and whether each is seen.  points: (n, 3) in the model; everything: corners of
    all triangles that may stand before it, (m, 3, 3)."""
    ends = _drawn_edges(points, triangles, frame.eye)
    if not len(ends):
        return []
    size = float(np.ptp(everything.reshape(-1, 3), axis=0).max()) or 1.0
    tree = TriangleTree(everything)
    longs = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    counts = np.maximum(1, np.ceil(longs / (size / PIECES)).astype(int))
    of = np.repeat(np.arange(len(ends)), counts)
    part = np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts)
    share = (part + 0.5) / counts[of]
    middles = ends[of, 0] + share[:, None] * (ends[of, 1] - ends[of, 0])
    rays = np.repeat(frame.eye[None], len(of), axis=0)
    free = np.isinf(tree.first_hits(middles + LIFT * size * frame.eye, rays, np.full(len(of), LIFT * size)))
    found = []
    for edge in range(len(ends)):
        row = free[of == edge]
        starts = np.flatnonzero(np.diff(row.astype(int), prepend=int(not row[0])))
        for a, b in zip(starts, [*starts[1:], len(row)], strict=True):
            p, q = (ends[edge, 0] + v / len(row) * (ends[edge, 1] - ends[edge, 0]) for v in (a, b))
            flat = frame.flat(np.array([p, q]))
            if math.hypot(*(flat[1] - flat[0])) > SHORTEST:
                found.append((PlaneCurve(0, "line", 0.0, 1.0, flat[0], flat[1] - flat[0], ZERO), bool(row[a])))
    return found


def _drawn_edges(points: Floats, triangles: np.ndarray, eye: Floats) -> Floats:
    """Ends (n, 2, 3) of what is drawn."""
    corners = points[triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    pairs = np.sort(triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    edges, at, counts = np.unique(pairs, axis=0, return_inverse=True, return_counts=True)
    order = np.argsort(at.reshape(-1), kind="stable")
    firsts = np.cumsum(counts) - counts
    one = order[firsts] // 3
    other = order[np.minimum(firsts + 1, len(order) - 1)] // 3
    two = counts == 2
    facing = normals @ eye
    turns_away = two & ((facing[one] > 0) != (facing[other] > 0))
    kink = two & ((normals[one] * normals[other]).sum(axis=1) < math.cos(math.radians(KINK)))
    return np.asarray(points[edges[turns_away | kink | (counts == 1)]])
