"""Chamfer edges: one distance, two, or a distance and an angle."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import chamfer
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField
from ..fields.shared import EDGES, RUNS
from ..registry import edit


@edit
class Chamfer(Edit):
    name = "chamfer"
    title = "Chamfer"
    also = ("bevel",)
    sentence = "Chamfer {edges} by {size} and {second} or at {angle}, measured on {side}, {run}"
    past = "Chamfered {edges} by {size}"
    doing = "Chamfering {edges} by {size}"
    help = "Takes sharp edges off with a flat or conical face: one distance, two of them, or a distance and an angle."
    offered_for = "edge"
    stages = ("Shape",)
    rank = 15
    drawing = '<path d="M2 3v11h15"/><path class="hot" d="M2 4h7l6 6v4"/>'
    folds = ("second", "angle", "side", "run")

    edges: tuple[Reference, ...] = field(EDGES)
    size: float = field(LengthField("the distance", "From the edge, on the first face.", minimum=1e-3))
    second: float | None = field(LengthField("the second distance", "On the other face; empty for the same.",
                                         minimum=1e-3, default=None))  # fmt: skip
    angle: float | None = field(AngleField("the angle", "Between the chamfer and the first face, instead of a second "
                                       "distance.", default=None))  # fmt: skip
    side: str = field(ChoiceField("the side", "Which of the two faces beside an edge is the first.", default="first",
                              options={"first": "one side", "other": "the other side"}))  # fmt: skip
    run: str = field(RUNS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "face") and not pick.locked and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Chamfered {self.word('edges', context)} by {self.word('size', context)}"
        if self.angle is not None:
            words += f" at {self.word('angle', context)}"
        elif self.second is not None:
            words += f" and {self.word('second', context)}"
        return words + (f", {self.word('run', context)}" if self.run == "loop" else "")

    def apply(self, work: Work) -> Outcome:
        return self.done_by(chamfer.Chamfer, work)
