"""Keep curves and points of a sketch parallel, level, tangent and so on."""

from __future__ import annotations

from ...errors import EditError
from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.constraints import fit
from ...sketch.entities import Sketch
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, PickField
from ..registry import edit

WORDS = {
    "together": "together", "level": "level", "upright": "upright", "parallel": "parallel",
    "square": "square to each other", "in line": "in one line", "equal": "equal", "one middle": "about one middle",
    "middle": "at the middle", "mirrored": "mirrored", "on": "on one another", "tangent": "tangent", "fixed": "fixed",
}  # fmt: skip
EACH = ("level", "upright")  # constraints that many picks may take one by one


@edit
class Keep(Edit):
    name = "keep"
    title = "Keep"
    sentence = "Keep {on} {rule}"
    past = "Kept {on} {rule}"
    help = (
        "Makes a rule of it: lines level, upright, parallel, square, equal or in one line; rounds equal, tangent or "
        "about one middle; points together, on a curve, at a middle, mirrored about a line, or fixed.  What "
        "contradicts the rules that are there is refused, and they are named."
    )
    offered_for = "curve"
    rank = 12
    drawing = '<path d="M4 13 9 3"/><path class="hot" d="M10 13l5-10"/>'

    on: tuple[Reference, ...] = field(PickField("what it is about", "Curves and points of one sketch.", element="curve",
                                      also=("point",), maximum=200))  # fmt: skip
    rule: str = field(ChoiceField("the rule", "What is kept.", default="level", options=WORDS))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("curve", "point")

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.on, "on")
        picked = sketching.numbers(self.on)
        if self.rule == "fixed":  # a curve is fixed by its points
            found = (n if n in sketch.points else sketch.curve(n).points for n in picked)
            groups = [[p] for p in dict.fromkeys(q for n in found for q in ((n,) if isinstance(n, int) else n))]
        elif self.rule in EACH and not _pair(sketch, picked):
            groups = [[n] for n in picked]
        else:
            groups = _pairs(self.rule, picked)
        snapshot = work.snapshot
        for group in groups:
            form, order = fit(sketch, self.rule, group)
            same = next((r for r in sketch.constraints.values() if r.kind == form and set(r.on) == set(order)), None)
            if same is None:
                sketch, snapshot = sketching.with_constraint(snapshot, sketch, form, order, "rule")
        if sketch == work.snapshot.sketch(sketch.id):
            raise EditError("that is a rule of the sketch already", self.on, field="rule")
        return Outcome(snapshot, sketching.sketch_facts(sketch))


def _pair(sketch: Sketch, picked: list[int]) -> bool:
    return len(picked) == 2 and all(n in sketch.points for n in picked)


def _pairs(rule: str, picked: list[int]) -> list[list[int]]:
    """Several lines are made parallel, equal and so on with the first of them."""
    if rule in ("parallel", "equal", "in line", "one middle") and len(picked) > 2:
        return [[picked[0], other] for other in picked[1:]]
    return [picked]
