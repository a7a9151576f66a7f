"""Draw parts apart by steps under a name; take such steps back."""

from __future__ import annotations

from typing import Any

from ...model.explosion import FIRST
from ...model.records import EXPLOSIONS
from ...model.references import Reference
from ...operations import explode
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, CountField, LengthField, PickField, TextField
from ..fields.shared import SET_ON
from ..registry import edit


@edit
class Spread(Edit):
    name = "spread"
    title = "Draw apart by a step"
    also = ("explode", "exploded view")
    sentence = "Draw {parts} apart along {along} of {axis} by {distance} , in {called}"
    past = "Drew {parts} apart"
    help = (
        "Adds one step to a kept way of drawing the parts apart: what is picked goes along a direction together, on "
        "from where the steps before took it.  Nothing in the model moves.  The parts list plays the steps, with a "
        "line from where each part belongs; drawings show them."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 54
    drawing = '<path d="M3 10h6v5H3zM6 9V7"/><path class="hot" d="M3 1h6v4H3zM13 13V3M11 5l2-2 2 2"/>'
    folds = ("axis",)
    shown_only = True

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "The parts or groups that go together.", element="node", changes=False)
    )
    along: str = field(
        ChoiceField(
            "the direction", "X, Y or Z of the model, or of what the handle is set on.", default="z",
            options={"x": "X", "y": "Y", "z": "Z"},
        )
    )  # fmt: skip
    axis: tuple[Reference, ...] | None = field(SET_ON)
    distance: float = field(LengthField("the distance", "How far; negative goes the other way.", default=0.0))
    called: str = field(TextField("the name", "Of the steps that this one is added to.", limit=40, default=FIRST))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """Added to what was drawn apart last."""
        return {"parts": list(picked), "called": next(reversed(list(work.snapshot.kept(EXPLOSIONS))), FIRST)}

    def told(self, context: Context) -> str:
        return f"Drew {self.word('parts', context)} apart by {self.word('distance', context)}, in {self.called}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(explode.Spread).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(explode.Spread, work)


@edit
class Gather(Edit):
    name = "gather"
    title = "Take steps back"
    also = ("unexplode",)
    sentence = "Take back step {step} of {called}"
    past = "Took steps back"
    help = "Takes back one step of a kept way of drawing parts apart; without a number all of them, and its name goes."
    offered_for = "steps"
    stages = ("Assemble",)
    rank = 55
    drawing = '<path d="M3 10h6v5H3zM3 4h6v5H3z"/><path class="hot" d="M13 2v11M11 11l2 2 2-2"/>'

    called: str = field(TextField("the name", "Of the steps.", limit=40))
    step: int | None = field(CountField("the step", "Counted from one.", default=None, blank="all"))

    def told(self, context: Context) -> str:
        return f"Took back {f'step {self.step}' if self.step else 'all steps'} of {self.called}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(explode.Gather, work)
