"""Hollow a solid out to a wall, open at the picked faces."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import hollow
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, LengthField, PickField
from ..registry import edit


@edit
class Hollow(Edit):
    name = "hollow"
    title = "Hollow out"
    also = ("shell",)
    sentence = "Hollow out, open at {faces}, with a wall of {thickness}, and of {other} at {thick}"
    past = "Hollowed out to a wall of {thickness}"
    doing = "Hollowing out to a wall of {thickness}"
    help = (
        "Takes the inside away and leaves a wall of even thickness; the picked faces are left open.  Some faces may "
        "have a thickness of their own.  Rounds inside stay in step with those outside."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 23
    drawing = '<path d="M2 3v11h15V3"/><path class="hot" d="M5 3v8h9V3"/>'
    folds = ("other", "thick")

    faces: tuple[Reference, ...] = field(PickField("the open faces", "Flat faces that get no wall.", element="face",
                                         kinds=("plane",)))  # fmt: skip
    thickness: float = field(LengthField("the wall", "Measured square to each face.", minimum=1e-3))
    other: float | None = field(LengthField("the other wall", "Where some faces get one of their own.", minimum=1e-3,
                                        default=None))  # fmt: skip
    thick: tuple[Reference, ...] | None = field(
        PickField("the other faces", "Faces with the other thickness.", element="face", default=None, empty="no face")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.face_kinds == {"plane"}

    def told(self, context: Context) -> str:
        words = f"Hollowed out, open at {self.word('faces', context)}, to a wall of {self.word('thickness', context)}"
        if self.thick and self.other is not None:
            words += f", and {self.word('other', context)} at {self.word('thick', context)}"
        return words

    def apply(self, work: Work) -> Outcome:
        return self.done_by(hollow.Hollow, work)
