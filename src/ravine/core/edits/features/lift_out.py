"""Lift features out into solids of their own."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import lift_out
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField
from ..registry import edit


@edit
class LiftOut(Edit):
    name = "lift out"
    title = "Lift out the feature"
    also = ("extract", "core")
    sentence = "Lift {faces} out, {way}"
    past = "Lifted {faces} out"
    help = (
        "Makes a solid of a feature: a boss as matter, a pocket as the plug that fills it, a hole as its pin, with its "
        "own rounds.  The part closes behind it, or stays as it is; part and lifted solid add up exactly."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 19
    drawing = '<path d="M1 15V9h5v3h7V9h6v6z"/><path class="hot" d="M7 8V2h5v6z"/>'

    faces: tuple[Reference, ...] = field(PickField("the features", "Any faces of them.", element="face"))
    way: str = field(ChoiceField("the way", "Whether the part closes behind it.", default="cut",
                                 options={"cut": "the part closes behind it", "copy": "the part stays"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Lifted {self.word('faces', context)} out" + (", as a copy" if self.way == "copy" else "")

    def apply(self, work: Work) -> Outcome:
        return self.done_by(lift_out.LiftOut, work)
