"""Give back part of a round: the sharp edge comes again over a share of its length."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import give_back
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, PickField, ShareField
from ..registry import edit


@edit
class GiveBackPart(Edit):
    name = "give back"
    title = "Give back part of a round"
    also = ("unround", "trim fillet")
    sentence = "Give back {share} of {face} from {end}"
    past = "Gave back {share} of {face}"
    doing = "Giving back {share} of {face}"
    help = (
        "Makes the edge under a round sharp again over a share of its length, so that a neighbour can be changed "
        "there; the rest of the round stays as it is."
    )
    offered_for = "face"
    stages = ("Shape", "Mend")
    rank = 21
    drawing = '<path d="M2 14V8a5 5 0 0 1 5-5h2"/><path class="hot" d="M9 3h8v11M9 1.5v3"/>'

    face: tuple[Reference, ...] = field(PickField("the round", "A round with two ends.", element="face", maximum=1,
                                        kinds=("cylinder", "torus")))  # fmt: skip
    share: float = field(ShareField("the share", "Of the length of the round.", default=0.5))
    end: str = field(ChoiceField("the end", "At which end to begin.", default="first",
                             options={"first": "one end", "second": "the other end"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and bool(pick.face_kinds & {"cylinder", "torus"})

    def apply(self, work: Work) -> Outcome:
        return self.done_by(give_back.GiveBackPart, work)
