"""A chain of curves set off to one side."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import offset_curves
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, LengthField, PickField
from ..registry import edit


@edit
class SetOff(Edit):
    name = "set off"
    title = "Offset"
    also = ("offset", "parallel")
    sentence = "Set the chain of {curve} off by {distance} with {corners} corners, {sides} with {ends} ends"
    past = "Set the chain of {curve} off by {distance}"
    help = (
        "Draws the parallel of a chain of lines, arcs and splines, to its left for a positive distance, to its right "
        "for a negative one; of circles and ellipses outwards.  Outer corners come sharp or round, those of splines "
        "always round; both sides at once makes a wall, whose ends stay open or are "
        "closed straight or round."
    )
    offered_for = "curve"
    rank = 15
    drawing = '<path d="M2 13h9V5"/><path class="hot" d="M2 9.5h5.5V5M7.5 5V2"/>'
    folds = ("corners", "sides", "ends")

    curve: tuple[Reference, ...] = field(PickField("the curve", "One of the chain.", element="curve", maximum=1))
    distance: float = field(LengthField("the distance", "Square to the curves.", nonzero=True))
    corners: str = field(ChoiceField("the corners", "On the outer side.", default="sharp",
                                 options={"sharp": "sharp", "round": "round"}))  # fmt: skip
    sides: str = field(ChoiceField("the sides", "One, or the same on the other.", default="one",
                               options={"one": "on one side", "both": "on both sides"}))  # fmt: skip

    ends: str = field(ChoiceField("the ends", "Of an open chain set off to both sides.", default="open",
                              options={"open": "open", "straight": "straight", "round": "round"},
                              only=("sides", "both")))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return self.done_by(offset_curves.OffsetCurves, work)
