"""Twist a prism by turning its end face: its walls wind from the foot to the turned end."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import twist
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, PickField
from ..registry import edit


@edit
class Twist(Edit):
    name = "twist"
    title = "Twist"
    also = ("torsion",)
    sentence = "Twist {face} by {angle} about {axis}"
    past = "Twisted {face} by {angle}"
    doing = "Twisting {face}"
    help = (
        "Turns the end face of a prism, a boss or a whole bar, while its foot stays: the walls between wind evenly. "
        "The section and so the volume stay the same."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 22
    drawing = '<path d="M5 14h10"/><path class="hot" d="M5 14c0-5 8-6 8-11M15 14c0-5-8-6-8-11M7 3h6"/>'
    folds = ("axis",)

    face: tuple[Reference, ...] = field(
        PickField("the end face", "A flat face with walls square to it.", element="face", maximum=1, kinds=("plane",))
    )
    angle: float = field(AngleField("the angle", "By which the end turns, right-handed seen against its normal."))
    axis: tuple[Reference, ...] | None = field(
        PickField(
            "the axis",
            "An edge or round face square to the end face.",
            element="edge",
            also=("face",),
            maximum=1,
            changes=False,
            default=None,
            empty="its own middle",
            reopens=True,
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and pick.face_kinds == {"plane"}

    def handle(self, work: Work) -> Handle | None:
        return self.planned(twist.Twist).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(twist.Twist, work)
