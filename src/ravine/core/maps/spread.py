"""How figures lie over the surface of a part, each counted by the area it holds for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..local.surfaces import Floats

BANDS = 11  # of the legend


def share_below(values: Floats, areas: Floats, share: float) -> float:
    """The figure that a share of the area lies below; 0 where there is none.  What is no number does not count."""
    known = np.isfinite(values)
    if not known.any():
        return 0.0
    order = np.argsort(values[known])
    filled = np.cumsum(areas[known][order])
    return float(values[known][order][min(np.searchsorted(filled, share * filled[-1]), len(order) - 1)])


def legend_ends(kind: str, values: Floats, areas: Floats) -> tuple[float, float]:
    """The figures at the ends of the legend: few far out do not stretch it."""
    if kind == "walls":
        known = values[np.isfinite(values)]
        low = float(known.min()) if len(known) else 0.0
        return low, max(share_below(values, areas, 0.9), low + 1e-6)
    size = max(abs(share_below(values, areas, 0.01)), abs(share_below(values, areas, 0.99)), 1e-9)
    return -size, size


@dataclass(frozen=True)
class Spread:
    """Between which figures most of a surface lies."""

    low: float
    high: float

    @classmethod
    def of(cls, values: Floats, areas: Floats) -> Spread:
        return cls(share_below(values, areas, 0.02), share_below(values, areas, 0.9))

    def apart(self, some: Floats, others: Floats) -> NDArray[np.bool_]:
        """Whether figures lie more than a band of the legend apart, or one is missing: a step within is not seen."""
        band = (self.high - self.low) / BANDS
        if band <= 1e-9 * max(abs(self.low), abs(self.high), 1e-12):
            return np.zeros(np.broadcast_shapes(some.shape, others.shape), bool)
        top = self.high + 2 * band
        one, other = (np.clip(np.nan_to_num(v, nan=top, posinf=top), self.low, top) for v in (some, others))
        return np.asarray(np.abs(one - other) > band)
