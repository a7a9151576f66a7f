"""A whole sheet as ink: paper, views, what marks them, items.  What cannot be drawn says why and where it stood."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np

from ..bill.masses import part_masses
from ..errors import EditError, RavineError
from ..local.surfaces import Floats
from ..model.drawing_sheet import DrawnItem, DrawnSheet, DrawnView
from ..model.geometry import GeometryStore
from ..model.records import DRAWINGS, PARTS
from ..model.snapshot import Snapshot
from .drawn_view import BREAK, Drawn, draw_view, shown_in
from .hatching import ANGLES, STEP, hatch_lines
from .ink import GROUPS, Mark, Pen, beside
from .items import KINDS, Setting, Told
from .paper import Paper, frame_marks, title_block
from .projection import ViewFrame, on_paper
from .writing import InkedSheet

LETTER = 5.0  # mm of the letters of sections and details
CUT_END = 8.0  # mm of the wide ends of a cutting line


@dataclass
class SheetInk:
    """fixed: frame and title block; views, items: marks by id; told: what items measure, by id; faults: what could
    not be drawn, by id of view or item; boxes: of views on the sheet; notes: what is missing in a view."""

    paper: Paper
    group: str
    fixed: list[Mark] = field(default_factory=list)
    views: dict[int, list[Mark]] = field(default_factory=dict)
    items: dict[int, list[Mark]] = field(default_factory=dict)
    told: dict[int, Told] = field(default_factory=dict)
    faults: dict[int, str] = field(default_factory=dict)
    boxes: dict[int, tuple[float, float, float, float]] = field(default_factory=dict)
    notes: dict[int, tuple[str, ...]] = field(default_factory=dict)

    def marks(self) -> tuple[Mark, ...]:
        return (
            *self.fixed,
            *(m for row in self.views.values() for m in row),
            *(m for row in self.items.values() for m in row),
        )

    def inked(self, name: str) -> InkedSheet:
        natives = {i: t.native for i, t in self.told.items() if t.native is not None}
        return InkedSheet(name, self.paper, self.group, self.marks(), natives)


def group_of(sheet: DrawnSheet) -> str:
    """Of line widths: what was said, else what suits the paper (ISO 128-2)."""
    said = sheet.says.get("group", "")
    return said if said in GROUPS else "0.7" if sheet.size in ("A0", "A1", "ANSI D", "ANSI E") else "0.5"


def _quietly(fraction: float, words: str) -> None:
    return None


def ink_sheet(
    snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet,
    progress: Callable[[float, str], None] = _quietly,
) -> SheetInk:  # fmt: skip
    paper = Paper.of(sheet.size)
    ink = SheetInk(paper, group_of(sheet))
    ink.fixed = [*frame_marks(paper), *title_block(paper, said_of(snapshot, geometry, sheet), sheet.first)]
    for k, view in enumerate(sheet.views.values()):
        progress(k / (len(sheet.views) + 1), f"drawing view {k + 1} of {len(sheet.views)}")
        ink_view(snapshot, geometry, sheet, view, ink)
    for item in sheet.items.values():
        ink_item(snapshot, geometry, sheet, item, ink)
    return ink


def said_of(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet) -> Mapping[str, str]:
    """The title block: what was written, else what the model knows."""
    shown = {o.body.id for v in sheet.views.values() for o in shown_in(snapshot, v)}
    scale = usual_scale(sheet)
    sheets = list(snapshot.kept(DRAWINGS))
    at = sheets.index(sheet.id) + 1 if sheet.id in sheets else 1
    known = {"sheet": f"{at} / {max(len(sheets), 1)}", "type": "Assembly drawing" if len(shown) > 1 else "Part drawing",
             "title": _called(snapshot) or sheet.name, "tolerances": "ISO 2768-m"}  # fmt: skip
    if scale:
        known["scale"] = scale_words(scale)
    if len(shown) == 1:
        body = snapshot.body(next(iter(shown)))
        data = snapshot.kept(PARTS).get(body.id)
        masses = part_masses(snapshot, geometry)
        mass = next((masses.get(o.node.id) for o in snapshot.occurrences(body.id)), None)
        known["material"] = body.material or ""
        known["mass"] = "" if mass is None else f"{mass:.3g} kg"
        known["title"] = body.name
        if data is not None:
            known["number"] = data.part_number or data.stock_number
    return {**known, **{k: v for k, v in sheet.says.items() if v}}


def _called(snapshot: Snapshot) -> str:
    """The one group that holds all, where there is one."""
    return snapshot.nodes[snapshot.roots[0]].name if len(snapshot.roots) == 1 else ""


def usual_scale(sheet: DrawnSheet) -> float | None:
    """Of the first view, which others need not say."""
    return next((v.scale for v in sheet.views.values() if v.parent is None and v.kind == "plain"), None)


def scale_words(scale: float) -> str:
    return f"{scale:.4g}:1" if scale >= 1 else f"1:{1 / scale:.4g}"


def ink_view(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, view: DrawnView, ink: SheetInk) -> None:
    pen = Pen("visible", view.id)
    ink.views[view.id] = pen.marks
    try:
        drawn = draw_view(snapshot, geometry, sheet, view)
    except RavineError as error:
        ink.faults[view.id] = str(error)
        ink.boxes[view.id] = (view.at[0] - 10, view.at[1] - 10, view.at[0] + 10, view.at[1] + 10)
        return
    ink.notes[view.id] = drawn.missing
    shift = np.array(view.at)
    if view.circle is not None:
        shift = shift - view.scale * np.array(view.circle[:2])
    for line in drawn.lines:
        pen.curve(on_paper(line.curve, view.scale, shift), line.layer, source=line.source)
    parts = sorted({a.part for a in drawn.areas})
    for area in drawn.areas:
        loops = [view.scale * ring + shift for ring in area.loops]
        _hatch(pen, loops, ANGLES[parts.index(area.part) % len(ANGLES)])
    low_x, low_y, high_x, high_y = drawn.box
    ink.boxes[view.id] = (view.scale * low_x + shift[0], view.scale * low_y + shift[1],
                          view.scale * high_x + shift[0], view.scale * high_y + shift[1])  # fmt: skip
    _rims(pen, view, drawn, ink.boxes[view.id])
    _name(pen, sheet, view, ink.boxes[view.id])
    for child in sheet.views.values():
        if child.parent == view.id and child.letter and child.kind in ("section", "detail"):
            _mark_child(pen, view, child, shift, ink.boxes[view.id])


def _hatch(pen: Pen, loops: list[Floats], angle: float) -> None:
    spread = float(np.ptp(np.concatenate(loops), axis=0).max())
    step = STEP if spread < 120 else 2 * STEP
    for a, b in hatch_lines(loops, angle, step):
        pen.line(a, b, "hatch")


def _rims(pen: Pen, view: DrawnView, drawn: Drawn, box: tuple[float, float, float, float]) -> None:
    """The circle around a detail, and the zigzag where a view is broken."""
    if view.circle is not None:
        pen.arc(view.at, view.scale * view.circle[2], layer="smooth")
    for along, low, _ in view.gaps:
        at = view.scale * low + view.at[0 if along else 1]
        for off in (0.0, BREAK):
            spots = (
                [(at + off, box[1] - 3), (at + off, box[3] + 3)]
                if along
                else [(box[0] - 3, at + off), (box[2] + 3, at + off)]
            )
            pen.path(_zigzag(np.array(spots[0]), np.array(spots[1])), "smooth")


def _zigzag(a: Floats, b: Floats) -> list[Floats]:
    way = (b - a) / np.hypot(*(b - a))
    side, middle = np.array([-way[1], way[0]]), (a + b) / 2
    return [
        a,
        middle - 1.5 * way,
        middle - 0.75 * way + 2 * side,
        middle + 0.75 * way - 2 * side,
        middle + 1.5 * way,
        b,
    ]


def _name(pen: Pen, sheet: DrawnSheet, view: DrawnView, box: tuple[float, float, float, float]) -> None:
    """Above the view: letters of sections and details, its scale where that is another than the sheet's."""
    usual = usual_scale(sheet) or view.scale
    words = ""
    if view.kind == "section":
        words = f"{view.letter}–{view.letter}"
    elif view.kind == "detail":
        words = view.letter
    elif view.kind == "flat":
        words = "Flat"
    if abs(view.scale - usual) > 1e-9:
        words = f"{words} ({scale_words(view.scale)})".strip()
    if words:
        high = max(box[3], view.at[1] + view.scale * view.circle[2]) if view.circle else box[3]
        pen.text(words, ((box[0] + box[2]) / 2, high + 4.0), LETTER, "middle", layer="notes")


