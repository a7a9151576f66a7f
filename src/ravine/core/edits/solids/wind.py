"""Wind areas of a sketch around an axis along a helix: threads, springs, worms."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import wind
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..fields.shared import WAY
from ..registry import edit


@edit
class Wind(Edit):
    name = "wind"
    title = "Wind along a helix"
    also = ("helix", "thread", "spiral", "coil")
    sentence = "Wind {areas} about {axis} over {height} with a pitch of {pitch} , {hand}, tapered by {taper}, {way}"
    past = "Wound {areas} with a pitch of {pitch}"
    doing = "Winding {areas} over {height}"
    help = (
        "Takes closed areas around an axis in their sketch's plane along a helix, from where they are drawn: a thread, "
        "a spring, a worm.  A negative height winds the other way along the axis.  Where turns would run into one "
        "another the pitch has to be larger."
    )
    offered_for = "area"
    uses_up = True
    rank = 9
    drawing = (
        '<path d="M10 1v14" stroke-dasharray="3 1.4"/>'
        '<path class="hot" d="M4 13c3 2 9 2 12-1M4 9c3 2 9 2 12-1M4 5c3 2 9 2 12-1"/>'
    )
    folds = ("taper",)

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
    height: float = field(LengthField("the height", "Along the axis.", nonzero=True))
    pitch: float = field(LengthField("the pitch", "Climb of one turn.", minimum=1e-3))
    hand: str = field(ChoiceField("the hand", "Right-handed as most screws.", default="right",
                              options={"right": "right-handed", "left": "left-handed"}))  # fmt: skip
    taper: float = field(AngleField("the taper", "By how much the helix widens as it climbs.", default=0.0))
    way: str = field(WAY)

    def told(self, context: Context) -> str:
        words = f"Wound {self.word('areas', context)} over {self.word('height', context)} with a pitch of "
        words += self.word("pitch", context) + (", left-handed" if self.hand == "left" else "")
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def apply(self, work: Work) -> Outcome:
        return self.done_by(wind.Wind, work)
