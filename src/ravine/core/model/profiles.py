"""Areas of sketches as the rest of the model uses them: kept while a sketch stays the same, and as plane faces."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kernel.profile import Segment, plane_edge, plane_face
from ..kernel.shapes import Shape
from ..sketch.entities import Curve, Plane, Sketch
from ..sketch.plane_curves import plane_curve
from ..sketch.regions import BoundaryPiece, Loop, Region


def face_of(plane: Plane, region: Region) -> Shape:
    """The area as a plane face in model coordinates, its normal along the plane's."""
    return plane_face(plane.origin, plane.x, plane.y, [_segments(loop) for loop in (region.outer, *region.holes)])


def curve_edge(sketch: Sketch, curve: Curve) -> Shape | None:
    """A whole curve as an edge in model coordinates; None for a dot."""
    flat = plane_curve(sketch, curve)
    if flat is None:
        return None
    plane = sketch.plane
    return plane_edge(plane.origin, plane.x, plane.y, _segment(BoundaryPiece(flat, flat.first, flat.last)))


def _segments(loop: Loop) -> list[Segment]:
    return [_segment(p) for p in _joined(loop)]


def _joined(loop: Loop) -> Sequence[BoundaryPiece]:
    """A loop that is one whole circle or ellipse comes in halves: as one again."""
    first = loop[0]
    whole = all(p.curve is first.curve for p in loop) and first.curve.closed and first.curve.kind != "spline"
    if not whole:
        return loop
    forward = first.last > first.first
    low, high = first.curve.first, first.curve.last
    return [BoundaryPiece(first.curve, low, high) if forward else BoundaryPiece(first.curve, high, low)]


def _segment(piece: BoundaryPiece) -> Segment:
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
