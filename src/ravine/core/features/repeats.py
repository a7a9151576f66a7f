"""Features that are alike, and how they are laid out: in a row, a grid, around an axis, mirrored."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from .feature import Feature

NEAR = 1e-4  # mm
BLENDS = ("fillet", "chamfer")  # of one size they are many and far apart, and no repeat


@dataclass(frozen=True)
class Repeat:
    """layout: row, grid, around, mirrored or alike; members: numbers in the list of features, in order; sizes: of the
    layout, mm and degrees (step, radius, angle, step_2)."""

    layout: str
    members: tuple[int, ...]
    sizes: dict[str, float]


def repeats_of(features: Sequence[Feature]) -> list[Repeat]:
    """Of two or more that share kind, form, sizes and direction."""
    groups: dict[tuple, list[int]] = {}
    for number, feature in enumerate(features):
        if feature.kind not in BLENDS:
            way = tuple(round(v, 5) + 0.0 for v in feature.way)
            groups.setdefault((feature.alike(), way), []).append(number)
    return [_laid(features, members) for members in groups.values() if len(members) > 1]


def _laid(features: Sequence[Feature], members: list[int]) -> Repeat:
    places = np.array([features[m].place for m in members])
    way = np.array(features[members[0]].way)
    flat = places - ((places - places[0]) @ way)[:, None] * way
    level = float(np.ptp(places @ way)) < NEAR
    for read in (_row, _around, _grid) if level else (_row,):
        found = read(flat if level else places, way, members)
        if found is not None:
            return found
    return Repeat("mirrored" if len(members) == 2 else "alike", tuple(members), {})


def _row(places: Floats, _: Floats, members: list[int]) -> Repeat | None:
    """At even steps along a line; two are mirrored rather than a row."""
    if len(places) < 3:
        return None
    centred = places - places.mean(axis=0)
    along = np.linalg.svd(centred)[2][0]
    heights = centred @ along
    if np.abs(centred - heights[:, None] * along).max() > NEAR:
        return None
    order = np.argsort(heights)
    steps = np.diff(heights[order])
    if np.ptp(steps) > NEAR:
        return None
    return Repeat("row", tuple(members[k] for k in order), {"step": float(steps.mean())})


def _around(places: Floats, way: Floats, members: list[int]) -> Repeat | None:
    """At even angles on a circle; four at the corners of an oblong are a grid."""
    if len(places) < 3:
        return None
    x = np.cross(way, np.eye(3)[int(np.abs(way).argmin())])
    x /= np.linalg.norm(x)
    spots = np.stack([places @ x, places @ np.cross(way, x)], axis=1)
    matrix = np.column_stack([2 * spots, np.ones(len(spots))])
    (u, v, _), *_rest = np.linalg.lstsq(matrix, (spots**2).sum(axis=1), rcond=None)
    away = np.hypot(spots[:, 0] - u, spots[:, 1] - v)
    angles = np.arctan2(spots[:, 1] - v, spots[:, 0] - u)
    order = np.argsort(angles)
    gaps = np.diff(np.append(angles[order], angles[order][0] + 2 * np.pi))
    if np.ptp(away) > NEAR or np.ptp(gaps) * away.mean() > 10 * NEAR:
        return None
    sizes = {"radius": float(away.mean()), "angle": float(np.degrees(gaps.mean()))}
    return Repeat("around", tuple(members[k] for k in order), sizes)


def _grid(places: Floats, way: Floats, members: list[int]) -> Repeat | None:
    """All places of two crossing rows at even steps."""
    if len(places) < 4:
        return None
    corner = places[np.lexsort(np.round(places, 4).T)[0]]
    off = places - corner
    length = np.linalg.norm(off, axis=1)
    first = off[np.argsort(length)[1]]
    along = first / np.linalg.norm(first)
    across = np.cross(way, along)
    rows = [np.unique(np.round(off @ w / NEAR / 10).astype(int)) * NEAR * 10 for w in (along, across)]
    if any(len(r) < 2 or np.ptp(np.diff(r)) > 20 * NEAR for r in rows) or len(rows[0]) * len(rows[1]) != len(places):
        return None
    sizes = {"step": float(np.diff(rows[0]).mean()), "step_2": float(np.diff(rows[1]).mean())}
    return Repeat("grid", tuple(members), sizes)
