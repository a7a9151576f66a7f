"""Take a curve of a sketch on to what it meets."""

from __future__ import annotations

from ..sketch.drawing import Spot
from ..sketch.trimming import extend
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import PickGap, PlacesGap
from .sketching import changed_at


@edit
class Extend(Edit):
    name = "extend"
    title = "Take on"
    sentence = "Take {curve} on at the end near {at}"
    past = "Took {curve} on"
    help = "Takes the end of a line or arc that is nearer to the given place on to the next curve that lies ahead."
    offered_for = "curve"
    rank = 14
    drawing = "extend"

    curve: tuple[str, ...] = gap(PickGap("the curve", "A line or arc.", element="curve", maximum=1))
    at: tuple[Spot, ...] = gap(PlacesGap("the place", "Near the end that moves.", single=True))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return changed_at(work, self.curve, self.at, extend)
