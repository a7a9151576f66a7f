"""Have a joint rest, or wake it."""

from __future__ import annotations

from ...operations import joints
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, Context, TextField
from ..registry import edit


@edit
class RestJoint(Edit):
    name = "rest joint"
    title = "Rest or wake a joint"
    also = ("suppress joint", "suspend joint")
    sentence = "Have {joint} {state}"
    past = "Had {joint} {state}"
    help = "A joint at rest is kept and not followed; woken, its parts go together again."
    offered_for = "joint"
    stages = ("Assemble",)
    rank = 31
    drawing = '<path d="M2 5h6v7H2zM12 5h6v7h-6z"/><path class="hot" d="M10 2v3M10 7v3M10 12v3"/>'

    joint: str = field(TextField("the joint", "Its name or id, such as J1.", limit=40))
    state: str = field(ChoiceField("the state", "Followed or not.", default="rest",
                                   options={"rest": "rest", "wake": "hold again"}))  # fmt: skip

    def told(self, context: Context) -> str:
        return f"{self.joint} rests" if self.state == "rest" else f"{self.joint} holds again"

    def apply(self, work: Work) -> Outcome:
        return joints.SetJoint(joint=self.joint, asleep=self.state == "rest").do(work)
