"""What is written on sheets."""

from __future__ import annotations

from ...model.drawing_sheet import ITEM_KINDS
from ...operations import drawing_items
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, EntryField, IdsField, PairsField, WordsField
from ..fields.shared import SHEET
from ..registry import edit

CALLED = {
    "distance": "a distance", "angle": "an angle", "radius": "a radius", "diameter": "a diameter",
    "ordinate": "coordinates", "hole": "the note of a hole", "thread": "a thread", "chamfer": "a chamfer",
    "datum": "a datum",
    "tolerance": "a geometrical tolerance", "surface": "a surface", "edges": "the state of an edge", "weld": "a weld",
    "centre": "a centre line", "bolt circle": "a bolt circle", "note": "a note", "balloon": "an item number",
    "parts list": "the parts list", "hole table": "a table of holes", "bend table": "a table of bends",
    "revisions": "the revisions",
}  # fmt: skip
assert set(CALLED) == set(ITEM_KINDS)


@edit
class WriteOnSheet(Edit):
    name = "write on sheet"
    title = "Write on the sheet"
    also = ("dimension on drawing", "annotate", "balloon", "tolerance frame", "hole callout", "surface finish")
    sentence = "Write {kind} on {on} in view {view} at {at} , saying {words} , picked near {near} , on {sheet}"
    past = "Wrote {kind}"
    help = (
        "Sizes, notes of holes, datums and tolerances, surfaces, welds, centre lines, notes, item numbers and "
        "tables.  They "
        "follow the edges they are about; one that loses its edge stays and is marked."
    )
    rank = 62
    drawing = '<path d="M3 3v7M17 3v7"/><path class="hot" d="M3 7h14M5.5 5 3 7l2.5 2M14.5 5 17 7l-2.5 2"/>'
    folds = ("words", "near", "sheet", "at", "view")

    kind: str = field(ChoiceField("what", "Is written.", options=CALLED))
    on: tuple[str, ...] = field(IdsField("the edges", "Edges, corners and faces it is about, with the places that show "
                                         "them: e12@n5.", default=()))  # fmt: skip
    view: int | None = field(EntryField("the view", "Its number.", default=None, blank="the only one"))
    near: tuple[tuple[float, float], ...] = field(
        PairsField("places", "In the view, mm, where each was picked.", default=(), blank="anywhere")
    )
    at: tuple[float, float] = field(
        PairsField("the place", "mm on the sheet from the middle of the view, or from the sheet's lower left.",
                   default=(0.0, 0.0), single=True)
    )  # fmt: skip
    words: dict[str, str] | None = field(WordsField("words", "What it says besides: tolerance, before, after, text …",
                                                    default=None, blank="nothing else"))  # fmt: skip
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def told(self, context: Context) -> str:
        return f"Wrote {CALLED[self.kind]} on {self.sheet or 'the sheet'}"

    def apply(self, work: Work) -> Outcome:
        return drawing_items.WriteOnSheet(
            kind=self.kind, on=self.on, view=self.view, near=self.near, at=self.at, words=self.words or {},
        sheet=self.sheet or "" ).do(work)  # fmt: skip


@edit
class SetWritten(Edit):
    name = "set written"
    title = "Change what is written"
    sentence = "Let {item} on {sheet} say {words} at {at}"
    past = "Changed what is written"
    help = "Words of one thing on a sheet: tolerance, limits, before, after, text, way, layout.  An empty word goes."
    rank = 63
    also = ("tolerance of a dimension", "limits", "edit text")
    drawing = '<path d="M3 13h14"/><path class="hot" d="M5 10l7-7 2 2-7 7H5z"/>'
    folds = ("at", "sheet")

    item: int = field(EntryField("the thing", "Its number."))
    words: dict[str, str] | None = field(WordsField("words", "Those that change.", default=None, blank="the same"))
    at: tuple[float, float] | None = field(
        PairsField("the place", "mm from the middle of the view.", default=None, single=True, blank="where it is")
    )
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def apply(self, work: Work) -> Outcome:
        return drawing_items.SetItem(item=self.item, words=self.words or {}, at=self.at, sheet=self.sheet or "").do(
            work
        )
