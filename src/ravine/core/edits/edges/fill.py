"""Fill a closed loop of edges with a surface."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import fill
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class Fill(Edit):
    name = "fill"
    title = "Fill the loop"
    also = ("patch", "cap")
    sentence = "Fill the loop of {edges}"
    past = "Filled the loop of {edges}"
    doing = "Filling the loop of {edges}"
    help = (
        "Lays an open surface into a closed loop of edges or sketched curves: flat where they lie in one plane, else "
        "bent as little as it can be.  It is a part of its own; thickened it becomes a solid."
    )
    offered_for = "edge"
    rank = 34
    drawing = '<path d="M3 12c2-9 12-9 14 0-4 3-10 3-14 0z"/><path class="hot" d="M6 10l5-4M9 12l6-5"/>'

    edges: tuple[Reference, ...] = field(PickField("the edges", "Of one closed loop.", element="edge", also=("curve",),
                                         changes=False))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "curve") and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(fill.Fill, work)
