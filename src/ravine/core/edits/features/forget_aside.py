"""Forget what was set aside."""

from __future__ import annotations

from ...operations import aside
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import NamesField
from ..registry import edit


@edit
class ForgetAside(Edit):
    name = "forget aside"
    title = "Forget what was set aside"
    also = ("delete suppressed",)
    sentence = "Forget {what}"
    past = "Forgot {what}"
    help = "Forgets features that were set aside; the part stays as it is."
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 22
    drawing = '<path d="M2 13V7h4v4h4V7h4v6z"/><path class="hot" d="M6 1l4 5M10 1 6 6"/>'

    what: tuple[str, ...] = field(NamesField("what was set aside", "Names, as the list of features has them: hole-1."))

    def apply(self, work: Work) -> Outcome:
        return self.done_by(aside.ForgetAside, work)
