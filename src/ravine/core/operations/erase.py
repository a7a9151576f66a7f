"""Curves and constraints taken out of a sketch, or whole sketches out of the model."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..model.references import Reference
from .sketching import numbers, sketch_facts, sketch_of
from .values import settled_formulas
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Erase(Operation):
    """A point goes with the curves that end in it; what is told of lost formulas are the warnings."""

    what: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        kinds = {i.kind for i in self.what}
        if kinds == {"sketch"}:
            for number in numbers(self.what):
                snapshot = snapshot.without_sketch(number)
            snapshot, lost = settled_formulas(snapshot)
            return Outcome(snapshot, (), lost)
        if "sketch" in kinds:
            raise EditError("either whole sketches or things in them", self.what, field="what")
        sketch = sketch_of(snapshot, self.what, "what")
        doomed = set(numbers(self.what))
        for point in doomed & set(sketch.points):
            doomed |= {c.id for c in sketch.users(point)}
        snapshot, lost = settled_formulas(snapshot.with_sketch(sketch.without(doomed)))
        return Outcome(snapshot, sketch_facts(snapshot.sketch(sketch.id)), lost)
