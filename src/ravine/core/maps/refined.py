"""Patches cut finer where the figure jumps from one to the next, so that borders of bands are lines, not saw teeth."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from ..local.surfaces import Floats
from ..model.geometry import Geometry
from .patches import MOST, Patches, quartered

ROUNDS = 4
NEIGHBOURS = 7  # patches around one, with itself
BANDS = 11  # of the legend: a step within one of them is not seen


def refined(
    geometry: Geometry, patches: Patches, values: Floats, measure: Callable[[Patches], Floats]
) -> tuple[Patches, Floats]:
    """values: of the patches, as `measure` gives them.  Up to ROUNDS times those beside a jump are cut in four, as long
    as the patches stay below MOST."""
    for _ in range(ROUNDS):
        some = _beside_a_jump(patches, values)
        if not some.any() or len(values) + 3 * int(some.sum()) > MOST:
            break
        fresh = quartered(geometry, patches, some)
        values = np.concatenate([values[~some], measure(fresh)])
        kept = (getattr(patches, name)[~some] for name in ("corners", "faces", "middles", "normals"))
        joined = (np.concatenate(rows) for rows in zip(kept, _rows(fresh), strict=True))
        patches = Patches(*joined)
    return patches, values


def _rows(patches: Patches) -> tuple[NDArray, ...]:
    return patches.corners, patches.faces, patches.middles, patches.normals


def _beside_a_jump(patches: Patches, values: Floats) -> NDArray[np.bool_]:
    """Patches with a neighbour on the same face whose figure is more than a band of the legend away, or is missing."""
    known = values[np.isfinite(values)]
    if len(known) < 2:
        return np.zeros(len(values), bool)
    low, high = np.quantile(known, (0.02, 0.9))
    band = (high - low) / BANDS
    if band <= 1e-9 * max(abs(low), abs(high), 1e-12):
        return np.zeros(len(values), bool)
    size = np.linalg.norm(patches.corners - patches.middles[:, None], axis=2).max(axis=1)
    away, beside = cKDTree(patches.middles).query(patches.middles, k=min(NEIGHBOURS, len(values)))
    same = (patches.faces[beside] == patches.faces[:, None]) & (away < (size[beside] + size[:, None]))
    clipped = np.clip(np.nan_to_num(values, nan=high + 2 * band, posinf=high + 2 * band), low, high + 2 * band)
    return (same & (np.abs(clipped[beside] - clipped[:, None]) > band)).any(axis=1)
