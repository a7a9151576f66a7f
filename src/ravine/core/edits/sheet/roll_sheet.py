"""Roll a sheet."""

from __future__ import annotations

from ...operations import roll_sheet
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import Context, LengthField, TextField
from ..registry import edit


@edit
class RollSheet(Edit):
    name = "make tube"
    title = "Roll a cylinder or cone"
    also = ("rolled cone", "rolled tube", "roll sheet")
    sentence = (
        "Roll sheet of {thickness} to {lower} below and {upper} above, {height} high, with a gap of {gap} , as {called}"
    )
    past = "Rolled {called}"
    help = (
        "A cylinder, or with another diameter above a cone, of sheet rolled about Z and open along its seam.  "
        "Diameters are outer ones; the ends are square to the sheet.  The flat is exact: a rectangle, or a sector of "
        "a ring."
    )
    stages = ("Sheet",)
    rank = 5
    drawing = '<path d="M5 3h10M4 14h12"/><path class="hot" d="M5 3 4 14M15 3l1 11M10 3v11" stroke-dasharray="3 1.5"/>'

    thickness: float = field(LengthField("the thickness", "Of the sheet.", default=1.5, minimum=1e-2))
    lower: float = field(LengthField("the diameter below", "Outer.", default=60.0, minimum=1e-2))
    upper: float | None = field(
        LengthField("the diameter above", "Outer.", default=None, minimum=1e-2, blank="the same")
    )
    height: float = field(LengthField("the height", "Along the axis.", default=80.0, minimum=1e-2))
    gap: float = field(LengthField("the gap", "Of the seam, at the wider end.", default=1.0, minimum=1e-3))
    called: str = field(TextField("the name", "Of the part.", default="Rolled sheet", limit=60))

    def told(self, context: Context) -> str:
        return f"Rolled {self.called} of {self.word('thickness', context)} sheet"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(roll_sheet.RollSheet, work)
