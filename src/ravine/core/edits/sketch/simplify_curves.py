"""Runs of many short lines in a sketch as few lines, arcs, circles or splines."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import simplify_curves
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, LengthField, PickField
from ..fields.shared import WITH
from ..registry import edit


@edit
class SimplifyCurves(Edit):
    name = "simplify curves"
    title = "Simplify"
    also = ("fit curves",)
    sentence = "Simplify {curves} to {kinds} within {deviation} , leaving out below {shortest}"
    past = "Simplified {curves} within {deviation}"
    help = (
        "Puts few lines, arcs, circles or splines for runs of many short lines, and closes gaps narrower than the "
        "deviation between them.  The line tells the count and the true largest deviation as it changes."
    )
    offered_for = "curve"
    rank = 18
    drawing = drawings.SIMPLIFY
    folds = ("shortest",)

    curves: tuple[Reference, ...] = field(
        PickField("the curves", "Straight lines that follow one another.", element="curve", maximum=5000)
    )
    kinds: str = field(ChoiceField("the kinds", "That may stand for short lines.", default="arcs", options=WITH))
    deviation: float = field(LengthField("the deviation", "How far a place may lie off.", minimum=1e-6, default=0.02))
    shortest: float = field(LengthField("the shortest", "Runs below it are left out.", minimum=0.0, default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count > 2

    def apply(self, work: Work) -> Outcome:
        return self.done_by(simplify_curves.SimplifyCurves, work)
