"""A rib: a thin wall from a sketched line to the matter around it."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import rib
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, LengthField, PickField
from ..registry import edit


@edit
class Rib(Edit):
    name = "rib"
    title = "Rib"
    also = ("web", "stiffener")
    sentence = "Make a rib from {curve} to the matter on {side} , {thickness} thick"
    past = "Made a rib from {curve}, {thickness} thick"
    doing = "Making a rib from {curve}"
    help = (
        "Fills from a line or an open chain of a sketch, in the sketch's plane, to the matter around it; the thickness "
        "lies half to each side of the plane.  Ends that stop short of a wall run on to it."
    )
    offered_for = "curve"
    uses_up = True
    rank = 18
    drawing = '<path d="M3 2v12h14"/><path class="hot" d="M3 5 14 14"/><path class="hot" d="M6 10l2 4"/>'
    folds = ("thickness",)

    curve: tuple[Reference, ...] = field(
        PickField("the line", "One of an open chain of lines and arcs.", element="curve", maximum=1)
    )
    side: str = field(ChoiceField("the side", "Of the chain, as it runs.", default="either",
                              options={"either": "whichever side is closed in", "left": "its left",
                                       "right": "its right"}))  # fmt: skip
    thickness: float = field(LengthField("the thickness", "Of the wall.", minimum=1e-3, default=2.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return self.done_by(rib.Rib, work)
