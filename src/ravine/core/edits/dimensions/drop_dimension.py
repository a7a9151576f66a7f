"""Forget a dimension."""

from __future__ import annotations

from ...operations import dimensioning
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, TextField
from ..registry import edit


@edit
class DropDimension(Edit):
    name = "drop dimension"
    title = "Drop a dimension"
    also = ("delete dimension", "forget dimension")
    sentence = "Drop {dimension}"
    past = "Dropped {dimension}"
    help = "Forgets a kept dimension; the part stays as it is."
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 15
    drawing = '<path d="M3 3v10M17 3v10M3 8h14"/><path class="hot" d="M7 5l6 6M13 5l-6 6"/>'

    dimension: str = field(TextField("the dimension", "Its name or id, such as d12.", limit=40))

    def told(self, context: Context) -> str:
        return f"Dropped {self.dimension}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(dimensioning.DropDimension, work)
