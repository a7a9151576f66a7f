"""Move and turn curves of a sketch."""

from __future__ import annotations

from typing import Any

from ...errors import EditError
from ...model.references import Reference
from ...model.words import plural
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.copying import along, around
from ...sketch.drawing import Spot
from ...sketch.entities import Point2, Sketch
from ...sketch.solver import solve
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, PickField, PlacesField
from ..registry import edit

UPRIGHT = ("level", "upright", "level points", "upright points", "across", "upwards")


@edit
class MoveCurves(Edit):
    name = "move curves"
    title = "Move or turn"
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
        sketch = sketching.sketch_of(work.snapshot, self.curves, "curves")
        moved = set(sketching.numbers(self.curves))
        points = {p for n in moved for p in sketch.curve(n).points}
        step = self.step[0].place if self.step else (0.0, 0.0)
        if not self.angle and max(map(abs, step)) < 1e-6:
            raise EditError("neither a step nor an angle: nothing would move", field="step")
        turn, shift = around(self._middle(sketch, points), self.angle), along(step, 1)
        places: dict[int, Point2] = {p: shift(turn(sketch.points[p])) for p in points}
        freed = []
        if self.angle:
            freed = [r.id for r in sketch.constraints.values() if r.kind in UPRIGHT and set(r.on) & (moved | points)]
        solved = solve(sketch.without(freed).with_points(places), places)
        if not solved.holds:
            raise EditError("the rules of the sketch do not let them go there", self.curves, field="curves")
        count = len(freed)
        warnings = (f"{plural(count, 'rule')} on level and upright given up",) if count else ()
        return Outcome(work.snapshot.with_sketch(solved.sketch), sketching.sketch_facts(solved.sketch), warnings)

    def _middle(self, sketch: Sketch, points: set[int]) -> Point2:
        if self.middle:
            return self.middle[0].place
        rows = [sketch.points[p] for p in points]
        return (sum(x for x, _ in rows) / len(rows), sum(y for _, y in rows) / len(rows))
