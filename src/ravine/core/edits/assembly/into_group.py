"""Put parts elsewhere in the tree."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import tree
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, PickField
from ..registry import edit


@edit
class IntoGroup(Edit):
    name = "into group"
    title = "Put elsewhere in the tree"
    also = ("reparent", "move in tree")
    sentence = "Put {parts} into {group}"
    past = "Put {parts} into {group}"
    help = "Parts and groups go into another group, or to the outermost level; they stay where they stand."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 51
    drawing = '<path d="M2 2h7v4H2zM2 6v8"/><path class="hot" d="M2 10h5M9 8h8v4H9z"/>'

    parts: tuple[Reference, ...] = field(PickField("the parts", "Parts and groups.", element="node", changes=False))
    group: tuple[Reference, ...] = field(
        PickField("the group", "Where they go; nothing for the outermost level.", element="node", changes=False,
                  maximum=1, minimum=0, default=(), empty="the outermost level")
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        where = self.word("group", context) if self.group else "the outermost level"
        return f"Put {self.word('parts', context)} into {where}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(tree.PutInto, work)
