"""Turn areas of a sketch about an axis into solids."""

from __future__ import annotations

import math

from ...model.references import Reference
from ...operations import revolve
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import AngleField, Context, PickField
from ..fields.shared import WAY
from ..registry import edit


@edit
class Revolve(Edit):
    name = "revolve"
    title = "Revolve"
    also = ("lathe", "turn", "spin")
    sentence = "Revolve {areas} about {axis} by {angle} , {way}"
    past = "Revolved {areas} by {angle}"
    doing = "Revolving {areas} by {angle}"
    help = (
        "Turns closed areas about a line of the sketch, an edge or the axis of a round face.  The axis lies in the "
        "plane of the sketch and does not run through the areas."
    )
    offered_for = "area"
    uses_up = True
    rank = 8
    drawing = '<path d="M10 1v14" stroke-dasharray="3 1.4"/><path class="hot" d="M12 5h5v6h-5zM8 5H3v6h5"/>'

    areas: tuple[Reference, ...] = field(PickField("the areas", "Closed areas of one sketch.", element="area"))
    axis: tuple[Reference, ...] = field(
        PickField(
            "the axis",
            "A line of the sketch, an edge or a round face.",
            element="curve",
            also=("edge", "face"),
            maximum=1,
            changes=False,
            empty="a line",
            reopens=True,
        )
    )
    angle: float = field(AngleField("the angle", "A full turn is 360°.", default=2 * math.pi))
    way: str = field(WAY)

    def told(self, context: Context) -> str:
        full = abs(abs(self.angle) - 2 * math.pi) < 1e-9
        words = f"Revolved {self.word('areas', context)}" + ("" if full else f" by {self.word('angle', context)}")
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def apply(self, work: Work) -> Outcome:
        return self.done_by(revolve.Revolve, work)