def _mark_child(
    pen: Pen, view: DrawnView, child: DrawnView, shift: Floats, box: tuple[float, float, float, float]
) -> None:  # fmt: skip
    """Where a section cuts this view, or what a detail shows of it."""
    if child.kind == "detail" and child.circle is not None:
        x, y, radius = child.circle
        middle, reach = view.scale * np.array([x, y]) + shift, view.scale * radius
        pen.arc(middle, reach, layer="smooth")
        pen.text(
            child.letter, middle + (reach + 1.5) * np.array([math.sqrt(0.5), math.sqrt(0.5)]), LETTER, layer="notes"
        )
        return
    corners = [view.scale * np.array(p) + shift for p in child.cut]
    toward = ViewFrame.of(view).way(np.array(child.eye))
    if len(corners) < 2 or np.hypot(*toward) < 0.5:
        return
    toward = toward / np.hypot(*toward)
    first, last = corners[0] - corners[1], corners[-1] - corners[-2]
    first, last = first / np.hypot(*first), last / np.hypot(*last)
    if not child.half:
        corners[0], corners[-1] = _out(corners[0], first, box), _out(corners[-1], last, box)
    pen.path(corners, "cutting")
    for k, corner in enumerate(corners):  # wide at its ends and where it turns
        for other in corners[max(k - 1, 0) : k + 2]:
            off = other - corner
            if np.hypot(*off) > 1e-6:
                reach = min(CUT_END if k in (0, len(corners) - 1) else CUT_END / 2, np.hypot(*off) / 2)
                pen.line(corner, corner + reach * off / np.hypot(*off), "cutting ends")
    for end, away in ((corners[0], first), (corners[-1], last)):
        tip = end - CUT_END / 2 * away
        tail = tip + 12.0 * toward
        pen.line(tip, tail, "cutting ends", wide=False)
        pen.arrow(tip, -toward, 4.0)
        spot = tail + 3.0 * toward + 2.0 * away
        pen.text(child.letter, spot - (0.0, LETTER / 2), LETTER, "middle", layer="notes")


