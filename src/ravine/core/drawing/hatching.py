"""Hatch lines across outlines: explicit, since patterns of one format are unknown to another (ISO 128-3)."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ..local.surfaces import Floats

ANGLES = (45.0, 135.0, 30.0, 120.0, 60.0, 150.0)  # degrees; neighbours in the list of parts differ
STEP = 2.5  # mm on paper


def hatch_lines(loops: Sequence[Floats], angle: float, step: float = STEP) -> Floats:
    """loops: closed rings (n, 2) of an area with its holes; angle: degrees.  Returns (m, 2, 2): starts and ends."""
    lean = math.radians(angle)
    turn = np.array([[math.cos(lean), math.sin(lean)], [-math.sin(lean), math.cos(lean)]])
    turned = [p @ turn.T for p in loops]  # once: a corner has the same height for both its sides, to the last digit
    a = np.concatenate(turned)
    b = np.concatenate([np.roll(p, -1, axis=0) for p in turned])
    low, high = np.minimum(a[:, 1], b[:, 1]), np.maximum(a[:, 1], b[:, 1])
    first = np.ceil(low / step - 1e-9).astype(int)
    count = np.maximum(np.floor(high / step + 1e-9).astype(int) - first + 1, 0)
    of = np.repeat(np.arange(len(a)), count)
    level = (first[of] + np.arange(len(of)) - np.repeat(np.cumsum(count) - count, count)) * step
    crossed = (low[of] <= level) & (level < high[of])
    of, level = of[crossed], level[crossed]
    x = a[of, 0] + (level - a[of, 1]) / (b[of, 1] - a[of, 1]) * (b[of, 0] - a[of, 0])
    order = np.lexsort((x, level))
    places = np.column_stack([x[order], level[order]]) @ turn
    return places[: len(places) // 2 * 2].reshape(-1, 2, 2)
