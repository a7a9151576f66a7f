"""Triangles that stand before what a view draws: which stretches of curves are seen past them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from ..local.surfaces import Floats
from ..maps.tree import TriangleTree

PIECES = 160  # so many stretches over the size of everything are looked at one by one
HALVINGS = 5  # by which the end of a stretch is then closed in on
LIFT = 1e-4  # of the size, off the skin towards the eye

Run = tuple[int, float, float, bool]  # number of the curve, from, to (0 to 1 along it), whether it is seen


class Screen:
    """corners: of all triangles, (n, 3, 3) mm."""

    def __init__(self, corners: Floats, eye: Floats) -> None:
        self.tree = TriangleTree(corners)
        self.eye = eye
        self.size = float(np.ptp(corners.reshape(-1, 3), axis=0).max()) or 1.0

    def free(self, places: Floats) -> np.ndarray:
        """Which of (n, 3) nothing stands before."""
        if not len(places):
            return np.zeros(0, dtype=bool)
        lift = LIFT * self.size
        rays = np.repeat(self.eye[None], len(places), axis=0)
        hits = self.tree.first_hits(places + lift * self.eye, rays, np.full(len(places), lift))
        return np.asarray(np.isinf(hits))

    def runs(self, longs: Sequence[float] | Floats, at: Callable[[np.ndarray, Floats], Floats]) -> list[Run]:
        """Of many curves, one after the other.  longs: their lengths, mm; at: places (n, 3) of curves by number at
        shares of their parameter."""
        counts = np.maximum(1, np.ceil(np.asarray(longs) / (self.size / PIECES)).astype(int))
        of = np.repeat(np.arange(len(counts)), counts)
        part = np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts)
        share = (part + 0.5) / counts[of]
        free = self.free(at(of, share))
        turns = np.flatnonzero((np.diff(of) == 0) & (free[1:] != free[:-1]))  # between a piece and the next
        low, high = share[turns], share[turns + 1]
        for _ in range(HALVINGS):
            middle = (low + high) / 2
            same = self.free(at(of[turns], middle)) == free[turns]
            low, high = np.where(same, middle, low), np.where(same, high, middle)
        cut = dict(zip(turns.tolist(), ((low + high) / 2).tolist(), strict=True))
        found: list[Run] = []
        start = 0.0
        for k in range(len(of)):
            ends = k + 1 == len(of) or of[k + 1] != of[k]
            if not ends and k not in cut:
                continue
            stop = 1.0 if ends else cut[k]
            found.append((int(of[k]), start, stop, bool(free[k])))
            start = 0.0 if ends else stop
        return found
