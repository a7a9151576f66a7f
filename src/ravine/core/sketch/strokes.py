"""Drawings from elsewhere as curves of a sketch, and sketches as plain strokes for files."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from .drawing import Pen
from .entities import Point2
from .plane_curves import Floats, PlaneCurve

MEET = 1e-5  # mm within which ends of a drawing are one point


@dataclass(frozen=True)
class Stroke:
    """kind and places, mm:
    line     start, end
    circle   middle; size is the radius
    arc      middle, start, end, counterclockwise
    ellipse  middle, end of one half axis; size is the other; span in rad where it is not whole
    spline   places it runs through; four at even parameters give a cubic Bézier curve exactly

    rough: it only runs through places on the original
    """

    kind: str
    places: tuple[Point2, ...]
    size: float = 0.0
    span: Point2 | None = None
    rough: bool = False

    def scaled(self, factor: float) -> Stroke:
        places = tuple((x * factor, y * factor) for x, y in self.places)
        return replace(self, places=places, size=self.size * factor)


def lay(pen: Pen, strokes: Sequence[Stroke]) -> None:
    """Draws strokes; ends that coincide become one point, and what is too short to be seen is left out."""
    known: dict[tuple[int, int], int] = {}

    def point(place: Point2) -> int:
        key = (round(place[0] / MEET), round(place[1] / MEET))
        if key not in known:
            known[key] = pen.point(place)
        return known[key]

    for stroke in strokes:
        places = stroke.places
        if stroke.kind in ("line", "arc") and math.dist(places[-2], places[-1]) < 2 * MEET:
            continue
        if stroke.kind == "spline":
            places = tuple(p for k, p in enumerate(places) if not k or math.dist(p, places[k - 1]) > 2 * MEET)
            if len(places) < 2:
                continue
        size = math.dist(*places[:2]) if stroke.kind == "arc" else stroke.size
        pen.curve(stroke.kind, *(point(p) for p in places), size=size, span=stroke.span)


def bezier_stroke(controls: Floats) -> Stroke:
    """A cubic Bézier curve from its control places (4, 2)."""
    t = np.linspace(0, 1, 4)[:, None]
    places = (1 - t) ** 3 * controls[0] + 3 * t * (1 - t) ** 2 * controls[1]
    places = places + 3 * t**2 * (1 - t) * controls[2] + t**3 * controls[3]
    return Stroke("spline", tuple((float(x), float(y)) for x, y in places))


def beziers(flat: PlaneCurve) -> list[Floats]:
    """A spline as cubic Bézier curves (4, 2), exactly."""
    inner = np.arange(np.ceil(flat.first + 1e-9), flat.last - 1e-9)
    knots = np.array([flat.first, *inner, flat.last])
    at, slope = flat.at(knots), flat.slope(knots)
    third = np.diff(knots)[:, None] / 3
    rows = np.stack([at[:-1], at[:-1] + third * slope[:-1], at[1:] - third * slope[1:], at[1:]], axis=1)
    return list(rows)
