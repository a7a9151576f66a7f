"""Sheets of drawings as they look now."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from ..drawing import items, offers, writing
from ..drawing import sheet as sheets
from ..edits.declared import field
from ..edits.fields import EntryField, IdsField, PairsField, TextField, WordsField
from ..edits.fields.shared import SHEET
from ..errors import EditError
from ..model.drawing_sheet import DrawnItem
from ..operations import drawing_sheets, drawing_views
from ..operations.work import Work
from ..view import sheet_drawing
from .base import Study, study

VIEW = EntryField("the view", "Its number.", default=None)
ON = IdsField("the edges", "With the places that show them: e12@n5.", default=())
NEAR = PairsField("places", "In the view, mm, where each was picked.", default=())


@study
class SheetDrawing(Study):
    name = "sheet drawing"
    help = (
        "A sheet as it is drawn: paper, views and what is written on them as SVG, what each measures and says, and why "
        "what cannot be drawn is not."
    )
    seconds = 120.0
    follows = True

    sheet: str | None = field(SHEET)

    def run(self, work: Work) -> dict[str, Any]:
        sheet = drawing_sheets.sheet_called(work.snapshot, self.sheet or "")
        ink = sheets.ink_sheet(work.snapshot, work.geometry, sheet, work.progress)
        told = sheets.said_of(work.snapshot, work.geometry, sheet)
        return {**sheet_drawing.sheet_drawing(sheet, ink), "told": dict(told)}


@study
class SheetPicture(Study):
    name = "sheet picture"
    help = "A sheet alone, as an SVG file."
    seconds = 120.0

    sheet: str | None = field(SHEET)

    def run(self, work: Work) -> bytes:
        sheet = drawing_sheets.sheet_called(work.snapshot, self.sheet or "")
        return writing.svg_of(sheets.ink_sheet(work.snapshot, work.geometry, sheet, work.progress).inked(sheet.name))


@study
class OnSheet(Study):
    name = "on sheet"
    help = "What can be written about things picked in a view of a sheet, each with what it would say."

    sheet: str | None = field(SHEET)
    view: int | None = field(VIEW)
    on: tuple[str, ...] = field(ON)
    near: tuple[tuple[float, float], ...] = field(NEAR)

    def run(self, work: Work) -> list[dict[str, Any]]:
        sheet = drawing_sheets.sheet_called(work.snapshot, self.sheet or "")
        view = drawing_views.view_of(sheet, self.view)
        return [asdict(o) for o in offers.offers(work.snapshot, work.geometry, sheet, view.id, self.on, self.near)]


@study
class SheetItem(Study):
    name = "sheet item"
    help = "One thing as it would be drawn on a sheet: one that is there, by its number, elsewhere; or a new one."

    sheet: str | None = field(SHEET)
    item: int | None = field(EntryField("the thing", "Its number, of one that is there.", default=None))
    kind: str | None = field(TextField("the kind", "Of a new one.", limit=20, default=None))
    view: int | None = field(VIEW)
    on: tuple[str, ...] = field(ON)
    near: tuple[tuple[float, float], ...] = field(NEAR)
    words: dict[str, str] | None = field(WordsField("words", "What it says besides.", default=None))
    at: tuple[float, float] = field(PairsField("the place", "mm from the middle of the view.", single=True))

    def run(self, work: Work) -> dict[str, Any]:
        sheet = drawing_sheets.sheet_called(work.snapshot, self.sheet or "")
        if self.item is not None:
            if self.item not in sheet.items:
                raise EditError(f"{sheet.name} has nothing written with the number {self.item}", field="item")
            item = replace(sheet.items[self.item], at=self.at)
        else:
            if self.kind not in items.KINDS:
                raise EditError(f"one writes {', '.join(items.KINDS)}", field="kind")
            view = drawing_views.view_of(sheet, self.view).id if self.view is not None else None
            item = DrawnItem(0, self.kind or "", self.at, view, self.on, self.near, self.words or {})
        return sheet_drawing.item_drawing(work.snapshot, work.geometry, sheet, item)
