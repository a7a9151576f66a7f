"""Take a point or a curve of a sketch somewhere else."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot, drag, moved_by
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField, PlacesField
from ..registry import edit


@edit
class Drag(Edit):
    name = "drag"
    title = "Drag"
    also = ("move point",)
    sentence = "Take {what} to {to}"
    past = "Took {what} to {to}"
    help = (
        "Moves a point as far as the rules let it; the rest of the sketch follows and otherwise stays.  A curve moves "
        "by the way from its first point."
    )
    offered_for = "point"
    rank = 13
    drawing = (
        '<path d="M3 13 9 6"/><path class="hot" d="M9 6l7-3" stroke-dasharray="1.6 1.4"/>'
        '<circle class="hot" cx="16" cy="3" r="1.6"/>'
    )

    what: tuple[Reference, ...] = field(PickField("what moves", "A point or a curve.", element="point", also=("curve",),
                                        maximum=1))  # fmt: skip
    to: tuple[Spot, ...] = field(PlacesField("the place", "Where it goes.", single=True))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("point", "curve") and pick.count == 1

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.what, "what")
        (number,) = sketching.numbers(self.what)
        x, y = self.to[0].place
        if number in sketch.points:
            after = drag(sketch, number, (x, y))
        else:
            px, py = sketch.points[sketch.curve(number).points[0]]
            after = moved_by(sketch, number, (x - px, y - py))
        return Outcome(work.snapshot.with_sketch(after), sketching.sketch_facts(after))
