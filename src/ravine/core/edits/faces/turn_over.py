"""Turn faces so that their matter is on the other side."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import turn_over
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class TurnOver(Edit):
    name = "turn over"
    title = "Turn over"
    also = ("flip normal", "reverse")
    sentence = "Turn {faces} over"
    past = "Turned {faces} over"
    help = (
        "Puts the matter on the other side of faces of an open surface; that decides where it thickens to.  The faces "
        "of a sound solid all look outwards and stay so."
    )
    offered_for = "face"
    stages = ("Mend",)
    rank = 36
    drawing = '<path d="M3 13 6 9h11l-3 4z"/><path class="hot" d="M10 8V2M8 4l2-2 2 2"/>'

    faces: tuple[Reference, ...] = field(PickField("the faces", "Of an open surface.", element="face"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.surface and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(turn_over.TurnOver, work)
