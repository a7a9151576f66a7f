"""Tilt faces about an edge or axis, or against a neutral plane."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import followers, tilt
from ...operations.work import Handle, Outcome, Work
from ...units import format_angle
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, Context, PickField
from ..fields.shared import CHAMFERS, FACE_SELECTION
from ..registry import edit


@edit
class Tilt(Edit):
    name = "tilt"
    title = "Tilt"
    also = ("draft", "taper", "incline")
    sentence = "Tilt {faces} {riders} by {angle} about {axis}, {chamfers}"
    past = "Tilted {faces} by {angle} about {axis}"
    doing = "Tilting {faces} by {angle}"
    help = (
        "Turns faces about an edge or axis; their neighbours follow.  About a flat face, each turns about the line "
        "in which it meets that plane, as for draft.  A positive angle leans the face out of the body at its middle."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 13
    drawing = '<path d="M2 14h11V4"/><path class="hot" d="M13 14 17 3.5M13 5.5a8 8 0 0 1 3 .8"/>'
    folds = ("riders", "chamfers")

    faces: tuple[Reference, ...] = field(
        PickField("the faces", "Flat faces, or round ones that turn as a whole.", element="face")
    )
    riders: str = field(FACE_SELECTION)
    angle: float = field(AngleField("the angle", "Positive leans outwards."))
    axis: tuple[Reference, ...] = field(
        PickField(
            "the axis", "A straight edge, a round face's axis, or a flat face that stays put.", element="edge",
            also=("face",), maximum=1, changes=False, empty="an edge or face", reopens=True
        )
    )  # fmt: skip
    chamfers: str = field(CHAMFERS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def idle(cls, work: Work, picked: tuple[Reference, ...]) -> frozenset[str]:
        return followers.no_chamfers(work, picked)

    def told(self, context: Context) -> str:
        return f"Tilted {self.word('faces', context)} by {format_angle(self.angle)} about {self.word('axis', context)}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(tilt.Tilt).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(tilt.Tilt, work)
