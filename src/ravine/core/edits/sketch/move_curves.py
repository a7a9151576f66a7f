"""Move and turn curves of a sketch."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import move_curves
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, PickField, PlacesField
from ..registry import edit

UPRIGHT = ("level", "upright", "level points", "upright points", "across", "upwards")


@edit
class MoveCurves(Edit):
    name = "move curves"
    title = "Move or turn"
    also = ("rotate curves",)
    sentence = "Move {curves} by {step} and turn them by {angle} around {middle}"
    past = "Moved {curves}"
    help = (
        "Moves curves of a sketch by a step, across and up, and turns them around a place (their own middle where none "
        "is given).  What hangs on them follows by the rules; turned lines are no longer held level or upright, but at "
        "a right angle or parallel to one another they stay."
    )
    offered_for = "curve"
    rank = 17
    drawing = '<path d="M2 13h9"/><path class="hot" d="M3 11 11 5M13 12a9 9 0 0 0 1-7M12.5 6 14 4.5 16 6"/>'

    curves: tuple[Reference, ...] = field(PickField("the curves", "Of one sketch.", element="curve", maximum=200))
    step: tuple[Spot, ...] | None = field(PlacesField("the step", "Across and up: 12,0.", single=True, default=None))
    angle: float = field(AngleField("the angle", "Counterclockwise.", default=0.0))
    middle: tuple[Spot, ...] | None = field(
        PlacesField("the middle", "What they turn around.", single=True, default=None)
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve"

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"curves": [p for p in picked if p.startswith("c")]}

    def apply(self, work: Work) -> Outcome:
        return self.done_by(move_curves.MoveCurves, work)
