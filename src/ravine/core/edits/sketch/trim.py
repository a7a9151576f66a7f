"""Cut a curve of a sketch back to what crosses it."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot
from ...sketch.trimming import trim
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField, PlacesField
from ..registry import edit


@edit
class Trim(Edit):
    name = "trim"
    title = "Cut back"
    also = ("cut back",)
    sentence = "Cut {curve} back at {at}"
    past = "Cut {curve} back"
    help = "Takes away the piece at the given place, from crossing to crossing; all of it where nothing crosses."
    offered_for = "curve"
    rank = 14
    drawing = '<path d="M2 9h6M12 2v12"/><path class="hot" d="M12 9h6" stroke-dasharray="1.6 1.4"/>'

    curve: tuple[Reference, ...] = field(PickField("the curve", "A line, round or spline.", element="curve", maximum=1))
    at: tuple[Spot, ...] = field(PlacesField("the place", "On the piece that goes.", single=True))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return sketching.changed_at(work, self.curve, self.at, trim)
