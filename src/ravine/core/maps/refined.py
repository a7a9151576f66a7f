"""Patches cut finer where the figure jumps from one to the next, so that borders of bands are lines, not saw teeth."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from ..local.surfaces import Floats
from ..model.geometry import Geometry
from .patches import FINE, Patches, quartered
from .spread import Spread

ROUNDS = 4
MOST = 160_000  # patches
BESIDE = 0.8  # of the sum of their reaches lie the middles of cells that share a side
NEIGHBOURS = 12  # patches around one, with itself


def refined(
    geometry: Geometry, patches: Patches, values: Floats, measure: Callable[[Patches], Floats]
) -> tuple[Patches, Floats]:
    """values: of the patches, as `measure` gives them.  What lies behind a patch may be narrower than it is, so each is
    tried at its quarters first; then up to ROUNDS times those beside a jump are cut in four, as long as the patches
    stay below MOST."""
    size = float(np.ptp(patches.corners.reshape(-1, 3), axis=0).max())
    spread = Spread.of(values, patches.areas)
    wide = np.flatnonzero(_reach(patches) > size / FINE / 2)
    fresh, of = quartered(geometry, patches, wide, size)
    found = measure(fresh)
    differs = np.zeros(len(values), bool)
    differs[of[spread.apart(found, values[of])]] = True
    patches, values = _in_place_of(differs, patches, values, _chosen(fresh, differs[of]), found[differs[of]])
    for _ in range(ROUNDS):
        some = _beside_a_jump(patches, values, spread)
        if not some.any() or len(values) + 3 * int(some.sum()) > MOST:
            break
        fresh, _ = quartered(geometry, patches, np.flatnonzero(some), size)
        patches, values = _in_place_of(some, patches, values, fresh, measure(fresh))
    return patches, values


def _in_place_of(
    gone: NDArray[np.bool_], patches: Patches, values: Floats, fresh: Patches, found: Floats
) -> tuple[Patches, Floats]:
    rows = zip(_rows(_chosen(patches, ~gone)), _rows(fresh), strict=True)
    return Patches(*(np.concatenate(row) for row in rows)), np.concatenate([values[~gone], found])


def _chosen(patches: Patches, rows: NDArray[np.bool_]) -> Patches:
    return Patches(*(column[rows] for column in _rows(patches)))


def _rows(patches: Patches) -> tuple[NDArray, ...]:
    return patches.corners, patches.faces, patches.middles, patches.normals


def _beside_a_jump(patches: Patches, values: Floats, spread: Spread) -> NDArray[np.bool_]:
    """Patches with a neighbour on the same face whose figure is more than a band of the legend away, or is missing."""
    size = _reach(patches)
    away, beside = cKDTree(patches.middles).query(patches.middles, k=min(NEIGHBOURS, len(values)))
    same = (patches.faces[beside] == patches.faces[:, None]) & (away < BESIDE * (size[beside] + size[:, None]))
    jumps = same & spread.apart(values[beside], values[:, None])
    found = jumps.any(axis=1)
    found[beside[jumps]] = True  # a coarse one among many fine ones is seen from these alone
    return np.asarray(found)


def _reach(patches: Patches) -> Floats:
    """mm from the middle of each to its farthest corner."""
    found: Floats = np.linalg.norm(patches.corners - patches.middles[:, None], axis=2).max(axis=1)
    return found
