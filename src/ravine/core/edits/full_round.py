"""Full round: a narrow face between two others becomes the round that touches all three."""

from __future__ import annotations

from ..errors import EditError
from ..local.failure import LocalFailure
from ..local.full_round import full_round
from ..model.snapshot import Body, Snapshot, text_id
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import combined
from .gaps import PickGap
from .shaping import faces_by_body, refusal


@edit
class RoundOver(Edit):
    name = "round over"
    title = "Round over fully"
    sentence = "Round {faces} over fully, from one neighbour to the other"
    past = "Rounded {faces} over fully"
    help = (
        "Turns a narrow face, straight or going round an axis, into the one round that touches it and the two faces "
        "along it: the rim of a wall, the floor of a groove.  The radius follows from the three."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 20
    drawing = "over"

    faces: tuple[str, ...] = gap(PickGap("the strips", "Narrow faces between two long neighbours.", element="face"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        snapshot, radii = work.snapshot, []
        by_body = faces_by_body(snapshot, self.faces)
        for number, chosen in by_body.items():
            for face in chosen:
                body = snapshot.body(number)
                if face not in body.faces:
                    raise EditError(f"face {text_id('face', face)} vanishes before it is its turn", self.faces)
                snapshot, radius = self._over(work, snapshot, body, face)
                radii.append(radius)
        facts = [Fact("radius", "radius", radius, "length") for radius in radii[:1]]
        return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), *facts))

    def _over(self, work: Work, snapshot: Snapshot, body: Body, face: int) -> tuple[Snapshot, float]:
        doing = f"Rounding {self.word('faces', work.context())} over"
        try:
            found = full_round(work.geometry.solid(body.shape).fabric, body.faces.index(face))
        except LocalFailure as failure:
            raise refusal(work, body, doing, failure, "faces") from None
        stands = [("face", face, front) for front in found.fronts]
        kind = "unite" if found.adds else "subtract"
        after = combined(work, snapshot, body, kind, found.cells, doing, self.faces, "faces", stands)
        return after, found.radius
