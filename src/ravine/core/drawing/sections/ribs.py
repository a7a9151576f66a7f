"""Ribs that a section runs along are shown whole (ISO 128-3): no hatching over them, and the edge where they meet the
part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely import GeometryCollection, LineString, MultiPolygon, Polygon

from ...features.recogniser import features_of
from ...kernel.carriers import curve_points, read_curve
from ...kernel.queries import face_kind, plane_normal
from ...kernel.shapes import Shape, ShapeIndex, parts_of
from ...local.surfaces import Floats
from ...model.geometry import Solid
from ...sketch.plane_curves import PlaneCurve
from ..projection import ViewFrame, seen_curve
from .rings import ring_of

SQUARE = 1 - 1e-6  # cosine, from which the sides of a rib lie square to the eye
SMALL = 1e-6  # mm², areas below which are none


@dataclass(frozen=True, eq=False)
class RibProfile:
    """low, high: mm towards the eye, of its two sides; outline: of a side, as it is seen; edges: of that side, with
    their numbers."""

    low: float
    high: float
    outline: Polygon
    edges: tuple[tuple[PlaneCurve, int], ...]


def rib_profiles(solid: Solid, moved: Shape, frame: ViewFrame) -> list[RibProfile]:
    """Of ribs whose sides face the eye.  moved: the solid's shape where it is drawn."""
    index, found = ShapeIndex(moved), []
    for feature in features_of(solid.topology):
        if feature.kind != "rib":
            continue
        sides = [index.get("face", f) for f in feature.faces]
        sides = [
            f for f in sides if face_kind(f) == "plane" and abs(float(np.dot(plane_normal(f), frame.eye))) > SQUARE
        ]
        depths = [depth_of(f, frame) for f in sides]
        if len(sides) < 2 or max(depths) - min(depths) < SMALL:
            continue
        wire = next(iter(parts_of(sides[0], "wire")))
        edges = [(seen_curve(*read_curve(e), frame), index.find("edge", e)) for e in parts_of(wire, "edge")]
        known = [(curve, number) for curve, number in edges if curve is not None]
        ring = ring_of([curve for curve, _ in known])
        if len(ring) > 2:
            found.append(RibProfile(min(depths), max(depths), Polygon(ring).buffer(0), tuple(known)))
    return found


def depth_of(face: Shape, frame: ViewFrame) -> float:
    """Of a flat face square to the eye, mm towards it."""
    curve, first, _ = read_curve(next(iter(parts_of(face, "edge"))))
    return float(frame.depth(curve_points(curve, np.array([first])))[0])


def without_ribs(
    loops: Sequence[Floats], depth: float, ribs: Sequence[RibProfile]
) -> tuple[list[tuple[Floats, ...]], list[tuple[PlaneCurve, int]]]:  # fmt: skip
    """Cut matter as it is hatched, and the edges of ribs that end it there.  depth: of the cut, mm towards the eye."""
    area = Polygon(loops[0], loops[1:]).buffer(0)
    lines: list[tuple[PlaneCurve, int]] = []
    for rib in ribs:
        if not rib.low < depth < rib.high or not area.intersects(rib.outline):
            continue
        inside = area.buffer(-1e-3)
        for curve, number in rib.edges:
            line = LineString(curve.at(curve.steps(curve.first, curve.last)))
            if inside.intersection(line).length > line.length / 2:
                lines.append((curve, number))
        area = area.difference(rib.outline)
    if not lines:
        return [tuple(loops)], []
    parts = area.geoms if isinstance(area, (MultiPolygon, GeometryCollection)) else [area]
    return [tuple(np.array(r.coords)[:-1] for r in (p.exterior, *p.interiors))
            for p in parts if isinstance(p, Polygon) and p.area > SMALL], lines  # fmt: skip
