"""Say what a size may be off by."""

from __future__ import annotations

from ...operations import set_tolerance
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, TextField
from ..registry import edit


@edit
class SetTolerance(Edit):
    name = "set tolerance"
    title = "Set a tolerance"
    also = ("tolerance", "deviation")
    sentence = "Let {called} be off by {text}"
    past = "Set the tolerance of {called}"
    help = (
        "Says what a named size may be off by: ±0.1, +0.2 -0.05, or a zone of ISO 286 such as H7.  Tolerance chains "
        "count with it; sizes without one have the general tolerance of ISO 2768-1."
    )
    offered_for = "dimension"
    stages = ("Shape", "Prove")
    rank = 17
    drawing = '<path d="M3 4v8M17 4v8M3 8h14"/><path class="hot" d="M8 3h4M10 1v4M8 13h4"/>'

    called: str = field(TextField("the name", "Of a dimension, a size in a sketch, or a value.", limit=31))
    text: str | None = field(
        TextField("the tolerance", "±0.1, +0.2 -0.05, or H7.", limit=40, default=None, blank="nothing")
    )

    def told(self, context: Context) -> str:
        return f"Let {self.called} be off by {self.text}" if self.text else f"{self.called} has no tolerance any more"

    def apply(self, work: Work) -> Outcome:
        return set_tolerance.SetTolerance(called=self.called, text=self.text or "").do(work)
