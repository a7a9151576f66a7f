"""The one box along the axes: between two corners, mm."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from .rigid import Rigid, Vec

Floats = NDArray[np.float64]


class Box(NamedTuple):
    low: Vec
    high: Vec

    @classmethod
    def around(cls, points: Floats | Iterable[Sequence[float]]) -> Box:
        """points (n, 3), at least one."""
        rows = np.asarray(points if isinstance(points, np.ndarray) else list(points), float)
        return cls(_vec(rows.min(axis=0)), _vec(rows.max(axis=0)))

    @property
    def size(self) -> Vec:
        return _vec(b - a for a, b in zip(self.low, self.high, strict=True))

    @property
    def diagonal(self) -> float:
        return math.dist(self.low, self.high)

    @property
    def middle(self) -> Vec:
        return _vec((a + b) / 2 for a, b in zip(self.low, self.high, strict=True))

    @property
    def corners(self) -> list[Vec]:
        return [(x, y, z) for x in self._ends(0) for y in self._ends(1) for z in self._ends(2)]

    def _ends(self, axis: int) -> tuple[float, float]:
        return self.low[axis], self.high[axis]

    def grown(self, by: float) -> Box:
        return Box(_vec(v - by for v in self.low), _vec(v + by for v in self.high))

    def moved(self, motion: Rigid) -> Box:
        """Around the moved corners."""
        return Box.around([motion.point(c) for c in self.corners])

    def meets(self, other: Box, slack: float = 0.0) -> bool:
        """Whether they share a place, or come within `slack` of it along every axis."""
        return all(
            self.low[k] <= other.high[k] + slack and other.low[k] <= self.high[k] + slack for k in range(3)
        )  # fmt: skip


def _vec(values: Iterable[float]) -> Vec:
    x, y, z = (float(v) for v in values)
    return x, y, z
