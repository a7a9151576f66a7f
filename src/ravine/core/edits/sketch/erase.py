"""Erase curves and constraints of a sketch, or whole sketches."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import erase
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import PickField
from ..registry import edit


@edit
class Erase(Edit):
    name = "erase"
    title = "Erase"
    also = ("delete curve",)
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
        return self.done_by(erase.Erase, work)
