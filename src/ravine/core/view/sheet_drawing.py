"""A sheet for the page: what is drawn, as SVG by view and by item, and what each is and says."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from ..drawing.ink import LAYERS, Mark, Stroke
from ..drawing.layout import DIRECTIONS
from ..drawing.paper import Paper
from ..drawing.sheet import SheetInk, group_of, ink_item, scale_words
from ..drawing.writing import InkedSheet, svg_mark
from ..model.drawing_sheet import DrawnItem, DrawnSheet, DrawnView
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot

SAME = 0.3  # mm on the paper, between middles that the hand cannot tell apart


def sheet_drawing(sheet: DrawnSheet, ink: SheetInk) -> dict[str, Any]:
    """Places are mm on the paper, y up; the SVG has y down from the lower left corner."""
    inked = ink.inked(sheet.name)
    return {
        "id": sheet.id, "name": sheet.name, "size": sheet.size, "first": sheet.first,
        "wide": ink.paper.wide, "high": ink.paper.high, "says": dict(sheet.says),
        "fixed": _svg(inked, ink.fixed),
        "views": [_view(sheet, ink, inked, number) for number in sheet.views],
        "items": [_item(sheet, ink, inked, number) for number in sheet.items],
    }  # fmt: skip


def view_name(sheet: DrawnSheet, view: DrawnView) -> str:
    """From where it looks, or what it is of others."""
    if view.kind == "section":
        return f"Section {view.letter}–{view.letter}"
    if view.kind == "detail":
        return f"Detail {view.letter}"
    if view.kind == "flat":
        return "Flat"
    known = next((name for name, (eye, _) in DIRECTIONS.items() if math.dist(eye, view.eye) < 1e-6), "Askew")
    return f"{known.capitalize()}{', apart' if view.apart else ''}"


def _view(sheet: DrawnSheet, ink: SheetInk, inked: InkedSheet, number: int) -> dict[str, Any]:
    view = sheet.views[number]
    return {
        "id": number, "name": view_name(sheet, view), "kind": view.kind, "letter": view.letter,
        "scale": scale_words(view.scale), "at": view.at, "factor": view.scale, "hidden": view.hidden,
        "smooth": view.smooth, "parent": view.parent,
        "middle": list(view.circle[:2]) if view.circle else [0.0, 0.0], "box": ink.boxes.get(number),
        "fault": ink.faults.get(number, ""), "notes": list(ink.notes.get(number, ())), "broken": bool(view.gaps),
        "rounds": _rounds(ink.views.get(number, [])), "svg": _svg(inked, ink.views.get(number, [])),
    }  # fmt: skip


def _rounds(marks: Iterable[Mark]) -> list[tuple[float, float]]:
    """Middles of the rounds that a view shows, each once, by the arc that shows it best: where cutting lines turn."""
    curves = [m.curve for m in marks if isinstance(m, Stroke) and m.source and m.curve.kind == "round"]
    found: list[tuple[float, float]] = []
    for curve in sorted(curves, key=lambda c: c.first - c.last):
        x, y = (round(float(v), 6) for v in curve.centre)
        if all(math.dist((x, y), other) > SAME for other in found):
            found.append((x, y))
    return found


def _item(sheet: DrawnSheet, ink: SheetInk, inked: InkedSheet, number: int) -> dict[str, Any]:
    item = sheet.items[number]
    told = ink.told.get(number)
    return {
        "id": number, "kind": item.kind, "view": item.view, "on": list(item.on), "at": item.at,
        "words": dict(item.words), "says": told.text if told else "", "value": told.value if told else None,
        "fault": ink.faults.get(number, ""), "svg": _svg(inked, ink.items.get(number, [])),
    }  # fmt: skip


def item_drawing(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, item: DrawnItem) -> dict[str, Any]:
    """One of a sheet alone, while the hand moves it."""
    ink = SheetInk(Paper.of(sheet.size), group_of(sheet))
    ink_item(snapshot, geometry, sheet, item, ink)
    told = ink.told.get(item.id)
    fault = ink.faults.get(item.id, "")
    return {"svg": _svg(ink.inked(sheet.name), ink.items[item.id]), "says": told.text if told else "", "fault": fault}


def _svg(inked: InkedSheet, marks: Iterable[Mark]) -> str:
    """Lines that know what they are of have a wide twin to point at."""
    rows = []
    order = list(LAYERS)
    for mark in sorted(marks, key=lambda m: order.index(m.layer)):
        drawn = svg_mark(inked, mark)
        if isinstance(mark, Stroke) and mark.source:
            path = drawn.split('"')[1]
            drawn += f'<path class="touch" data-source="{mark.source}" d="{path}"/>'
        rows.append(drawn)
    return "".join(rows)
