"""Move, turn or copy parts: slide along a direction and turn about it."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import move_body
from ...operations.work import Handle, Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..fields.shared import SET_ON, UNTIL
from ..registry import edit


@edit
class MoveBody(Edit):
    name = "move body"
    title = "Move, turn or copy"
    also = ("move part", "rotate", "position")
    sentence = "{way} {parts} along {along} of {axis} by {distance} until {until}, turning {angle} about it"
    past = "Moved {parts}"
    help = (
        "Slides parts along a direction and turns them about it.  The handle stands in the middle of the part along "
        "the axes of the model; set on an edge, axis, face or corner, Z runs along that.  A copy shares its body with "
        "the part it came from."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 20
    drawing = drawings.MOVE
    folds = ("axis", "until", "angle")

    way: str = field(ChoiceField("the way", "Move the parts themselves, or put a copy there.", default="move",
                             options={"move": "Move", "copy": "Copy"}))  # fmt: skip
    parts: tuple[Reference, ...] = field(
        PickField("the parts", "The parts or groups to move.", element="node", places=True)
    )
    along: str = field(
        ChoiceField(
            "the direction",
            "X, Y or Z of the model, or of what the handle is set on, where Z runs along its axis or normal.",
            default="x", options={"x": "X", "y": "Y", "z": "Z"},
        )
    )  # fmt: skip
    axis: tuple[Reference, ...] | None = field(SET_ON)
    distance: float = field(LengthField("the distance", "How far to slide; negative goes back.", default=0.0))
    until: tuple[Reference, ...] | None = field(UNTIL)
    angle: float = field(AngleField("the angle", "How far to turn, right-handed about the direction.", default=0.0))

    def told(self, context: Context) -> str:
        words = f"{'Copied' if self.way == 'copy' else 'Moved'} {self.word('parts', context)}"
        along = self.word("along", context) + (f" of {self.word('axis', context)}" if self.axis else "")
        slides = bool(self.distance or self.until)
        if self.until:
            words += f" along {along} until {self.word('until', context)}"
        elif self.distance:
            words += f" along {along} by {self.word('distance', context)}"
        if self.angle:
            words += f"{' and' if slides else ''} turned {self.word('angle', context)} about "
            words += "it" if slides else along
        return words

    def handle(self, work: Work) -> Handle | None:
        return self.planned(move_body.MoveBody).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(move_body.MoveBody, work)
