"""Let a copy go its own way."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import tree
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, PickField, TextField
from ..registry import edit


@edit
class MakeIndependent(Edit):
    name = "make independent"
    title = "Make independent"
    also = ("make unique", "break link", "separate copy")
    sentence = "Make {parts} independent , called {called}"
    past = "Made {parts} independent"
    help = "Copies that share one body change together; those picked get a body of their own and change alone."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 52
    drawing = '<path d="M2 3h6v6H2z"/><path class="hot" d="M12 7h6v6h-6zM9 5l2 2M9 8l2-1"/>'
    folds = ("called",)

    parts: tuple[Reference, ...] = field(PickField("the parts", "Copies.", element="node", changes=False))
    called: str | None = field(TextField("the name", "Of the new part.", default=None, blank="the next number"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        return f"Made {self.word('parts', context)} independent"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(tree.MakeIndependent, work)
