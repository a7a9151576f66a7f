"""Curves of a view cut: to the inside of a circle, and where a long view is broken."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from ..local.surfaces import Floats
from ..sketch.plane_curves import TURN, ZERO, PlaneCurve, crossings
from .projection import on_paper

FAR = 1e5  # mm


def piece_of(curve: PlaneCurve, first: float, last: float) -> PlaneCurve:
    if curve.kind == "line":
        return replace(curve, centre=curve.centre + first * curve.x, x=(last - first) * curve.x)
    return replace(curve, first=first, last=last)


def circle(x: float, y: float, radius: float) -> PlaneCurve:
    return PlaneCurve(0, "round", 0.0, TURN, np.array([x, y]), np.array([radius, 0.0]), np.array([0.0, radius]))


def cut_at(curve: PlaneCurve, *borders: PlaneCurve) -> list[PlaneCurve]:
    """Its pieces between where it crosses the borders."""
    marks = sorted({curve.first, curve.last, *(t for border in borders for t, _ in crossings(curve, border))})
    return [piece_of(curve, a, b) for a, b in itertools.pairwise(marks) if b - a > 1e-9]


def middle_of(curve: PlaneCurve) -> Floats:
    return np.asarray(curve.at(np.array([(curve.first + curve.last) / 2]))[0])


def inside_circle(curve: PlaneCurve, rim: PlaneCurve) -> list[PlaneCurve]:
    return [c for c in cut_at(curve, rim) if np.hypot(*(middle_of(c) - rim.centre)) < rim.radius]


def rings_inside(loops: tuple[Floats, ...], rim: PlaneCurve) -> list[Floats]:
    return _rings(Polygon(loops[0], loops[1:]).buffer(0).intersection(Polygon(rim.line[1])))


def _rings(shape: BaseGeometry) -> list[Floats]:
    return [
        np.array(ring.coords)[:-1]
        for part in getattr(shape, "geoms", [shape]) if part.geom_type == "Polygon"
        for ring in (part.exterior, *part.interiors)
    ]  # fmt: skip


class Breaks:
    """Strips of a view that are left out, each (along x?, from, to) in mm, and what is beyond moved nearer.

    room: mm that stay free between the two sides."""

    def __init__(self, gaps: tuple[tuple[bool, float, float], ...], room: float) -> None:
        self.gaps = sorted(gaps, key=lambda g: -g[1])
        self.room = room

    def moved(self, place: Floats) -> Floats:
        """Where a place (2,) is drawn; one within a strip at its beginning."""
        found = np.array(place, float)
        for along, low, high in self.gaps:
            k = 0 if along else 1
            if found[k] >= high:
                found[k] -= high - low - self.room
            elif found[k] > low:
                found[k] = low
        return found

    def curves(self, curve: PlaneCurve) -> list[PlaneCurve]:
        rows = [curve]
        for along, low, high in self.gaps:
            k, kept = (0 if along else 1), []
            way = np.array([0.0, 1.0] if along else [1.0, 0.0])
            borders = [PlaneCurve(0, "line", 0.0, 1.0, np.where(way > 0, -FAR, v), 2 * FAR * way, ZERO)
                       for v in (low, high)]  # fmt: skip
            for row in rows:
                for piece in cut_at(row, *borders):
                    at = middle_of(piece)[k]
                    if at <= low:
                        kept.append(piece)
                    elif at >= high:
                        kept.append(
                            on_paper(piece, 1.0, (self.room + low - high) * np.array([along, not along], float))
                        )
            rows = kept
        return rows

    def rings(self, loops: tuple[Floats, ...]) -> list[list[Floats]]:
        """Of an area with its holes: the areas that are left."""
        shapes = [Polygon(loops[0], loops[1:]).buffer(0)]
        for along, low, high in self.gaps:
            kept = []
            for shape in shapes:
                for side in (-1, 1):
                    a, b = (-FAR, low) if side < 0 else (high, FAR)
                    part = shape.intersection(box(a, -FAR, b, FAR) if along else box(-FAR, a, FAR, b))
                    shift = 0.0 if side < 0 else self.room + low - high
                    for ring in getattr(part, "geoms", [part]):
                        if ring.geom_type == "Polygon" and ring.area > 0:
                            step = np.array([shift, 0.0]) if along else np.array([0.0, shift])
                            outer = np.array(ring.exterior.coords) + step
                            kept.append(Polygon(outer, [np.array(i.coords) + step for i in ring.interiors]))
            shapes = kept
        return [_rings(s) for s in shapes]
