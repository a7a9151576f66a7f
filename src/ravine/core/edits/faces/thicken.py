"""Give faces or open surfaces a thickness."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import thicken
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, LengthField, PickField
from ..fields.shared import WAY
from ..registry import edit


@edit
class Thicken(Edit):
    name = "thicken"
    title = "Thicken"
    also = ("offset surface",)
    sentence = "Thicken {faces} by {thickness} , {sides}, {way}"
    past = "Thickened {faces} by {thickness}"
    doing = "Thickening {faces} by {thickness}"
    help = (
        "Makes a solid of picked faces, or of open surfaces: between them and their parallels, outwards for a positive "
        "thickness, inwards for a negative one, or half to each side.  The faces stay as they are; an open surface is "
        "used up."
    )
    offered_for = "face"
    rank = 28
    drawing = '<path d="M2 12c5-6 11-6 16 0"/><path class="hot" d="M2 8c5-6 11-6 16 0M2 8v4M18 8v4"/>'

    faces: tuple[Reference, ...] = field(
        PickField(
            "the faces", "Faces that hang together, or a surface part.", element="face", also=("node",), changes=False
        )
    )
    thickness: float = field(LengthField("the thickness", "Square to the faces.", nonzero=True))
    sides: str = field(ChoiceField("the sides", "One, or half to each.", default="one",
                               options={"one": "to one side", "both": "half to each side"}))  # fmt: skip
    way: str = field(WAY)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return (pick.kind == "face" and not pick.mesh) or (pick.kind == "node" and pick.surface)

    def handle(self, work: Work) -> Handle | None:
        return self.planned(thicken.Thicken).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(thicken.Thicken, work)
