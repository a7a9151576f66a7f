"""Areas of sketches as the rest of the model uses them: kept while a sketch stays the same, and as plane faces."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kernel.profile import Segment, plane_edge, plane_face
from ..kernel.shapes import Shape
from ..sketch.entities import Curve, Plane, Sketch
from ..sketch.loops import followed
from ..sketch.plane_curves import Floats, PlaneCurve, plane_curve
from ..sketch.regions import BoundaryPiece, Loop, Region


def face_of(plane: Plane, region: Region) -> Shape:
    """The area as a plane face in model coordinates, its normal along the plane's."""
    return plane_face(plane.origin, plane.x, plane.y, [_segments(loop) for loop in (region.outer, *region.holes)])


def face_within(plane: Plane, loops: Sequence[Sequence[PlaneCurve]]) -> Shape:
    """The area between curves that follow one another, the outer loop first, as a plane face.  Where their ends are a
    little apart, lines and splines are led to the others."""
    rows = []
    for loop in loops:
        ways = [(c, (c.last, c.first) if back else (c.first, c.last)) for c, back in followed(loop)]
        row = [_segment(BoundaryPiece(curve, *way)) for curve, way in ways]
        ends = [curve.at(np.array(way)) for curve, way in ways]
        for k in range(len(row) if len(row) > 1 else 0):
            after = (k + 1) % len(row)
            if row[after].kind in ("line", "spline"):
                _lead(row[after], 0, ends[k][1])
            elif row[k].kind in ("line", "spline"):
                _lead(row[k], -1, ends[after][0])
        rows.append(row)
    return plane_face(plane.origin, plane.x, plane.y, rows)


def _lead(segment: Segment, end: int, place: Floats) -> None:
    """end: 0 or -1, in the way it runs."""
    segment.places[(-1 - end) if segment.backwards else end] = place


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
