"""How wide a gap or a wall is where the pointer stands in a section."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from ..sketch.loops import polygon
from ..sketch.plane_curves import ZERO, PlaneCurve, crossings
from .exact import Figure
from .rings import inside

NEAR = 1e-7  # mm: closer than this, a crossing is the place the measure starts from


@dataclass(frozen=True)
class Width:
    """kind: wall (of one part), gap (between two parts, or across a hollow of one) or overlap (both parts have matter
    there); value mm; ends: (2,) each, in the plane; parts, nodes: names and text ids of those it is between, or of the
    wall's part."""

    kind: str
    value: float
    ends: tuple[tuple[float, float], tuple[float, float]]
    parts: tuple[str, ...]
    nodes: tuple[str, ...]


def width_at(figures: Sequence[Figure], place: Sequence[float]) -> Width | None:
    """From the nearest outline through the place to the one opposite, square to the first.  None where nothing lies
    opposite."""
    spot = np.array(place, float)
    rows = [(figure, curve) for figure in figures for curve in figure.curves()]
    if not rows:
        return None
    rough = [_box_gap(curve, spot) for _, curve in rows]
    best: tuple[float, int, Floats] | None = None
    for k in np.argsort(rough).tolist():
        if best is not None and rough[k] > best[0]:
            break
        curve = rows[k][1]
        foot = curve.at(np.array([curve.nearest(spot)]))[0]
        gap = float(np.hypot(*(spot - foot)))
        if best is None or gap < best[0]:
            best = (gap, k, foot)
    assert best is not None
    gap, at, start = best
    if gap < NEAR:
        return None
    way = (spot - start) / gap
    reach = 2 * float(np.ptp(np.array([c.box for _, c in rows]).reshape(-1, 2), axis=0).max()) + gap
    beam = PlaneCurve(0, "line", 0.0, 1.0, start, way * reach, ZERO)
    far: tuple[float, int] | None = None
    for k, (_, curve) in enumerate(rows):
        if not _boxes_meet(beam.box, curve.box):
            continue
        for share, _ in crossings(beam, curve):
            length = share * reach
            if length > gap - NEAR and (far is None or length < far[0]):
                far = (length, k)
    if far is None:
        return None
    length, other = far
    middle = start + way * length / 2
    holders = [f for f in figures if _in_matter(f, middle)]
    end = start + way * length
    ends = ((float(start[0]), float(start[1])), (float(end[0]), float(end[1])))
    kind = "overlap" if len(holders) > 1 else "wall" if holders else "gap"
    between = holders or list(dict.fromkeys((rows[at][0], rows[other][0])))
    return Width(kind, length, ends, tuple(f.name for f in between), tuple(f.node for f in between))


def _in_matter(figure: Figure, place: Floats) -> bool:
    count = 0
    for region in figure.regions:
        for loop in region.loops:
            count += inside(place, polygon(loop))
    return bool(count % 2)


def _box_gap(curve: PlaneCurve, spot: Floats) -> float:
    low, high = curve.box[:2], curve.box[2:]
    return float(np.hypot(*np.maximum(np.maximum(low - spot, spot - high), 0)))


def _boxes_meet(a: Floats, b: Floats) -> bool:
    return bool((a[:2] <= b[2:] + 1e-6).all() and (b[:2] <= a[2:] + 1e-6).all())
