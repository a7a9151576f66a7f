"""Scale parts evenly."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import scale
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, FactorField, PickField
from ..registry import edit


@edit
class Scale(Edit):
    name = "scale"
    title = "Scale"
    also = ("enlarge", "shrink")
    sentence = "Scale {parts} by {factor} about {centre}"
    past = "Scaled {parts} by {factor}"
    help = "Makes solids larger or smaller evenly: a shrink allowance of 1.005, inches read as millimetres by 25.4."
    offered_for = "node"
    stages = ("Shape",)
    rank = 27
    drawing = '<path d="M2 14V9h5v5z"/><path class="hot" d="M2 9V3h12v11H7"/>'

    parts: tuple[Reference, ...] = field(PickField("the parts", "Solids.", element="node"))
    factor: float = field(FactorField("the factor", "Above 1 grows, below 1 shrinks."))
    centre: str = field(ChoiceField("the centre", "The point that stays.", default="middle",
                                options={"middle": "its own middle", "origin": "the origin of the model"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(scale.Scale, work)
