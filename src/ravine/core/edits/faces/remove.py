"""Remove faces and close up: holes, pockets, bosses, slots, rounds, chamfers, lettering."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import remove
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField
from ..fields.shared import FACE_SELECTION
from ..registry import edit


@edit
class Remove(Edit):
    name = "remove"
    title = "Remove and close up"
    also = ("delete", "defeature", "fill hole")
    sentence = "Remove {faces} {riders} taking along {extent} and close up the neighbours"
    past = "Removed {faces} and closed up the neighbours"
    doing = "Removing {faces}"
    help = (
        "Takes faces away and lets their neighbours grow until they meet.  What cannot stand without them goes, too: "
        "the bottom and the rim of a hole, the other walls of a pocket.  How many faces go along, and how much the "
        "volume changes, is told before."
    )
    offered_for = "face"
    stages = ("Shape", "Mend")
    rank = 16
    drawing = (
        '<path d="M1 14V6h5M12 6h6v8z"/><path class="hot" d="M6 6v5h6V6" stroke-dasharray="1.6 1.4"/>'
        '<path class="hot" d="M6 6h6"/>'
    )
    folds = ("riders", "extent")

    faces: tuple[Reference, ...] = field(PickField("the faces", "Faces of one or more features.", element="face"))
    riders: str = field(FACE_SELECTION)
    extent: str = field(
        ChoiceField(
            "the extent",
            "What goes as well: as little as closes, all of a stepped hole or a chain of rounds, or nothing.",
            default="needed",
            options={
                "needed": "what cannot stand without it",
                "feature": "the rest of the feature",
                "picked": "nothing else",
            },
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Removed {self.word('faces', context)} and closed up the neighbours"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(remove.Remove, work)
