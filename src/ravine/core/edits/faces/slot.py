"""Pull a round hole sideways into a slot; a round boss becomes an oblong one."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import axes, slot
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, LengthField, PickField
from ..fields.shared import ALONG, AXIS
from ..registry import edit


@edit
class Slot(Edit):
    name = "slot"
    title = "Pull into a slot"
    also = ("elongate",)
    sentence = "Pull {faces} into a slot along {along} of {axis} over {distance}"
    past = "Pulled {faces} into a slot over {distance}"
    doing = "Pulling {faces} into a slot"
    help = (
        "Draws the axis of a round hole sideways: between the old and the new place a slot opens, steps of the hole "
        "included.  A round boss becomes oblong.  The distance is from centre to centre."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 17
    drawing = '<circle cx="6" cy="8" r="4"/><path class="hot" d="M6 4h8a4 4 0 0 1 0 8H6" stroke-dasharray="1.6 1.4"/>'
    folds = ("axis",)

    faces: tuple[Reference, ...] = field(PickField("the holes", "Walls of round holes or bosses.", element="face",
                                         kinds=("cylinder",)))  # fmt: skip
    distance: float = field(LengthField("the distance", "From centre to centre; negative goes back.", nonzero=True))
    along: str = field(ALONG)
    axis: tuple[Reference, ...] | None = field(AXIS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh and pick.face_kinds == {"cylinder"}

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict:
        """Along the first axis of the model that lies across the hole's own."""
        own = axes.direction_of(work, "normal", None, picked[0])
        return {"faces": list(picked), "along": "x" if abs(own[0]) < 0.5 else "y"}

    def told(self, context: Context) -> str:
        along = self.word("axis" if self.axis else "along", context)
        return f"Pulled {self.word('faces', context)} into a slot along {along} over {self.word('distance', context)}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(slot.Slot).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(slot.Slot, work)
