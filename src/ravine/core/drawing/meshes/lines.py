"""Lines of meshes, which have no exact edges: where facets meet in a kink, where the skin turns away from the eye,
borders."""

from __future__ import annotations

import math

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from ...local.surfaces import Floats
from ...sketch.plane_curves import ZERO, PlaneCurve
from ..projection import SHORTEST, ViewFrame
from ..screen import Screen

KINK = 30.0  # degrees between facets, from which their edge is drawn
SPECK = 0.02  # of the size, below which an island of outline is noise


def mesh_lines(
    points: Floats, triangles: np.ndarray, screen: Screen, frame: ViewFrame, seam: np.ndarray | None = None
) -> list[tuple[PlaneCurve, bool]]:
    """Curves in the view's plane (mm), and whether each is seen.  points: (n, 3) in the model; screen: of all that may
    stand before it; seam: which of the points lie where a cut merely steps or turns, whose borders are none."""
    ends = _drawn_edges(points, triangles, frame.eye, seam)
    if not len(ends):
        return []
    longs = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)

    def at(of: np.ndarray, share: Floats) -> Floats:
        return np.asarray(ends[of, 0] + share[:, None] * (ends[of, 1] - ends[of, 0]))

    found = []
    for edge, a, b, visible in screen.runs(longs, at):
        p, q = (ends[edge, 0] + v * (ends[edge, 1] - ends[edge, 0]) for v in (a, b))
        flat = frame.flat(np.array([p, q]))
        if math.hypot(*(flat[1] - flat[0])) > SHORTEST:
            found.append((PlaneCurve(0, "line", 0.0, 1.0, flat[0], flat[1] - flat[0], ZERO), visible))
    return found


def _drawn_edges(points: Floats, triangles: np.ndarray, eye: Floats, seam: np.ndarray | None) -> Floats:
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
    sharp = kink | (counts == 1)
    if seam is not None:
        sharp &= ~seam[edges].all(axis=1)
        turns_away &= ~seam[edges].all(axis=1)
    drawn = sharp | (turns_away & ~_specks(points, edges, sharp | turns_away, sharp))
    return np.asarray(points[edges[drawn]])


def _specks(points: Floats, edges: np.ndarray, drawn: np.ndarray, sharp: np.ndarray) -> np.ndarray:
    """Which edges belong to small islands of outline without a kink: what noise on a skin leaves."""
    rows = np.flatnonzero(drawn)
    if not len(rows):
        return np.zeros(len(edges), dtype=bool)
    pairs, count = edges[rows], len(points)
    graph = coo_array((np.ones(len(rows)), (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    _, island = connected_components(graph, directed=False)
    of = island[pairs[:, 0]]
    number = int(of.max()) + 1
    low, high = np.full((number, 3), np.inf), np.full((number, 3), -np.inf)
    for k in (0, 1):
        np.minimum.at(low, of, points[pairs[:, k]])
        np.maximum.at(high, of, points[pairs[:, k]])
    kinked = np.zeros(number, dtype=bool)
    kinked[of[sharp[rows]]] = True
    limit = SPECK * float(np.ptp(points[edges.reshape(-1)], axis=0).max())
    small = ((high - low).max(axis=1) < limit) & ~kinked
    found = np.zeros(len(edges), dtype=bool)
    found[rows] = small[of]
    return found
