"""Sheets begun, changed, taken away."""

from __future__ import annotations

from datetime import date
from typing import Any, ClassVar

from ...model.references import Reference
from ...operations import drawing_sheets
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField, WordsField
from ..fields.shared import SHEET
from ..registry import edit

SIZES = ("A4", "A3", "A2", "A1", "A0", "ANSI A", "ANSI B", "ANSI C", "ANSI D", "ANSI E")
ANGLES = {"first": "in the first angle", "third": "in the third angle"}
FIELDS = {
    "owner": "legal owner", "title": "title", "number": "drawing number", "revision": "revision",
    "date": "date of issue", "creator": "created by", "approver": "approved by", "type": "document type",
    "status": "status", "material": "material", "mass": "mass", "tolerances": "general tolerances",
    "group": "group of line widths",
}  # fmt: skip


@edit
class BeginSheet(Edit):
    name = "begin sheet"
    title = "Begin a drawing"
    also = ("drawing", "new sheet", "draft")
    sentence = "Draw {parts} on {size} {angle} with {views} called {called} , saying {says}"
    past = "Began a drawing of {parts} on {size}"
    help = (
        "A sheet of paper with frame and title block, and on it the front, what stands in line with it, and a "
        "corner view, "
        "as large as they fit.  Lines follow the model."
    )
    stages = ("Hand over",)
    rank = 10
    drawing = (
        '<path d="M2 2h16v12H2zM11 11h7v3"/><path class="hot" d="M4.5 4.5h4v3h-4zM11 4.5h3v3h-3zM4.5 9.5h4v2h-4z"/>'
    )
    folds = ("called", "says", "angle")

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "All where none is picked.", element="node", minimum=0, default=(), changes=False,
                  empty="all parts")
    )  # fmt: skip
    size: str = field(
        ChoiceField("the paper", "ISO 216, or ANSI/ASME Y14.1.", default="A3", options={s: s for s in SIZES})
    )
    angle: str = field(
        ChoiceField("the angle", "Where views in line stand (ISO 5456-2).", default="first", options=ANGLES)
    )
    views: str = field(ChoiceField("the views", "Laid at once, or none.", default="usual",
                                   options={"usual": "the usual views", "none": "no view yet"}))  # fmt: skip
    called: str | None = field(
        TextField("the name", "Of the sheet.", limit=60, default=None, blank="a name of its own")
    )
    says: dict[str, str] | None = field(WordsField("words", "Of the title block: owner, number, creator, date …",
                                                   default=None, blank="nothing yet"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("", "node")

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {**super().suggest(work, picked), "says": {"date": date.today().isoformat()}}

    def told(self, context: Context) -> str:
        return f"Began a drawing of {self.word('parts', context) if self.parts else 'all parts'} on {self.size}"

    def apply(self, work: Work) -> Outcome:
        return drawing_sheets.BeginSheet(parts=self.parts, called=self.called or "", size=self.size, angle=self.angle,
                                         views=self.views, says=self.says or {}).do(work)  # fmt: skip


@edit
class SetSheet(Edit):
    name = "set sheet"
    title = "Change the sheet"
    also = ("title block", "paper size", "rename sheet")
    sentence = "Let {sheet} be {size} {angle} called {called} , and say as {entry} {value}"
    past = "Changed {sheet}"
    help = "Its paper, its angle of projection, its name, or one field of its title block."
    rank = 16
    drawing = '<path d="M2 2h16v12H2z"/><path class="hot" d="M10 10h8v4M10 12h8"/>'
    folds = ("sheet", "size", "angle", "called")

    sheet: str | None = field(SHEET)
    size: str = field(ChoiceField("the paper", "ISO 216, or ANSI/ASME Y14.1.", default="as it is",
                                  options={"as it is": "as it is", **{s: s for s in SIZES}}))  # fmt: skip
    angle: str = field(ChoiceField("the angle", "Where views in line stand.", default="as it is",
                                   options={"as it is": "as it stands", **ANGLES}))  # fmt: skip
    called: str | None = field(TextField("the name", "Of the sheet.", limit=60, default=None, blank="as before"))
    entry: str = field(ChoiceField("the field", "Of the title block.", default="number", options=FIELDS))
    value: str | None = field(TextField("the words", "For that field.", limit=200, default=None, blank="as before"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def told(self, context: Context) -> str:
        if self.value is not None:
            return f"Wrote “{self.value[:60]}” as {FIELDS[self.entry]}"
        return f"Changed {self.sheet or 'the sheet'}"

    def apply(self, work: Work) -> Outcome:
        def said(text: str | None) -> str:
            return "" if text in (None, "as it is") else str(text)

        return drawing_sheets.SetSheet(
            sheet=self.sheet or "", called=said(self.called), size=said(self.size), angle=said(self.angle),
            field=self.entry if self.value is not None else "", value=said(self.value),
        ).do(work)  # fmt: skip


@edit
class DropSheet(Edit):
    name = "drop sheet"
    title = "Take a sheet away"
    also = ("delete sheet",)
    sentence = "Take {sheet} away"
    past = "Took {sheet} away"
    help = "The sheet with all that is on it; the model stays as it is."
    rank = 40
    drawing = '<path d="M2 2h16v12H2z"/><path class="hot" d="M7 5l6 6M13 5l-6 6"/>'

    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def told(self, context: Context) -> str:
        return f"Took {self.sheet or 'the sheet'} away"

    def apply(self, work: Work) -> Outcome:
        return drawing_sheets.DropSheet(sheet=self.sheet or "").do(work)


@edit
class ProposeSizes(Edit):
    name = "propose sizes"
    title = "Propose sizes"
    also = ("auto dimension", "dimension everything")
    sentence = "Propose sizes on {sheet}"
    past = "Proposed sizes on {sheet}"
    help = (
        "Overall sizes, places of holes and their notes, centre lines: laid so that nothing lies on anything "
        "else, as a "
        "start to edit."
    )
    rank = 12
    drawing = '<path d="M5 2h10v8H5z"/><path class="hot" d="M5 11v3M15 11v3M5 13h10"/>'

    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def told(self, context: Context) -> str:
        return f"Proposed sizes on {self.sheet or 'the sheet'}"

    def apply(self, work: Work) -> Outcome:
        return drawing_sheets.ProposeSizes(sheet=self.sheet or "").do(work)


@edit
class SaveDrawing(Edit):
    name = "save drawing"
    title = "Save the drawing"
    also = ("print drawing", "drawing as pdf", "plot")
    spelled: ClassVar = {"which": "sheet"}
    sentence = "Save {sheet} as {format} called {file_name}"
    past = "Saved {sheet}"
    help = (
        "PDF with vectors, embedded letters, layers and a bookmark for every sheet; DXF with layers and real "
        "dimensions; "
        "or SVG.  At its true size."
    )
    stages = ("Hand over",)
    rank = 14
    drawing = '<path d="M3 2h9l4 4v8H3z"/><path class="hot" d="M9.5 6v6M7 9.5l2.5 2.5L12 9.5"/>'
    folds = ("file_name",)

    sheet: str | None = field(
        TextField("the sheet", "By its name, or all.", limit=60, default="all", blank="the only one")
    )
    format: str = field(ChoiceField("the format", "Of the file.", default="pdf",
                                    options={"pdf": "PDF", "dxf": "DXF", "svg": "SVG"}))  # fmt: skip
    file_name: str | None = field(
        TextField("the name", "Of the file.", limit=80, default=None, blank="its number or title")
    )

    def told(self, context: Context) -> str:
        return f"Saved {'all sheets' if self.sheet == 'all' else self.sheet or 'the sheet'} as {self.format.upper()}"

    def apply(self, work: Work) -> Outcome:
        return drawing_sheets.SaveDrawing(sheet=self.sheet or "", format=self.format,
                                          file_name=self.file_name or "").do(work)  # fmt: skip
