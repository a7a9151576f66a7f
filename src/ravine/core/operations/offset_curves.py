"""A chain of curves set off to one side or both, open or closed at its ends."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from ..model.references import Reference
from ..sketch.entities import Sketch
from ..sketch.parallels import close_ends, open_ends, set_off
from .sketching import numbers, sketch_facts, sketch_of, with_ids
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class OffsetCurves(Operation):
    """distance (mm): to the left of the chain where positive; corners: sharp or round; sides: one or both; ends: open,
    straight or round."""

    curve: tuple[Reference, ...]
    distance: float
    corners: str = "sharp"
    sides: str = "one"
    ends: str = "open"

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.curve, "curve")
        (number,) = numbers(self.curve)
        snapshot, made = work.snapshot, []
        for distance in (self.distance, -self.distance)[: 2 if self.sides == "both" else 1]:
            before = snapshot.sketch(sketch.id)
            snapshot = with_ids(snapshot, partial(self._parallel, before, number, distance))
            made.append([c for n, c in snapshot.sketch(sketch.id).curves.items() if n not in before.curves])
        if self.sides == "both" and self.ends != "open":
            rims = [open_ends(snapshot.sketch(sketch.id), row) for row in made]
            close = partial(close_ends, snapshot.sketch(sketch.id), number, rims, self.ends == "round")
            snapshot = with_ids(snapshot, close)
        return Outcome(snapshot, sketch_facts(snapshot.sketch(sketch.id)))

    def _parallel(self, sketch: Sketch, number: int, distance: float, ids: Iterator[int]) -> Sketch:
        return set_off(sketch, number, distance, ids, self.corners == "round")[0]
