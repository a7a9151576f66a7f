"""Full round: a narrow face between two others becomes the round that touches all three."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import round_over
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class RoundOver(Edit):
    name = "round over"
    title = "Round over fully"
    also = ("full round",)
    sentence = "Round {faces} over fully, from one neighbour to the other"
    past = "Rounded {faces} over fully"
    doing = "Rounding {faces} over"
    help = (
        "Turns a narrow face, straight or going round an axis, into the one round that touches it and the two faces "
        "along it: the rim of a wall, the floor of a groove.  The radius follows from the three."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 20
    drawing = (
        '<path d="M5 14V8M15 14V8"/><path class="hot" d="M5 8a5 5 0 0 1 10 0"/>'
        '<path d="M5 3h10" stroke-dasharray="1.6 1.4"/>'
    )

    faces: tuple[Reference, ...] = field(
        PickField("the strips", "Narrow faces between two long neighbours.", element="face")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(round_over.RoundOver, work)
