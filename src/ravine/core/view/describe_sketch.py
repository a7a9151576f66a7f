"""What is picked of a sketch, in words and measures."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from ..edits.base import PickSummary
from ..model.sketch_regions import freedom_of_sketch, region_named
from ..model.snapshot import Snapshot, split_id
from ..model.words import plural
from ..sketch.constraints import FORMS
from ..sketch.entities import Sketch
from ..sketch.plane_curves import plane_curve
from ..units import LENGTHS, format_area, format_length
from .description import Description

Rows = list[tuple[str, str]]


def describe_sketch_pick(snapshot: Snapshot, ids: Sequence[str]) -> Description:
    """ids: a sketch, or areas, curves, points or constraints of one.  Raises EditError for unknown ones."""
    kinds = [split_id(i)[0] for i in ids]
    kind, number = split_id(ids[0])
    sketch = snapshot.sketch(number) if kind in ("sketch", "area") else snapshot.sketch_with(kind, number)
    summary = PickSummary("curve" if "curve" in kinds else kind, len(ids))
    if kind == "sketch":
        summary = replace(summary, pictured=sketch.picture is not None)
        return Description(sketch.name, _state(sketch), tuple(_sketch_rows(sketch)), summary)
    rows: Rows = []
    word = kind
    if kind == "area":
        total = sum(region_named(sketch, i).amount for i in ids)
        rows.append(("Area", format_area(total, snapshot.units)))
    elif kind == "curve":
        word = sketch.curve(number).kind if len(ids) == 1 else "curve"
        rows += _curve_rows(snapshot, sketch, [split_id(i)[1] for i in ids if i[0] == "c"])
    elif kind == "point":
        rows += _point_rows(snapshot, sketch, [split_id(i)[1] for i in ids if i[0] == "p"])
    if kind in ("curve", "point") and len(ids) == 1:
        free = freedom_of_sketch(sketch)
        held = [r for r in sketch.constraints.values() if number in r.on]
        rows.append(("Rules", ", ".join(FORMS[r.kind].words for r in held[:4]) or "none"))
        if free is not None:
            rows.append(("Free", "held" if not free.of[number] else f"in {plural(free.of[number], 'way')}"))
    return Description(plural(len(ids), word), f"of {sketch.name}.", tuple(rows), summary)


def _state(sketch: Sketch) -> str:
    free = freedom_of_sketch(sketch)
    if not sketch.curves:
        return "empty; draw in it."
    return "" if free is None else "fully held." if not free.degrees else f"free in {plural(free.degrees, 'way')}."


def _sketch_rows(sketch: Sketch) -> Rows:
    return [("Curves", str(len(sketch.curves))), ("Rules", str(len(sketch.constraints)))]


def _curve_rows(snapshot: Snapshot, sketch: Sketch, numbers: Sequence[int]) -> Rows:
    length = 0.0
    for number in numbers:
        flat = plane_curve(sketch, sketch.curve(number))
        if flat is not None:
            places = flat.at(flat.steps(flat.first, flat.last, fine=True))
            round_ = flat.kind == "round"
            length += flat.radius * (flat.last - flat.first) if round_ else sum(map(math.dist, places[1:], places[:-1]))
    rows = [("Length", format_length(length, snapshot.units))]
    only = sketch.curve(numbers[0])
    if len(numbers) == 1 and only.kind in ("circle", "arc"):
        rows.append(("Diameter", f"Ø {format_length(2 * only.size, snapshot.units)}"))
    return rows


def _point_rows(snapshot: Snapshot, sketch: Sketch, numbers: Sequence[int]) -> Rows:
    unit = LENGTHS[snapshot.units]
    if len(numbers) == 1:
        x, y = sketch.points[numbers[0]]
        return [("Across", f"{x / unit:.6g} {snapshot.units}"), ("Up", f"{y / unit:.6g} {snapshot.units}")]
    if len(numbers) == 2:
        return [("Distance", format_length(math.dist(*(sketch.points[n] for n in numbers)), snapshot.units))]
    return []
