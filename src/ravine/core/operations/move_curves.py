"""Curves of a sketch moved and turned in its plane."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import EditError
from ..model.references import Reference
from ..model.words import plural
from ..sketch.copying import along, around
from ..sketch.drawing import Spot
from ..sketch.entities import Point2, Sketch
from ..sketch.solver import solve
from .sketching import numbers, sketch_facts, sketch_of
from .work import Operation, Outcome, Work

UPRIGHT = ("level", "upright", "level points", "upright points", "across", "upwards")


@dataclass(frozen=True, kw_only=True)
class MoveCurves(Operation):
    """By `step` (mm), turned by `angle` (radians) around `middle`, or around their own.  What hangs on them follows by
    the constraints; turned ones are no longer held level or upright."""

    curves: tuple[Reference, ...]
    step: Sequence[Spot] | None = None
    angle: float = 0.0
    middle: Sequence[Spot] | None = None

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.curves, "curves")
        moved = set(numbers(self.curves))
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
        warnings = (f"{plural(len(freed), 'rule')} on level and upright given up",) if freed else ()
        return Outcome(work.snapshot.with_sketch(solved.sketch), sketch_facts(solved.sketch), warnings)

    def _middle(self, sketch: Sketch, points: set[int]) -> Point2:
        if self.middle:
            return self.middle[0].place
        rows = [sketch.points[p] for p in points]
        return (sum(x for x, _ in rows) / len(rows), sum(y for _, y in rows) / len(rows))
