"""Split a curve of a sketch in two."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot
from ...sketch.trimming import divide
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField, PlacesField
from ..registry import edit


@edit
class Divide(Edit):
    name = "split curve"
    title = "Split the curve"
    also = ("break",)
    sentence = "Split {curve} at {at}"
    past = "Split {curve}"
    help = (
        "Makes two of a curve, which meet at the given place: lines stay in one line, arcs about one middle, and "
        "a circle becomes two halves."
    )
    offered_for = "curve"
    rank = 14
    drawing = '<path d="M2 9h7M11 9h7"/><path class="hot" d="M10 5v8"/>'

    curve: tuple[Reference, ...] = field(PickField("the curve", "Of any kind but text.", element="curve", maximum=1))
    at: tuple[Spot, ...] = field(PlacesField("the place", "Where the two meet.", single=True))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        return sketching.changed_at(work, self.curve, self.at, divide)
