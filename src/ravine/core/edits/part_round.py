"""Give back part of a round: the sharp edge comes again over a share of its length."""

from __future__ import annotations

from ..local.failure import LocalFailure
from ..local.part_round import given_back
from ..model.snapshot import Body, Snapshot, split_id, text_id
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import combined
from .gaps import ChoiceGap, PickGap, ShareGap
from .shaping import refusal


@edit
class GiveBack(Edit):
    name = "give back"
    title = "Give back part of a round"
    sentence = "Give back {share} of {face} from {end}"
    past = "Gave back {share} of {face}"
    help = (
        "Makes the edge under a round sharp again over a share of its length, so that a neighbour can be changed "
        "there; the rest of the round stays as it is."
    )
    offered_for = "face"
    stages = ("Shape", "Mend")
    rank = 21
    drawing = "back"

    face: tuple[str, ...] = gap(PickGap("the round", "A round with two ends.", element="face", maximum=1,
                                        kinds=("cylinder", "torus")))  # fmt: skip
    share: float = gap(ShareGap("the share", "Of the length of the round.", default=0.5))
    end: str = gap(ChoiceGap("the end", "At which end to begin.", default="first",
                             options={"first": "one end", "second": "the other end"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and bool(pick.face_kinds & {"cylinder", "torus"})

    def apply(self, work: Work) -> Outcome:
        number = split_id(self.face[0])[1]
        body, _ = work.snapshot.owner_of("face", number)
        after = self._given(work, body, number)
        return Outcome(after, change_facts(work, after, {body.id}))

    def _given(self, work: Work, body: Body, number: int) -> Snapshot:
        doing = f"Giving back {self.word('share', work.context())} of {self.word('face', work.context())}"
        fabric = work.geometry.solid(body.shape).fabric
        try:
            cells, adds = given_back(fabric, body.faces.index(number), self.share, self.end == "first")
        except LocalFailure as failure:
            raise refusal(work, body, doing, failure, "face") from None
        where = [text_id("face", number)]
        return combined(work, work.snapshot, body, "unite" if adds else "subtract", cells, doing, where, "share")
