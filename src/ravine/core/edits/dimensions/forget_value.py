"""Forget a value."""

from __future__ import annotations

from typing import ClassVar

from ...operations import values
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import TextField
from ..registry import edit


@edit
class ForgetValue(Edit):
    name = "forget value"
    title = "Forget a value"
    also = ("delete value", "delete parameter")
    sentence = "Forget {called}"
    past = "Forgot {called}"
    help = "Forgets a value that is nothing but a name and a length; formulas with it keep what they give now."
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 18
    spelled: ClassVar = {"name": "called"}
    drawing = '<path d="M2 4h9M2 8h9M2 12h6"/><path class="hot" d="M13 6l5 5M18 6l-5 5"/>'

    called: str = field(TextField("the name", "Of the value.", limit=31))

    def apply(self, work: Work) -> Outcome:
        return self.done_by(values.ForgetValue, work)