def _out(corner: Floats, way: Floats, box: tuple[float, float, float, float]) -> Floats:
    """Along the line until it is 6 mm outside the view."""
    reach = 0.0
    for k in (0, 1):
        if abs(way[k]) > 1e-6:
            border = box[k + 2] if way[k] > 0 else box[k]
            reach = max(reach, (border - corner[k]) / way[k])
    return np.asarray(corner + (max(reach, 0.0) + 6.0) * way)


def ink_item(snapshot: Snapshot, geometry: GeometryStore, sheet: DrawnSheet, item: DrawnItem, ink: SheetInk) -> None:
    layer = {"note": "notes", "centre": "centre", "bolt circle": "centre", "balloon": "notes"}.get(
        item.kind, "tables" if item.kind in ("parts list", "hole table", "bend table", "revisions") else "dimensions"
    )
    setting = Setting(snapshot, geometry, sheet, item, Pen(layer, item.id))
    try:
        ink.told[item.id] = KINDS[item.kind](setting)
        ink.items[item.id] = setting.pen.marks
    except (EditError, RavineError) as error:
        ink.faults[item.id] = str(error)
        ink.items[item.id] = _lost(item, sheet)


def _lost(item: DrawnItem, sheet: DrawnSheet) -> list[Mark]:
    """What lost its edge stays, marked, where it stood."""
    pen = Pen("dimensions", item.id)
    view = sheet.views.get(item.view or 0)
    at = np.array(item.at) + (np.array(view.at) if view is not None else 0.0)
    pen.box(at - (4.0, 3.0), beside(at, 4.0, 3.0))
    pen.text("?", at - (0.0, 1.75), 3.5, "middle")
    return pen.marks
