"""Give a named value another one."""

from __future__ import annotations

from typing import ClassVar

from ...operations import values
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, FormulaField, TextField
from ..registry import edit


@edit
class SetValue(Edit):
    name = "set value"
    title = "Set a value"
    also = ("new value", "parameter", "variable", "formula")
    sentence = "Set {called} to {value}"
    past = "Set {called} to {value}"
    help = (
        "Gives a named value a length or a formula over other names, such as 2*wall + 1 mm: a dimension on a solid is "
        "driven, a size in a sketch is set, and whatever has a formula with it follows.  A name that is new becomes a "
        "value of its own."
    )
    offered_for = "dimension"
    stages = ("Shape", "Sketch")
    rank = 16
    spelled: ClassVar = {"name": "called"}
    drawing = '<path d="M2 4h6M2 8h6M2 12h6"/><path class="hot" d="M11 4h7M11 8h7M11 12h4"/>'

    called: str = field(TextField("the name", "Of a dimension, a size in a sketch, or a value.", limit=31))
    value: float = field(FormulaField("the value", "A length, or a formula over other names."))

    def told(self, context: Context) -> str:
        return f"Set {self.called} to {getattr(self.value, 'text', '') or self.word('value', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(values.SetValue, work)
