"""Fillet edges, with one radius or one that changes along the edge."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import fillet_edges
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, LengthField
from ..fields.shared import EDGES, RUNS
from ..registry import edit


@edit
class FilletEdges(Edit):
    name = "round"
    title = "Round"
    also = ("fillet", "blend")
    sentence = "Round {edges} with radius {size}, growing to {end} at the far end, {run}"
    past = "Rounded {edges} with radius {size}"
    doing = "Rounding {edges} with radius {size}"
    help = (
        "Rolls a ball along sharp edges.  With a second radius the round changes evenly along each edge.  Later its "
        "radius is set by picking the round itself, and it goes away with remove."
    )
    offered_for = "edge"
    stages = ("Shape",)
    rank = 14
    drawing = drawings.ROUND
    folds = ("end", "run")

    edges: tuple[Reference, ...] = field(EDGES)
    size: float = field(LengthField("the radius", "Of the ball.", minimum=1e-3))
    end: float | None = field(LengthField("the end radius", "At the far end of each edge; empty for the same.",
                                      minimum=1e-3, default=None))  # fmt: skip
    run: str = field(RUNS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "face") and not pick.locked and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Rounded {self.word('edges', context)} with radius {self.word('size', context)}"
        if self.end is not None:
            words += f" growing to {self.word('end', context)}"
        return words + (f", {self.word('run', context)}" if self.run == "loop" else "")

    def apply(self, work: Work) -> Outcome:
        return self.done_by(fillet_edges.FilletEdges, work)
