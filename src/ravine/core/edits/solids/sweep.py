"""Take areas of a sketch along edges or curves."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import sweep
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, PickField
from ..fields.shared import WAY
from ..registry import edit


@edit
class Sweep(Edit):
    name = "sweep"
    title = "Sweep along"
    also = ("follow path",)
    sentence = "Sweep {areas} along {along} , {way}"
    past = "Swept {areas} along {along}"
    doing = "Sweeping {areas}"
    help = "Takes closed areas along edges of the model or curves of another sketch that follow one another."
    offered_for = "area"
    uses_up = True
    rank = 10
    drawing = '<path d="M2 10h4v4H2z"/><path class="hot" d="M4 12c9 0 5-8 13-8"/>'

    areas: tuple[Reference, ...] = field(PickField("the areas", "Closed areas of one sketch.", element="area"))
    along: tuple[Reference, ...] = field(
        PickField(
            "the way",
            "Edges, or curves of a sketch, in order.",
            element="curve",
            also=("edge",),
            changes=False,
            empty="curves or edges",
            several=True,
        )
    )
    way: str = field(WAY)

    def told(self, context: Context) -> str:
        words = f"Swept {self.word('areas', context)} along {self.word('along', context)}"
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def apply(self, work: Work) -> Outcome:
        return self.done_by(sweep.Sweep, work)
