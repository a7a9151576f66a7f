"""Put a real part in the place of a board's component."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import stand_in, take_from_shelf
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, Context, LengthField, PickField, TextField
from ..registry import edit


@edit
class StandInFor(Edit):
    name = "stand in"
    title = "Put a real part there"
    also = ("replace component", "component model")
    sentence = (
        "For {component} and its like put {item} or {by} , turned {turn}, moved {across} across, {up} up, {lift} off"
    )
    past = "Put a real part for {component}"
    help = (
        "The blocks that a board's file gives for components with one part number are replaced, all at once, by an "
        "item of the shelf or by a part that was brought in.  The rule is kept: the next board that comes into this "
        "model gets the same parts in their places."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 16
    drawing = '<path d="M1 13h18M3 13V9h5v4"/><path class="hot" d="M11 13V5h6v8M12.5 5V2M15.5 5V2"/>'
    folds = ("turn", "across", "up", "lift")

    component: tuple[Reference, ...] = field(
        PickField("the component", "Any one with the part number.", element="node", maximum=1, changes=False)
    )
    item: str | None = field(
        TextField("the item", "Of the shelf: an id, or words.", limit=60, default=None, blank="no item")
    )
    by: tuple[Reference, ...] | None = field(
        PickField("the part", "That was brought in; it goes from where it is.", element="node", maximum=1,
                  changes=False, default=None, empty="a part of the model")
    )  # fmt: skip
    turn: float = field(AngleField("the turn", "About the direction away from the board.", default=0.0))
    across: float = field(LengthField("across", "Along the component's X.", default=0.0))
    up: float = field(LengthField("up", "Along the component's Y.", default=0.0))
    lift: float = field(LengthField("off the board", "Away from the board.", default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.component

    def told(self, context: Context) -> str:
        what = take_from_shelf.told_item(self.item) if self.item else self.word("by", context)
        number = context.snapshot.nodes[self.component[0].number].attributes.get(stand_in.PART_NUMBER, "")
        return f"Put {what} for every {number}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(stand_in.PutStandIn, work)
