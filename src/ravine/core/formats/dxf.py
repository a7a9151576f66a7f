"""DXF drawings, in and out, through ezdxf: lines, rounds, ellipses, polylines with bulges, splines, blocks."""

from __future__ import annotations

import io
import math
from collections import Counter
from collections.abc import Iterable
from typing import Any

import ezdxf
import numpy as np
from ezdxf import recover
from ezdxf.math import Bezier4P, Vec3, bezier_to_bspline

from ..sketch.plane_curves import PlaneCurve
from ..sketch.strokes import Stroke, bezier_stroke, beziers
from ..units import LENGTHS
from .reading import Budget, Drawing, Imported, Progress, ReadOptions, drawing_from

UNITS = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m"}  # $INSUNITS
DEPTH = 12  # of blocks in blocks
SAMPLES = 8  # places for each piece of a spline
Point2 = tuple[float, float]

ezdxf.options.write_fixed_meta_data_for_testing = True  # neither time nor numbers drawn by lot: see bytes_of


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """The curves of the model space, looked at from above.  Raises FormatError."""
    progress(0.1, "reading the drawing")
    document, auditor = recover.readfile(path)
    warnings = []
    units = options.units or UNITS.get(document.header.get("$INSUNITS", 0))
    if units is None:
        units = "mm"
        warnings.append("the drawing does not say its unit; taken as mm")
    strokes: list[Stroke] = []
    left: Counter[str] = Counter()
    _collect(document.modelspace(), LENGTHS[units], strokes, left, Budget("DXF file"), 0)
    warnings += [f"{count} × {kind.lower()} left out: it is no curve" for kind, count in sorted(left.items())]
    if auditor.has_errors:
        warnings.append(f"{len(auditor.errors)} damaged entries of the file were skipped")
    return drawing_from(strokes, warnings)


def _collect(
    entities: Iterable[Any], scale: float, strokes: list[Stroke], left: Counter[str], budget: Budget, depth: int
) -> None:
    for entity in entities:
        budget.spend()
        kind = entity.dxftype()
        if kind in ("INSERT", "POLYLINE", "LWPOLYLINE"):
            if depth < DEPTH:
                _collect(entity.virtual_entities(), scale, strokes, left, budget, depth + 1)
            continue
        if kind == "SPLINE":
            strokes += _spline(entity.construction_tool(), scale)
            continue
        found = _stroke(entity, kind, scale)
        if found is None:
            left[kind] += 1
        else:
            strokes.append(found)


def _stroke(entity: Any, kind: str, scale: float) -> Stroke | None:
    def flat(v: Any) -> Point2:
        return (float(v.x) * scale, float(v.y) * scale)

    if kind == "LINE":
        return Stroke("line", (flat(entity.dxf.start), flat(entity.dxf.end)))
    if kind == "CIRCLE":
        return Stroke("circle", (flat(entity.ocs().to_wcs(entity.dxf.center)),), float(entity.dxf.radius) * scale)
    if kind == "ARC":
        ends = (flat(entity.start_point), flat(entity.end_point))
        below = float(entity.dxf.extrusion.z) < 0  # drawn seen from below: clockwise from above
        return Stroke("arc", (flat(entity.ocs().to_wcs(entity.dxf.center)), *(ends[::-1] if below else ends)))
    if kind == "ELLIPSE":
        middle, tip = flat(entity.dxf.center), flat(entity.dxf.center + entity.dxf.major_axis)
        span = (float(entity.dxf.start_param), float(entity.dxf.end_param))
        whole = abs(span[1] - span[0]) > 2 * math.pi - 1e-9
        if span[1] < span[0]:
            span = (span[0], span[1] + 2 * math.pi)
        if float(entity.dxf.extrusion.z) < 0:
            span = (-span[1], -span[0])
        size = math.dist(middle, tip) * float(entity.dxf.ratio)
        return Stroke("ellipse", (middle, tip), size, None if whole else span)
    return None


def _spline(curve: Any, scale: float) -> list[Stroke]:
    """Cubic ones exactly, piece by piece; others through places."""
    if curve.degree == 3 and not curve.is_rational and curve.is_clamped:
        rows = [np.array([(p.x, p.y) for p in row]) * scale for row in curve.bezier_decomposition()]
        return [bezier_stroke(row) for row in rows if float(np.ptp(row, axis=0).max()) > 1e-9]
    count = SAMPLES * max(1, curve.count - curve.order + 1) + 1
    places = tuple((p.x * scale, p.y * scale) for p in curve.points(np.linspace(0, curve.max_t, count)))
    return [Stroke("spline", places, rough=True)]


def write(drawing: Drawing) -> bytes:
    """In mm; splines exactly, as cubic B-splines."""
    document = ezdxf.new("R2010", units=4)
    space = document.modelspace()
    for curve in drawing:
        add_curve(space, curve)
    return bytes_of(document)


def bytes_of(document: Any) -> bytes:
    """Without the time and the numbers that are drawn by lot, so that the same drawing gives the same bytes."""
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode(document.output_encoding, "dxfreplace")


def add_curve(space: Any, curve: PlaneCurve, layer: str = "0") -> None:
    on = {"layer": layer}
    if curve.kind == "line":
        a, b = curve.at(np.array([0.0, 1.0])).tolist()
        space.add_line(a, b, on)
    elif curve.kind == "spline":
        pieces = [Bezier4P([Vec3(p) for p in row.tolist()]) for row in beziers(curve)]
        space.add_spline(dxfattribs=on).apply_construction_tool(bezier_to_bspline(pieces))
    elif curve.kind == "ellipse":
        x, y, first, last = curve.x, curve.y, curve.first, curve.last
        if np.hypot(*y) > np.hypot(*x):  # DXF wants the longer half axis first
            x, y, first, last = y, -x, first - math.pi / 2, last - math.pi / 2
        ratio = float(np.hypot(*y) / np.hypot(*x))
        space.add_ellipse((*curve.centre.tolist(), 0.0), (*x.tolist(), 0.0), ratio, first, last, on)
    elif curve.closed:
        space.add_circle(curve.centre.tolist(), curve.radius, on)
    else:
        ends = math.degrees(curve.first), math.degrees(curve.last)
        space.add_arc(curve.centre.tolist(), curve.radius, *ends, dxfattribs=on)
