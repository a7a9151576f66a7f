"""Say what a part is in lists and orders."""

from __future__ import annotations

from ...model.part_data import SAID
from ...model.references import Reference
from ...operations import part_data
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField
from ..registry import edit


@edit
class SetPartData(Edit):
    name = "set part data"
    title = "Say for the bill"
    also = ("part number", "stock number", "maker", "made or bought")
    sentence = "Give {parts} the {what} {value}"
    past = "Gave {parts} the {what} {value}"
    help = (
        "What the bill of materials and orders tell of a part: part and stock number, maker, finish, process, price, a "
        "note, and whether it is made, bought or for reference only.  Left empty, it is forgotten."
    )
    offered_for = "node"
    stages = ("Assemble", "Hand over")
    rank = 72
    drawing = drawings.LABEL

    value: str | None = field(TextField("the value", "Text, or a number for a price.", default=None, blank="nothing"))
    parts: tuple[Reference, ...] = field(PickField("the parts", "The parts.", element="node", changes=False))
    what: str = field(ChoiceField("what", "What is said.", default="part_number", options=SAID))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        if not self.value:
            return f"Forgot the {SAID[self.what]} of {self.word('parts', context)}"
        return f"Gave {self.word('parts', context)} the {SAID[self.what]} {self.value}"

    def apply(self, work: Work) -> Outcome:
        return part_data.SetPartData(parts=self.parts, what=self.what, value=self.value or "").do(work)
