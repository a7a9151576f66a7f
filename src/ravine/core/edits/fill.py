"""Fill a closed loop of edges with a surface."""

from __future__ import annotations

from ..kernel.sheets import filled
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import PickGap
from .sheets import edge_shapes, new_sheet


@edit
class Fill(Edit):
    name = "fill"
    title = "Fill the loop"
    sentence = "Fill the loop of {edges}"
    past = "Filled the loop of {edges}"
    help = (
        "Lays an open surface into a closed loop of edges or sketched curves: flat where they lie in one plane, else "
        "bent as little as it can be.  It is a part of its own; thickened it becomes a solid."
    )
    offered_for = "edge"
    rank = 34
    drawing = "fill"

    edges: tuple[str, ...] = gap(PickGap("the edges", "Of one closed loop.", element="edge", also=("curve",),
                                         changes=False))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "curve") and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        doing = f"Filling the loop of {self.word('edges', work.context())}"
        return new_sheet(work, filled(edge_shapes(work, self.edges), doing))
