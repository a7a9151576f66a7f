"""Put parts into a group."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import tree
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField, TextField
from ..registry import edit


@edit
class GroupParts(Edit):
    name = "group parts"
    title = "Put into a group"
    also = ("group", "subassembly")
    sentence = "Put {parts} into a group called {called}"
    past = "Put {parts} into the group {called}"
    help = "Parts and groups go into a new group; they stay where they stand."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 50
    drawing = '<path d="M2 3h6v5H2zM12 3h6v5h-6z"/><path class="hot" d="M1 1h18v13H1z"/>'

    parts: tuple[Reference, ...] = field(PickField("the parts", "Parts and groups.", element="node", changes=False))
    called: str = field(TextField("the name", "Of the group.", default="Group"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(tree.GroupParts, work)
