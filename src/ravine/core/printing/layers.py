"""A body of triangles cut into layers, all at once: segments with the matter on their left, areas, outlines."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from ..local.surfaces import Floats

Ints = NDArray[np.int64]
WELD = 1e-5  # mm, within which ends of segments are one
LEVEL = 1e-9  # mm, by which a layer is moved off corners that lie in it


@dataclass(frozen=True, eq=False)
class Layers:
    """heights (n,): mm, of the planes, in the middle of each layer; segments (m, 2, 2) with the matter on the left;
    number (m,): of their layer; thick: mm of a layer."""

    heights: Floats
    segments: Floats
    number: Ints
    thick: float

    @cached_property
    def areas(self) -> Floats:
        """mm² of matter in each."""
        a, b = self.segments[:, 0], self.segments[:, 1]
        twice = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        return np.asarray(np.bincount(self.number, twice / 2, len(self.heights)), float)

    @cached_property
    def outlines(self) -> Floats:
        """mm of outline in each."""
        lengths = np.linalg.norm(self.segments[:, 1] - self.segments[:, 0], axis=1)
        return np.asarray(np.bincount(self.number, lengths, len(self.heights)), float)

    def shape(self, layer: int) -> BaseGeometry:
        """The matter of a layer as polygons with holes."""
        rows = self.segments[self._starts[layer] : self._starts[layer + 1]]
        rings = rings_of(rows)
        return area_of(rings)

    @cached_property
    def _starts(self) -> Ints:
        return np.searchsorted(self.number, np.arange(len(self.heights) + 1))


def cut_into_layers(corners: Floats, thick: float) -> Layers:
    """corners (n, 3, 3) mm of triangles, counter-clockwise seen from outside; the lowest layer lies on the least z."""
    z = corners[:, :, 2]
    low, high = float(z.min()), float(z.max())
    count = max(1, int(np.ceil((high - low) / thick - 1e-6)))
    first = low + thick / 2 + LEVEL
    heights = first + thick * np.arange(count)
    begins = np.ceil((z.min(axis=1) - first) / thick).astype(np.int64)
    ends = np.minimum(np.floor((z.max(axis=1) - first) / thick).astype(np.int64), count - 1)
    counts = np.maximum(ends - begins + 1, 0)
    of = np.repeat(np.arange(len(corners)), counts)
    layer = begins[of] + np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts)
    rows = corners[of]
    off = rows[:, :, 2] - heights[np.clip(layer, 0, count - 1)][:, None]
    above = off > 0
    cut = above.any(axis=1) & ~above.all(axis=1) & (layer >= 0)
    rows, layer, off, above = rows[cut], layer[cut], off[cut], above[cut]
    one = above.sum(axis=1) == 1
    lone = np.where(one, above.argmax(axis=1), (~above).argmax(axis=1))
    each = np.arange(len(rows))
    start, start_off = rows[each, lone], off[each, lone]
    ends_of = []
    for step in (1, 2):
        other = (lone + step) % 3
        share = (start_off / (start_off - off[each, other]))[:, None]
        ends_of.append((start + share * (rows[each, other] - start))[:, :2])
    a = np.where(one[:, None], ends_of[0], ends_of[1])
    b = np.where(one[:, None], ends_of[1], ends_of[0])
    order = np.argsort(layer, kind="stable")
    return Layers(np.asarray(heights, float), np.stack([a, b], axis=1)[order], layer[order], thick)


def rings_of(segments: Floats) -> list[Floats]:
    """Closed rings (k, 2) that follow the segments; what does not close is left out."""
    if not len(segments):
        return []
    keys = np.round(segments.reshape(-1, 2) / WELD).astype(np.int64)
    _, number = np.unique(keys, axis=0, return_inverse=True)
    number = number.reshape(-1, 2)
    after: dict[int, list[int]] = {}
    for k, (a, b) in enumerate(number.tolist()):
        if a != b:
            after.setdefault(a, []).append(k)
    found: list[Floats] = []
    while after:
        start = next(iter(after))
        at, ring = start, []
        while at in after:
            row = after[at]
            k = row.pop()
            if not row:
                del after[at]
            ring.append(segments[k, 0])
            at = int(number[k, 1])
            if at == start:
                found.append(np.array(ring))
                break
    return [r for r in found if len(r) > 2]


def area_of(rings: list[Floats]) -> BaseGeometry:
    """Rings lie within one another, matter and none by turns."""
    return shapely.build_area(shapely.MultiLineString([np.vstack([ring, ring[:1]]) for ring in rings]))
