"""Erase curves and constraints of a sketch, or whole sketches."""

from __future__ import annotations

from ...errors import EditError
from ...model.references import Reference
from ...operations import formulas, sketching
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class Erase(Edit):
    name = "erase"
    title = "Erase"
    sentence = "Erase {what}"
    past = "Erased {what}"
    help = "Takes curves away, with the rules on them; single rules and dimensions; or a whole sketch."
    offered_for = "curve"
    rank = 30
    drawing = (
        '<path d="M2 12h5"/><path class="hot" d="M7 12h6" stroke-dasharray="1.6 1.4"/><path d="M13 12h5"/>'
        '<path class="hot" d="M8 5l4 4M12 5l-4 4"/>'
    )

    what: tuple[Reference, ...] = field(PickField("what goes", "Curves, rules or sketches.", element="curve",
                                        also=("rule", "sketch", "point")))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("curve", "rule", "sketch")

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        kinds = {i.kind for i in self.what}
        if kinds == {"sketch"}:
            for number in sketching.numbers(self.what):
                snapshot = snapshot.without_sketch(number)
            snapshot, lost = formulas.settled_formulas(snapshot)
            return Outcome(snapshot, (), lost)
        if "sketch" in kinds:
            raise EditError("either whole sketches or things in them", self.what, field="what")
        sketch = sketching.sketch_of(snapshot, self.what, "what")
        doomed = set(sketching.numbers(self.what))
        for point in doomed & set(sketch.points):
            doomed |= {c.id for c in sketch.users(point)}
        sketch = sketch.without(doomed)
        snapshot, lost = formulas.settled_formulas(snapshot.with_sketch(sketch))
        return Outcome(snapshot, sketching.sketch_facts(snapshot.sketch(sketch.id)), lost)
