"""A chain of curves set off to one side."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from ..sketch.entities import Sketch
from ..sketch.parallels import set_off
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, LengthGap, PickGap
from .sketching import numbers, sketch_facts, sketch_of, with_ids


@edit
class SetOff(Edit):
    name = "set off"
    title = "Set off"
    sentence = "Set the chain of {curve} off by {distance} with {corners} corners, {sides}"
    past = "Set the chain of {curve} off by {distance}"
    help = (
        "Draws the parallel of a chain of lines, arcs and splines, to its left for a positive distance, to its right "
        "for a negative one; of circles and ellipses outwards.  Outer corners come sharp or round, those of splines "
        "always round; both sides at once makes a wall."
    )
    offered_for = "curve"
    rank = 15
    drawing = "offset"

    curve: tuple[str, ...] = gap(PickGap("the curve", "One of the chain.", element="curve", maximum=1))
    distance: float = gap(LengthGap("the distance", "Square to the curves.", nonzero=True))
    corners: str = gap(ChoiceGap("the corners", "On the outer side.", default="sharp",
                                 options={"sharp": "sharp", "round": "round"}))  # fmt: skip
    sides: str = gap(ChoiceGap("the sides", "One, or the same on the other.", default="one",
                               options={"one": "on one side", "both": "on both sides"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.curve, "curve")
        (number,) = numbers(self.curve)
        snapshot = work.snapshot
        for distance in (self.distance, -self.distance)[: 2 if self.sides == "both" else 1]:
            change = partial(self._parallel, snapshot.sketch(sketch.id), number, distance)
            snapshot = with_ids(snapshot, change)
        return Outcome(snapshot, sketch_facts(snapshot.sketch(sketch.id)))

    def _parallel(self, sketch: Sketch, number: int, distance: float, ids: Iterator[int]) -> Sketch:
        return set_off(sketch, number, distance, ids, self.corners == "round")[0]
