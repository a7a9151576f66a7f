"""Forget a joint."""

from __future__ import annotations

from ...operations import joints
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, TextField
from ..registry import edit


@edit
class DropJoint(Edit):
    name = "drop joint"
    title = "Drop a joint"
    also = ("delete joint", "forget joint", "disconnect")
    sentence = "Drop {joint}"
    past = "Dropped {joint}"
    help = "Forgets a joint; its parts stay where they are, and are free of it."
    offered_for = "joint"
    stages = ("Assemble",)
    rank = 32
    drawing = '<path d="M2 5h6v7H2zM12 5h6v7h-6z"/><path class="hot" d="M7 5l6 6M13 5l-6 6"/>'

    joint: str = field(TextField("the joint", "Its name or id, such as J1.", limit=40))

    def told(self, context: Context) -> str:
        return f"Dropped {self.joint}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(joints.DropJoint, work)
