"""Views laid on sheets, cut, enlarged, changed, moved."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import drawing_views
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import (
    ChoiceField,
    Context,
    EntriesField,
    EntryField,
    FactorField,
    FlagField,
    LengthField,
    PairsField,
    PickField,
    TextField,
)
from ..fields.shared import SHEET
from ..registry import edit

FROM = {
    "front": "the front", "back": "the back", "left": "the left", "right": "the right", "top": "above",
    "below": "below", "corner": "a corner", "other corner": "the other corner", "flat": "its flat",
}  # fmt: skip
SIDES = {"left": "its left", "right": "its right", "above": "above it", "below": "below it"}
VIEW = EntryField("the view", "Its number; may be left out where there is one.", default=None, blank="the only one")
AT = PairsField(
    "the place", "On the sheet, mm from its lower left.", default=None, single=True, blank="where it is free"
)
LETTER = TextField("the letter", "By which it is called.", limit=2, default=None, blank="the next")
SCALE = FactorField("the scale", "1/2 is half the size.", default=None, blank="what fits")


@edit
class AddView(Edit):
    name = "add view"
    title = "Add a view"
    also = ("project view", "isometric view", "exploded view", "flat pattern view", "base view")
    sentence = (
        "Show {parts} from {direction} , or view {beside} from {side} , at {scale} {hidden} {smooth} , apart as "
        "{apart} , at "
        "{at} on {sheet}"
    )
    past = "Added a view from {direction}"
    help = (
        "From any side, in line with a view that is there, drawn apart, or a sheet part's flat.  Hidden lines "
        "and edges "
        "without a kink as wanted."
    )
    rank = 11
    drawing = '<path d="M2 2h16v12H2z"/><path class="hot" d="M6 5.5h5v4H6zM14 5v5"/>'
    folds = ("beside", "side", "scale", "hidden", "smooth", "apart", "at", "sheet")

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "All where none is picked; of a flat the sheet part.", element="node", also=("face",),
                  minimum=0, default=(), changes=False, empty="all parts")
    )  # fmt: skip
    direction: str = field(ChoiceField("the side", "From which one looks.", default="front", options=FROM))
    beside: int | None = field(EntryField("the view", "That it stands in line with.", default=None, blank="none"))
    side: str = field(
        ChoiceField("its side", "From which one looks at what that view shows.", default="left", options=SIDES)
    )
    scale: float | None = field(SCALE)
    hidden: bool = field(FlagField("hidden lines", "Whether they are drawn.", default=False))
    smooth: bool = field(FlagField("smooth edges", "Whether edges without a kink are drawn.", default=False))
    apart: str | None = field(TextField("the name", "Under which the parts are drawn apart.", limit=40, default=None,
                                        blank="none"))  # fmt: skip
    at: tuple[float, float] | None = field(AT)
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def told(self, context: Context) -> str:
        if self.beside is not None:
            return f"Added a view from {SIDES[self.side].replace('its', 'the')}, in line"
        return (
            f"Added a view of {FROM[self.direction]}"
            if self.direction == "flat"
            else f"Added a view from {FROM[self.direction]}"
        )

    def apply(self, work: Work) -> Outcome:
        return drawing_views.AddView(
            parts=self.parts, sheet=self.sheet or "", direction=self.direction, beside=self.beside, side=self.side,
            scale=self.scale or 0.0, at=self.at, hidden=self.hidden, smooth=self.smooth, apart=self.apart or "",
        ).do(work)  # fmt: skip


@edit
class CutView(Edit):
    name = "cut view"
    title = "Cut a section view"
    also = ("section view", "stepped section", "half section", "aligned section")
    sentence = (
        "Cut view {view} along {line} , seen from {toward} {half} , slanting legs {slanting} , ribs {ribs} , leaving "
        "{whole} whole, as {letter} at {at} on {sheet}"
    )
    past = "Cut a section"
    help = (
        "Along a line with any number of corners: straight through the middle, in steps, bent (what slants is turned "
        "into the plane of the rest), or ending in the middle for half of it.  Each part has its hatching; parts from "
        "the shelf, ribs that it runs along, and parts named stay whole."
    )
    rank = 12
    drawing = '<path d="M3 3h14v10H3z"/><path class="hot" d="M1 8h18M4 12l4-4M8 13l5-5M13 13l4-4"/>'
    folds = ("line", "half", "slanting", "ribs", "whole", "letter", "at", "sheet")

    view: int | None = field(VIEW)
    line: tuple[tuple[float, float], ...] = field(
        PairsField(
            "the line", "Its corners in the view, mm of the model from its middle.", default=(), blank="its middle"
        )
    )
    toward: str = field(
        ChoiceField("the side", "Of the view, from which one looks at the cut.", default="below", options=SIDES)
    )
    half: bool = field(FlagField("half", "Whether the cut ends at the line's ends.", default=False))
    slanting: str = field(
        ChoiceField("slanting legs", "Of the line, and all that is seen square to them.", default="turned",
                    options={"turned": "turned into the plane", "kept": "as they lie"})
    )  # fmt: skip
    ribs: str = field(
        ChoiceField("ribs", "That the cut runs along.", default="whole",
                    options={"whole": "left whole", "cut": "hatched too"})
    )  # fmt: skip
    whole: tuple[Reference, ...] = field(
        PickField(
            "the parts",
            "That are not cut.",
            element="node",
            minimum=0,
            default=(),
            changes=False,
            empty="no other part",
        )
    )
    letter: str | None = field(LETTER)
    at: tuple[float, float] | None = field(AT)
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def apply(self, work: Work) -> Outcome:
        return drawing_views.CutView(
            view=self.view, line=self.line, toward=self.toward, sheet=self.sheet or "", half=self.half,
            turned=self.slanting == "turned", ribs=self.ribs == "whole", at=self.at, letter=self.letter or "",
            whole=self.whole,
        ).do(work)  # fmt: skip


@edit
class DetailView(Edit):
    name = "detail view"
    title = "Enlarge a detail"
    also = ("detail", "partial view", "magnify")
    sentence = "Show what is within {radius} of {middle} in view {view} at {scale} as {letter} at {at} on {sheet}"
    past = "Enlarged a detail"
    help = "A circle of a view, larger; at the same scale it is a partial view."
    rank = 13
    drawing = '<path d="M2 3h9v10H2z"/><path class="hot" d="M14 4a4 4 0 1 1 0 8 4 4 0 0 1 0-8z"/>'
    folds = ("scale", "letter", "at", "sheet")

    middle: tuple[float, float] = field(
        PairsField("the middle", "In the view, mm of the model from its middle.", single=True)
    )
    radius: float = field(LengthField("the radius", "Of the circle.", default=10.0, minimum=1e-3))
    view: int | None = field(VIEW)
    scale: float | None = field(FactorField("the scale", "2 is twice the size.", default=None, blank="the next larger"))
    letter: str | None = field(LETTER)
    at: tuple[float, float] | None = field(AT)
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def apply(self, work: Work) -> Outcome:
        return drawing_views.DetailView(
            view=self.view, middle=self.middle, radius=self.radius, sheet=self.sheet or "", scale=self.scale or 0.0,
            at=self.at, letter=self.letter or "",
        ).do(work)  # fmt: skip


@edit
class SetView(Edit):
    name = "set view"
    title = "Change a view"
    also = ("view scale", "hidden lines", "tangent edges", "break view")
    sentence = (
        "Let view {view} be at {scale} , hidden lines {hidden} , smooth edges {smooth} , broken along {along} "
        "from {low} to "
        "{high} , breaks {breaks} on {sheet}"
    )
    past = "Changed a view"
    help = "Its scale (those in line go along), which lines it draws, and where a long one is broken."
    rank = 17
    drawing = '<path d="M3 3h14v10H3z"/><path class="hot" d="M3 8h14" stroke-dasharray="2.4 1.6"/>'
    folds = ("hidden", "smooth", "along", "low", "high", "breaks", "sheet")

    view: int | None = field(VIEW)
    scale: float | None = field(FactorField("the scale", "1/2 is half the size.", default=None, blank="the same scale"))
    hidden: str = field(ChoiceField("hidden lines", "Whether they are drawn.", default="same",
                                    options={"same": "as they are", "yes": "drawn", "no": "left out"}))  # fmt: skip
    smooth: str = field(ChoiceField("smooth edges", "Whether edges without a kink are drawn.", default="same",
                                    options={"same": "as before", "yes": "drawn", "no": "left out"}))  # fmt: skip
    along: str = field(
        ChoiceField("the way", "Along which a strip is left out.", default="x", options={"x": "X", "y": "Y"})
    )
    low: float | None = field(
        LengthField("the beginning", "Of the strip, from the middle of the view.", default=None, blank="–")
    )
    high: float | None = field(LengthField("the end", "Of the strip.", default=None, blank="–"))
    breaks: str = field(ChoiceField("breaks", "That are there already.", default="kept",
                                    options={"kept": "kept", "mended": "mended"}))  # fmt: skip
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def apply(self, work: Work) -> Outcome:
        said = {"yes": True, "no": False}
        gap = (self.along, self.low, self.high) if self.low is not None and self.high is not None else None
        return drawing_views.SetView(
            view=self.view, sheet=self.sheet or "", scale=self.scale, hidden=said.get(self.hidden),
            smooth=said.get(self.smooth), gap=gap, mend=self.breaks == "mended",
        ).do(work)  # fmt: skip


@edit
class MoveOnSheet(Edit):
    name = "move on sheet"
    title = "Move on the sheet"
    sentence = "Move {things} on {sheet} by {step}"
    past = "Moved {things} on the sheet"
    help = "Views stay in line with those they hang on; what is written on a view goes along with it."
    rank = 60
    also = ("shift view", "move dimension", "arrange sheet")
    drawing = '<path d="M2 2h16v12H2z"/><path class="hot" d="M6 10l7-4M10 5.5l3 .5-1 3"/>'

    things: tuple[int, ...] = field(EntriesField("the things", "Numbers of views and of what is written."))
    step: tuple[float, float] = field(PairsField("the step", "mm across and up.", single=True))
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def apply(self, work: Work) -> Outcome:
        return drawing_views.MoveOnSheet(things=self.things, step=self.step, sheet=self.sheet or "").do(work)


@edit
class DropFromSheet(Edit):
    name = "drop from sheet"
    title = "Take off the sheet"
    sentence = "Take {things} off {sheet}"
    past = "Took {things} off the sheet"
    help = "A view goes with the views that hang on it and all that is written on them."
    rank = 61
    also = ("delete view", "remove dimension")
    drawing = '<path d="M2 2h16v12H2z"/><path class="hot" d="M8 6l4 4M12 6l-4 4"/>'

    things: tuple[int, ...] = field(EntriesField("the things", "Numbers of views and of what is written."))
    sheet: str | None = field(SHEET)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return False  # the page offers it beside the sheet

    def apply(self, work: Work) -> Outcome:
        return drawing_views.DropFromSheet(things=self.things, sheet=self.sheet or "").do(work)
