"""Turn faces so that their matter is on the other side."""

from __future__ import annotations

from ..errors import EditError
from ..kernel.soup import turned_over
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import PickGap
from .mend import taken_over
from .shaping import faces_by_body, indices


@edit
class TurnOver(Edit):
    name = "turn over"
    title = "Turn over"
    sentence = "Turn {faces} over"
    past = "Turned {faces} over"
    help = (
        "Puts the matter on the other side of faces of an open surface; that decides where it thickens to.  The faces "
        "of a sound solid all look outwards and stay so."
    )
    offered_for = "face"
    stages = ("Mend",)
    rank = 36
    drawing = "turnover"

    faces: tuple[str, ...] = gap(PickGap("the faces", "Of an open surface.", element="face"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.surface and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        for number, faces in faces_by_body(snapshot, self.faces).items():
            body = snapshot.body(number)
            if body.kind == "solid":
                raise EditError(f"{body.name} is a solid; a face that looked inwards would leave it unsound",
                                self.faces, field="faces")  # fmt: skip
            shape = work.geometry.solid(body.shape).shape
            snapshot = taken_over(work, snapshot, body, turned_over(shape, indices(body, faces)))
        return Outcome(snapshot)
