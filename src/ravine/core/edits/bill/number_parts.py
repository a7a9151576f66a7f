"""Keep the item numbers of the bill."""

from __future__ import annotations

from ...operations import part_data
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..registry import edit


@edit
class NumberParts(Edit):
    name = "number parts"
    title = "Keep the item numbers"
    also = ("item numbers", "find numbers")
    sentence = "Keep the item numbers of the bill"
    past = "Kept the item numbers of the bill"
    help = "From then on every part keeps the number that it has in the bill; parts that come later take the next ones."
    stages = ("Assemble", "Hand over")
    rank = 73
    drawing = drawings.LABEL

    def apply(self, work: Work) -> Outcome:
        return self.done_by(part_data.NumberParts, work)
