"""Lay the picture behind a sketch: scale it by a known length, fade it, or take it away."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import lay_picture
from ...operations.work import Outcome, Work
from ...sketch.drawing import Spot
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField, PlacesField, ShareField
from ..registry import edit


@edit
class LayPicture(Edit):
    name = "picture"
    title = "Scale the picture"
    also = ("image", "trace")
    sentence = "{what} the picture of {sketch} so that {places} are {length} apart, shown at {strength}"
    past = "Laid the picture of {sketch}"
    help = (
        "Scales the picture behind a sketch, in both directions alike, by two places in it and the distance that they "
        "have in truth; the first place stays where it is.  Shows it stronger or fainter, or takes it away.  A "
        "picture comes in as any other file does."
    )
    offered_for = "sketch"
    rank = 24
    drawing = '<path d="M3 3h14v11H3z"/><path class="hot" d="M3 12l4-4 3 3 3-4 4 5"/>'

    sketch: tuple[Reference, ...] = field(
        PickField("the sketch", "With a picture behind it.", element="sketch", maximum=1)
    )
    what: str = field(ChoiceField("what is done", "Scale it, only fade it, or take it away.", default="scale",
                              options={"scale": "Scale", "fade": "Fade", "drop": "Take away"}))  # fmt: skip
    places: tuple[Spot, ...] | None = field(
        PlacesField("two places", "Whose distance is known.", counts={"": (2, 2)}, default=None, only=("what", "scale"))
    )
    length: float | None = field(LengthField("the length", "Between them in truth.", minimum=1e-3, default=None,
                                         only=("what", "scale")))  # fmt: skip
    strength: float = field(ShareField("the strength", "100 % shows it as it is.", default=0.5,
                                   only=("what", "scale", "fade")))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "sketch" and pick.pictured

    def told(self, context: Context) -> str:
        return {"scale": "Scaled", "fade": "Faded", "drop": "Took away"}[self.what] + (
            f" the picture of {self.word('sketch', context)}"
        )

    def apply(self, work: Work) -> Outcome:
        return self.done_by(lay_picture.LayPicture, work)
