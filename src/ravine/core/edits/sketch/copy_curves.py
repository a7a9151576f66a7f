"""Copy curves of a sketch: in a row, around a place, or mirrored about a line."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import copy_curves
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, CountField, PickField, PlacesField
from ..registry import edit

MANY = 500


@edit
class CopyCurves(Edit):
    name = "copy curves"
    title = "Copy"
    also = ("duplicate curves", "array curves")
    sentence = "Copy {curves} {way} by {step} around {middle} every {angle} with {count} in all {line}"
    past = "Copied {curves} {way}"
    help = (
        "Draws curves again: in a row, by a step; around a place, evenly over the full turn or by an angle; or "
        "mirrored about a line, to which they then stay mirrored.  Copied circles and arcs keep the size of the first."
    )
    offered_for = "curve"
    rank = 16
    drawing = drawings.PATTERN

    curves: tuple[Reference, ...] = field(PickField("the curves", "Of one sketch.", element="curve", maximum=200))
    way: str = field(ChoiceField("the way", "How they are laid.", default="row",
                             options={"row": "in a row", "around": "around", "mirrored": "mirrored"}))  # fmt: skip
    step: tuple[Spot, ...] | None = field(
        PlacesField(
            "the step", "From one to the next, across and up: 12,0.", single=True, default=None, only=("way", "row")
        )
    )  # fmt: skip
    middle: tuple[Spot, ...] | None = field(
        PlacesField("the middle", "What they stand around.", single=True, default=None, only=("way", "around"))
    )
    angle: float | None = field(AngleField("the angle", "From one to the next; an even share where none is given.",
                                       default=None, blank="an even share", only=("way", "around")))  # fmt: skip
    count: int = field(CountField("the count", "With the one that is there.", default=2, only=("way", "row", "around")))
    line: tuple[Reference, ...] | None = field(
        PickField("the line", "To mirror about.", element="curve", maximum=1, default=None, empty="about a line")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve"

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"curves": [p for p in picked if p.startswith("c")]}

    def told(self, context: Context) -> str:
        words = f"Copied {self.word('curves', context)} "
        if self.way == "mirrored":
            return words + f"mirrored about {self.word('line', context)}"
        return words + f"{'in a row' if self.way == 'row' else 'around'}, {self.count} in all"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(copy_curves.CopyCurves, work)
