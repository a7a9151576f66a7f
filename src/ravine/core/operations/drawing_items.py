"""What is written on sheets: laid, changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from ..drawing.ink import Pen
from ..drawing.items import KINDS, Setting, Told
from ..errors import EditError
from ..model.drawing_sheet import ITEM_KINDS, DrawnItem, DrawnSheet, Point2
from ..model.references import resolve
from .drawing_sheets import sheet_called, with_sheet
from .drawing_views import view_of
from .work import Fact, Operation, Outcome, Work

SHEET_WIDE = ("parts list", "revisions", "note")  # these may stand on no view


def drawn_item(work: Work, sheet: DrawnSheet, item: DrawnItem) -> Told:
    """Raises EditError for what says nothing there."""
    return KINDS[item.kind](Setting(work.snapshot, work.geometry, sheet, item, Pen("dimensions", item.id)))


def _facts(told: Told, item: DrawnItem) -> tuple[Fact, ...]:
    words = (Fact("says", "says", told.text.replace("\n", " / "), "words"),) if told.text else ()
    return (*words, Fact("item", "item", float(item.id), "number", "quiet"))


@dataclass(frozen=True, kw_only=True)
class WriteOnSheet(Operation):
    """kind: of ITEM_KINDS; view: number; near: where in the view each of `on` was picked, mm; at: mm on the sheet
    from the place of the view, or from its lower left corner where it is on none; words: as its kind has them."""

    kind: str
    on: tuple[str, ...] = ()
    view: int | None = None
    near: tuple[Point2, ...] = ()
    at: Point2 = (0.0, 0.0)
    words: Mapping[str, str] = field(default_factory=dict)
    sheet: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        if self.kind not in ITEM_KINDS:
            raise EditError(f"one writes {', '.join(ITEM_KINDS)}", field="kind")
        view = None
        if self.kind not in SHEET_WIDE or self.view is not None or self.on:
            view = view_of(sheet, self.view).id
        (number,), snapshot = work.snapshot.fresh(1)
        words = checked_item_words(self.words)
        on = tuple(resolve(work.snapshot, text).placed for text in self.on)
        item = DrawnItem(number, self.kind, self.at, view, on, self.near, words)
        told = drawn_item(work, sheet, item)
        return Outcome(with_sheet(snapshot, sheet.with_items([item])), _facts(told, item))


def checked_item_words(words: Mapping[str, str]) -> dict[str, str]:
    if not isinstance(words, Mapping) or len(words) > 60:
        raise EditError("words are texts by name, up to 60", field="words")
    return {str(key)[:40]: str(text)[:2000] for key, text in words.items() if str(text) != ""}


@dataclass(frozen=True, kw_only=True)
class SetItem(Operation):
    """words: those that change; an empty one goes."""

    item: int
    words: Mapping[str, str] = field(default_factory=dict)
    at: Point2 | None = None
    sheet: str = ""

    def do(self, work: Work) -> Outcome:
        sheet = sheet_called(work.snapshot, self.sheet)
        if self.item not in sheet.items:
            raise EditError(f"{sheet.name} has nothing written with the number {self.item}", field="item")
        before = sheet.items[self.item]
        gone = {key for key, text in self.words.items() if str(text) == ""}
        words = {**{k: v for k, v in before.words.items() if k not in gone}, **checked_item_words(self.words)}
        item = replace(before, words=words, at=self.at or before.at)
        told = drawn_item(work, sheet, item)
        return Outcome(with_sheet(work.snapshot, sheet.with_items([item])), _facts(told, item))
