"""Put back what was set aside."""

from __future__ import annotations

from ...operations import aside
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import NamesField
from ..registry import edit


@edit
class PutBack(Edit):
    name = "put back"
    title = "Put back what was set aside"
    also = ("unsuppress",)
    sentence = "Put back {what}"
    past = "Put back {what}"
    help = "Puts features that were set aside back on the faces as these are now; where one has gone, it says which."
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 21
    drawing = '<path d="M2 13V7h4v4h4V7h4v6z"/><path class="hot" d="M8 1v7M5.5 5.5 8 8l2.5-2.5"/>'

    what: tuple[str, ...] = field(NamesField("what was set aside", "Names, as the list of features has them: hole-1."))

    def apply(self, work: Work) -> Outcome:
        return self.done_by(aside.PutBack, work)
