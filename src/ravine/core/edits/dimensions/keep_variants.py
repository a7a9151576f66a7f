"""Keep a table of variants with the model."""

from __future__ import annotations

from ...operations import values
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, TableField
from ..registry import edit


@edit
class KeepVariants(Edit):
    name = "keep variants"
    title = "Keep a table of variants"
    also = ("variants", "table of values", "configurations")
    sentence = "Keep the variants {rows}"
    past = "Kept variants"
    help = "Keeps rows of values with the model, to be tried on the page of variants; the part stays as it is."
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 19
    drawing = '<path d="M2 3h16M2 7h16M2 11h16"/><path class="hot" d="M8 3v10M13 3v10"/>'

    rows: tuple[dict[str, str], ...] = field(
        TableField("the rows", "Names in the first line, a row of values or formulas in each further one.")
    )

    def told(self, context: Context) -> str:
        return f"Kept {len(self.rows)} variant{'s' if len(self.rows) != 1 else ''}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(values.KeepVariants, work)
