"""Cut a curve of a sketch back to what crosses it."""

from __future__ import annotations

from ..sketch.drawing import Spot
from ..sketch.trimming import trim
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .gaps import PickGap, PlacesGap
from .sketching import changed_at


@edit
class Trim(Edit):
    name = "trim"
    title = "Cut back"
    sentence = "Cut {curve} back at {at}"
    past = "Cut {curve} back"
    help = "Takes away the piece at the given place, from crossing to crossing; all of it where nothing crosses."
    offered_for = "curve"
    rank = 14
    drawing = "trim"

    curve: tuple[str, ...] = gap(PickGap("the curve", "A line, round or spline.", element="curve", maximum=1))
    at: tuple[Spot, ...] = gap(PlacesGap("the place", "On the piece that goes.", single=True))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return changed_at(work, self.curve, self.at, trim)
