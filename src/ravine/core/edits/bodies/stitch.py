"""Sew loose surfaces along borders that run beside one another."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import stitch
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import LengthField, PickField
from ..registry import edit


@edit
class Stitch(Edit):
    name = "stitch"
    title = "Stitch"
    also = ("sew", "knit")
    sentence = "Stitch {parts} where borders run within {tolerance}"
    past = "Stitched {parts} within {tolerance}"
    help = (
        "Makes one surface of faces whose borders run beside one another, across several parts as well; a solid where "
        "nothing stays open.  The line tells how many edges stay open as the tolerance changes."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 61
    drawing = (
        '<path d="M2 4h6v9H2M18 4h-6v9h6"/><path class="hot" d="M6 6l8 1M6 9l8 1M6 12l8 1" stroke-dasharray="1.6 1.4"/>'
    )
    folds = ("tolerance",)

    parts: tuple[Reference, ...] = field(PickField("the parts", "Open surfaces, or parts to check.", element="node"))
    tolerance: float = field(LengthField("the tolerance", "Between borders that belong together.", minimum=1e-6,
                                     default=0.01))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and not pick.locked and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(stitch.Stitch, work)
