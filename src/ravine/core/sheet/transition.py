"""A duct between two closed outlines in parallel planes, of flat facets: square to round, round to round, off centre.

Between two convex outlines the facets are the sides of their common convex hull: every edge of one outline belongs to
the corner of the other that lies farthest the same way, and edges that run alike span one facet.  So each facet is
flat, and the whole can be laid out exactly (the sheet-metal trade's triangulation).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial import HalfspaceIntersection

from ..local.surfaces import Floats

TOGETHER = 1e-6  # mm, within which corners are one
ALIKE = 1e-9  # rad, within which edges of the two outlines run alike


@dataclass(frozen=True)
class Outline:
    """kind: round (across: diameter) or rectangle (across, deep: sides; corner: radius of its corners); turn: rad about
    its middle; x, y: of its middle; z: of its plane.  mm, of the middle of the sheet."""

    kind: Literal["round", "rectangle"]
    across: float
    deep: float
    z: float
    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0
    corner: float = 0.0

    def corners(self, steps: int) -> Floats:
        """Places (n, 2), counter-clockwise; a quarter of a circle has `steps` edges, with its folds on the circle."""
        quarter = np.arange(steps + 1) * (math.pi / 2 / steps)
        arc = np.column_stack([np.cos(quarter), np.sin(quarter)])
        turned = [arc @ np.array([[c, s], [-s, c]]) for c, s in ((1, 0), (0, 1), (-1, 0), (0, -1))]
        if self.kind == "round":
            places = self.across / 2 * np.vstack([a[:-1] for a in turned])
        else:
            a, b = self.across / 2 - self.corner, self.deep / 2 - self.corner
            middles = np.array([[a, b], [-a, b], [-a, -b], [a, -b]])
            places = np.vstack([m + self.corner * t for m, t in zip(middles, turned, strict=True)])
            places = places if self.corner else middles
        c, s = math.cos(self.turn), math.sin(self.turn)
        return np.asarray(places @ np.array([[c, s], [-s, c]]) + [self.x, self.y])


def facets(lower: Outline, upper: Outline, steps: int) -> list[Floats]:
    """Corners (3 or 4, 3) of each facet in order around, counter-clockwise seen from outside.  steps: into which a
    quarter of a circle is divided."""
    rings = [o.corners(steps) for o in (lower, upper)]
    heights = lower.z, upper.z
    ways = [np.roll(r, -1, axis=0) - r for r in rings]
    turns = [np.mod(np.arctan2(-w[:, 0], w[:, 1]) + ALIKE, 2 * math.pi) for w in ways]  # of the outward normals
    order = sorted((float(t), side, k) for side in (0, 1) for k, t in enumerate(turns[side]))
    found: list[Floats] = []
    at = 0
    while at < len(order):
        turn, side, k = order[at]
        mate = order[at + 1] if at + 1 < len(order) and order[at + 1][0] - turn < 2 * ALIKE else None
        at += 1 if mate is None else 2
        way = np.array([math.cos(turn), math.sin(turn)])
        pair: list[list[Floats]] = [[], []]
        for here, edge in [(side, k)] + ([(mate[1], mate[2])] if mate is not None else []):
            ring = rings[here]
            pair[here] = [ring[edge], ring[(edge + 1) % len(ring)]]
        for here in (0, 1):
            if not pair[here]:
                pair[here] = [rings[here][int(np.argmax(rings[here] @ way))]]
        low = [np.array([*p, heights[0]]) for p in pair[0]]
        high = [np.array([*p, heights[1]]) for p in pair[1]]
        found.append(np.array([*low, *reversed(high)]))
    return found


def width(row: Floats) -> float:
    """mm, of the longest side of a facet that lies in one of the two planes."""
    steps = np.roll(row, -1, axis=0) - row
    return float(np.linalg.norm(steps[np.abs(steps[:, 2]) < TOGETHER], axis=1).max())


def planes(rows: list[Floats]) -> tuple[Floats, Floats]:
    """Outward unit normals (n, 3) and offsets (n,) of facets: normal · x = offset."""
    normals = np.array([np.cross(r[1] - r[0], r[2] - r[0]) for r in rows])
    normals /= np.linalg.norm(normals, axis=1)[:, None]
    return normals, np.einsum("ij,ij->i", normals, np.array([r[0] for r in rows]))


def sharpest(rows: list[Floats]) -> float:
    """rad, the largest fold between neighbours."""
    normals, _ = planes(rows)
    return float(np.arccos(np.clip(np.einsum("ij,ij->i", normals, np.roll(normals, -1, axis=0)), -1, 1)).max())


def body_between(normals: Floats, offsets: Floats, inside: Floats) -> list[Floats]:
    """Faces, by their corners in order as seen from outside, of the convex body of all points with
    normal · x <= offset; inside: a point well within it."""
    found = HalfspaceIntersection(np.column_stack([normals, -offsets]), inside).intersections
    corners = np.unique(np.round(found, 9), axis=0)
    kept = [corners[0]]
    for corner in corners[1:]:
        if min(np.abs(np.array(kept) - corner).max(axis=1)) > TOGETHER:
            kept.append(corner)
    points = np.array(kept)
    rows = []
    for normal, offset in zip(normals, offsets, strict=True):
        on = points[np.abs(points @ normal - offset) < TOGETHER]
        if len(on) < 3:
            continue
        middle = on.mean(axis=0)
        x = on[0] - middle
        turns = np.arctan2(
            (on - middle) @ np.cross(normal, x / np.linalg.norm(x)), (on - middle) @ x / np.linalg.norm(x)
        )
        rows.append(on[np.argsort(turns)])
    return rows
