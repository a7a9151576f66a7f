"""Give a joint another value."""

from __future__ import annotations

from ...operations import joints
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, TextField
from ..registry import edit


@edit
class SetJoint(Edit):
    name = "set joint"
    title = "Set a joint"
    also = ("change joint", "flip joint", "limit joint")
    sentence = (
        "Set {joint} to {distance} {angle} , at least {least} {least_angle} , at most {most} {most_angle} , {way}"
    )
    past = "Set {joint}"
    help = "Gives a joint at a distance or an angle another value, or limits in its place; or turns it the other way."
    offered_for = "joint"
    stages = ("Assemble",)
    rank = 30
    drawing = '<path d="M2 5h5v7H2zM13 5h5v7h-5z"/><path class="hot" d="M7 8.5h6M9 6.5l-2 2 2 2M11 6.5l2 2-2 2"/>'
    folds = ("angle", "least", "least_angle", "most", "most_angle", "way")

    joint: str = field(TextField("the joint", "Its name or id, such as J1.", limit=40))
    distance: float | None = field(LengthField("the distance", "Of one at a distance.", default=None, blank="as it is"))
    angle: float | None = field(AngleField("the angle", "Of one at an angle.", default=None, blank="as it is"))
    least: float | None = field(LengthField("the least", "In place of a distance.", default=None, blank="anything"))
    least_angle: float | None = field(
        AngleField("the least angle", "In place of an angle.", default=None, blank="anything")
    )
    most: float | None = field(LengthField("the most", "In place of a distance.", default=None, blank="anything"))
    most_angle: float | None = field(
        AngleField("the most angle", "In place of an angle.", default=None, blank="anything")
    )
    way: str = field(ChoiceField("the way round", "Whether it is turned over.", default="kept",
                                 options={"kept": "the same way round", "flipped": "the other way round"}))  # fmt: skip

    def told(self, context: Context) -> str:
        value = "distance" if self.distance is not None else "angle" if self.angle is not None else ""
        words = f"Set {self.joint} to {self.word(value, context)}" if value else f"Set the limits of {self.joint}"
        return f"Turned {self.joint} the other way round" if self.way == "flipped" else words

    def apply(self, work: Work) -> Outcome:
        def of_kind(length: float | None, angle: float | None) -> float | None:
            return angle if angle is not None else length

        return joints.SetJoint(
            joint=self.joint,
            value=of_kind(self.distance, self.angle),
            least=of_kind(self.least, self.least_angle),
            most=of_kind(self.most, self.most_angle),
            flipped=self.way == "flipped",
        ).do(work)
