"""Pull areas of a sketch into solids."""

from __future__ import annotations

from ...errors import CannotDo
from ...model.references import Reference
from ...operations import extrude
from ...operations.work import Handle, Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..fields.shared import WAY
from ..registry import edit


@edit
class Extrude(Edit):
    name = "extrude"
    title = "Extrude"
    also = ("pull", "pull out")
    sentence = "Extrude {areas} by {distance} or until {until} , {sides}, tapered by {taper}, {way}"
    past = "Extruded {areas} by {distance}"
    help = (
        "Pulls closed areas square to their sketch: by a distance (negative goes below the sketch), or until a picked "
        "face, edge or corner; to one side or evenly to both.  With a taper the walls lean inwards as they go.  The "
        "matter joins what it touches, makes a part of its own, or is cut out."
    )
    offered_for = "area"
    uses_up = True
    rank = 7
    drawing = '<path d="M2 14 5 10h9l-3 4z"/><path class="hot" d="M5 10V4h9v6M11 8V3"/>'
    folds = ("until", "sides", "taper")

    areas: tuple[Reference, ...] = field(PickField("the areas", "Closed areas of one sketch.", element="area"))
    distance: float | None = field(LengthField("the distance", "Along the sketch's normal.", nonzero=True, default=None,
                                           instead="until"))  # fmt: skip
    until: tuple[Reference, ...] | None = field(
        PickField(
            "until",
            "A flat face, edge or corner that ends it.",
            element="face",
            also=("edge", "vertex", "facet"),
            maximum=1,
            changes=False,
            default=None,
            empty="anything",
        )
    )
    sides: str = field(ChoiceField("the sides", "One side, or half of it to each.", default="one",
                               options={"one": "to one side", "both": "half to each side"}))  # fmt: skip
    taper: float = field(AngleField("the taper", "Walls lean inwards by this much; negative outwards.", default=0.0))
    way: str = field(WAY)

    def told(self, context: Context) -> str:
        words = f"Extruded {self.word('areas', context)} "
        words += f"until {self.word('until', context)}" if self.until else f"by {self.word('distance', context)}"
        if self.taper:
            words += f", tapered by {self.word('taper', context)}"
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def handle(self, work: Work) -> Handle | None:
        return self.planned(extrude.Extrude).handle(work)

    def doing_words(self, context: Context, error: CannotDo) -> str:
        words = f"Extruding {self.word('areas', context)} "
        return words + (
            f"until {self.word('until', context)}" if self.until else f"by {self.word('distance', context)}"
        )

    def apply(self, work: Work) -> Outcome:
        return self.done_by(extrude.Extrude, work)
