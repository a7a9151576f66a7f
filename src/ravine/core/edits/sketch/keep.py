"""Keep curves and points of a sketch parallel, level, tangent and so on."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import constrain
from ...operations.work import Outcome, Work
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
    title = "Constrain"
    also = ("constrain", "constraint")
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
        return self.done_by(constrain.Constrain, work)
