"""Geometric constraints on curves and points of a sketch."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..model.references import Reference
from ..sketch.constraints import fit
from ..sketch.entities import Sketch
from .sketching import numbers, sketch_facts, sketch_of, with_constraint
from .work import Operation, Outcome, Work

EACH = ("level", "upright")  # constraints that many picks may take one by one
WITH_THE_FIRST = ("parallel", "equal", "in line", "one middle")


@dataclass(frozen=True, kw_only=True)
class Constrain(Operation):
    """rule: a kind that `sketch.constraints.fit` knows.  Several lines are made parallel, equal and so on with the
    first of them; a curve is fixed by its points."""

    on: tuple[Reference, ...]
    rule: str = "level"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        before = sketch = sketch_of(snapshot, self.on, "on")
        for group in self._groups(sketch):
            form, order = fit(sketch, self.rule, group)
            same = next((r for r in sketch.constraints.values() if r.kind == form and set(r.on) == set(order)), None)
            if same is None:
                sketch, snapshot = with_constraint(snapshot, sketch, form, order, "rule")
        if sketch == before:
            raise EditError("that is a rule of the sketch already", self.on, field="rule")
        return Outcome(snapshot, sketch_facts(sketch))

    def _groups(self, sketch: Sketch) -> list[list[int]]:
        picked = numbers(self.on)
        if self.rule == "fixed":
            found = [(n,) if n in sketch.points else sketch.curve(n).points for n in picked]
            return [[p] for p in dict.fromkeys(q for points in found for q in points)]
        if self.rule in EACH and not (len(picked) == 2 and all(n in sketch.points for n in picked)):
            return [[n] for n in picked]
        if self.rule in WITH_THE_FIRST and len(picked) > 2:
            return [[picked[0], other] for other in picked[1:]]
        return [picked]
