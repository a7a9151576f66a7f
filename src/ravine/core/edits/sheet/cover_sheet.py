"""Cover faces with sheet."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import cover_sheet
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import LengthField, PickField, TextField
from ..registry import edit


@edit
class CoverSheet(Edit):
    name = "cover"
    title = "Cover with sheet"
    also = ("sheet over", "wrap with sheet")
    sentence = "Cover {faces} with sheet of {thickness} at {distance} , bent with radius {radius} , as {called}"
    past = "Covered {faces} with sheet of {thickness}"
    doing = "Covering {faces}"
    help = (
        "Makes a part of sheet that lies over flat faces of a solid, at a distance or right on them, with their holes. "
        "Over the edges between them it is bent, or with no radius left sharp, to be ripped or bent there later."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 12
    drawing = '<path d="M5 6h10v8H5z"/><path class="hot" d="M3 14V4h14v10"/>'
    folds = ("called",)

    faces: tuple[Reference, ...] = field(
        PickField("the faces", "Flat ones that hang together.", element="face", kinds=("plane",), changes=False)
    )
    thickness: float = field(LengthField("the thickness", "Of the sheet.", default=1.5, minimum=1e-2))
    distance: float = field(LengthField("the distance", "From the faces.", default=0.0, minimum=0.0))
    radius: float | None = field(
        LengthField("the radius", "Of the bends, on the inner side.", default=None, minimum=1e-3, blank="none")
    )
    called: str = field(TextField("the name", "Of the new part.", default="Cover", limit=60))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.face_kinds == {"plane"} and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(cover_sheet.CoverSheet, work)
