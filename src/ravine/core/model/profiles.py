"""Areas of sketches as the rest of the model uses them: kept while a sketch stays the same, and as plane faces."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from ..errors import EditError
from ..kernel.profile import Segment, plane_edge, plane_face
from ..kernel.shapes import Shape
from ..sketch.entities import Curve, Plane, Sketch
from ..sketch.plane_curves import plane_curve
from ..sketch.regions import Loop, Piece, Region, regions
from ..sketch.solver import Freedom, freedom
from .snapshot import area_place

MANY = 400  # curves


@lru_cache(maxsize=64)
def _areas(text: str) -> tuple[Region, ...]:
    return tuple(regions(Sketch.from_json(json.loads(text))))


def regions_of_sketch(sketch: Sketch) -> tuple[Region, ...]:
    """The largest first."""
    return _areas(json.dumps(sketch.to_json()))


@lru_cache(maxsize=64)
def _freedom(text: str) -> Freedom:
    return freedom(Sketch.from_json(json.loads(text)))


def freedom_of_sketch(sketch: Sketch) -> Freedom | None:
    """None for a sketch so large that it would be felt with every look."""
    return _freedom(json.dumps(sketch.to_json())) if len(sketch.curves) <= MANY else None


def region_named(sketch: Sketch, ident: str) -> Region:
    """The area a name points at.  Raises EditError when there is none any more."""
    place = area_place(ident)
    found = next((a for a in reversed(regions_of_sketch(sketch)) if a.covers(place)), None)
    if found is None:
        raise EditError(f"no closed area of {sketch.name} lies around {place[0]:g}, {place[1]:g} any more", [ident])
    return found


def face_of(plane: Plane, region: Region) -> Shape:
    """The area as a plane face in model coordinates, its normal along the plane's."""
    return plane_face(plane.origin, plane.x, plane.y, [_segments(loop) for loop in (region.outer, *region.holes)])


def curve_edge(sketch: Sketch, curve: Curve) -> Shape | None:
    """A whole curve as an edge in model coordinates; None for a dot."""
    flat = plane_curve(sketch, curve)
    if flat is None:
        return None
    plane = sketch.plane
    return plane_edge(plane.origin, plane.x, plane.y, _segment(Piece(flat, flat.first, flat.last)))


def _segments(loop: Loop) -> list[Segment]:
    return [_segment(p) for p in _joined(loop)]


def _joined(loop: Loop) -> Sequence[Piece]:
    """A loop that is one whole circle or ellipse comes in halves: as one again."""
    first = loop[0]
    whole = all(p.curve is first.curve for p in loop) and first.curve.closed and first.curve.kind != "spline"
    if not whole:
        return loop
    forward = first.last > first.first
    low, high = first.curve.first, first.curve.last
    return [Piece(first.curve, low, high) if forward else Piece(first.curve, high, low)]


def _segment(piece: Piece) -> Segment:
    curve = piece.curve
    if curve.kind == "line":
        return Segment("line", piece.ends())
    if curve.spline is not None:
        low, high = min(piece.first, piece.last), max(piece.first, piece.last)
        inner = np.arange(np.ceil(low + 1e-9), high - 1e-9)  # knots stand at whole numbers
        t = np.array([low, *inner, high])
        places, slopes = curve.at(t), curve.slope(t[[0, -1]])
        return Segment("spline", places, knots=t, slopes=slopes, backwards=piece.last < piece.first)
    frame = np.array([curve.centre, curve.x, curve.y])
    return Segment(curve.kind, frame, knots=np.array([piece.first, piece.last]))
