"""Take a curve of a sketch on to what it meets."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot
from ...sketch.trimming import extend
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField, PlacesField
from ..registry import edit


@edit
class Extend(Edit):
    name = "extend"
    title = "Take on"
    also = ("lengthen",)
    sentence = "Take {curve} on at the end near {at}"
    past = "Took {curve} on"
    help = "Takes the end of a line or arc that is nearer to the given place on to the next curve that lies ahead."
    offered_for = "curve"
    rank = 14
    drawing = '<path d="M2 9h7M16 2v12"/><path class="hot" d="M9 9h7" stroke-dasharray="1.6 1.4"/>'

    curve: tuple[Reference, ...] = field(PickField("the curve", "A line or arc.", element="curve", maximum=1))
    at: tuple[Spot, ...] = field(PlacesField("the place", "Near the end that moves.", single=True))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return sketching.changed_at(work, self.curve, self.at, extend)
