"""Give several named values others at once."""

from __future__ import annotations

from ...operations import values
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, RowsField
from ..registry import edit


@edit
class SetValues(Edit):
    name = "set values"
    title = "Set several values"
    also = ("variant", "row of values")
    sentence = "Set {rows}"
    past = "Set {rows}"
    help = "Gives several named values others in one step, as a row of variants has them: wall = 3 mm; reach = 40."
    offered_for = "dimension"
    stages = ("Shape",)
    rank = 17
    drawing = '<path d="M2 3h5M2 8h5M2 13h5"/><path class="hot" d="M10 3h8M10 8h8M10 13h8"/>'

    rows: dict[str, str] = field(RowsField("the values", "Names and lengths or formulas: wall = 3 mm; reach = 40."))

    def told(self, context: Context) -> str:
        return f"Set {self.word('rows', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(values.SetValues, work)
