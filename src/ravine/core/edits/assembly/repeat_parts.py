"""Repeat parts in rows or around an axis: more places that show the same bodies."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import repeat_parts
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, CountField, LengthField, PickField
from ..registry import edit


@edit
class RepeatParts(Edit):
    name = "repeat parts"
    title = "Repeat in rows"
    also = ("array parts", "duplicate")
    sentence = "Repeat {parts} {count} times along {along} every {step}"
    past = "Repeated {parts} {count} times along {along} every {step}"
    help = "Puts more of the same part beside it, in a row.  They share one body: an edit on one shows on all."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 24
    drawing = drawings.PATTERN

    parts: tuple[Reference, ...] = field(PickField("the parts", "Parts or groups.", element="node", places=True))
    count: int = field(CountField("the count", "How many there are then, with the first.", default=2))
    along: str = field(ChoiceField("the direction", "An axis of the model.", default="x",
                               options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    step: float = field(LengthField("the step", "From part to part; negative goes back.", nonzero=True))

    def told(self, context: Context) -> str:
        return (
            f"Repeated {self.word('parts', context)} {self.count} times along {self.word('along', context)} "
            f"every {self.word('step', context)}"
        )

    def apply(self, work: Work) -> Outcome:
        return self.done_by(repeat_parts.RepeatParts, work)


@edit
class RepeatPartsAround(Edit):
    name = "repeat parts around"
    title = "Repeat around"
    also = ("polar parts",)
    sentence = "Repeat {parts} {count} times around {axis} every {angle}"
    past = "Repeated {parts} {count} times around {axis}"
    help = (
        "Puts more of the same part around an axis; without an angle they share the full turn evenly.  They share "
        "one body: an edit on one shows on all."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 25
    drawing = drawings.PATTERN

    parts: tuple[Reference, ...] = field(PickField("the parts", "Parts or groups.", element="node", places=True))
    count: int = field(CountField("the count", "How many there are then, with the first.", default=6))
    axis: tuple[Reference, ...] = field(
        PickField("the axis", "A round face or edge, or a straight edge, of any part.", element="face", also=("edge",),
                maximum=1, changes=False, empty="an axis", reopens=True)
    )  # fmt: skip
    angle: float | None = field(AngleField("the angle", "From part to part; empty for even.", default=None))

    def apply(self, work: Work) -> Outcome:
        return self.done_by(repeat_parts.RepeatPartsAround, work)
