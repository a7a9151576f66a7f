"""Move, turn or copy faces and whole features."""

from __future__ import annotations

from typing import Any

from ...errors import CannotDo
from ...model.references import Reference
from ...operations import followers, move_faces
from ...operations.work import Handle, Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..fields.shared import CHAMFERS, EXTENT, PLACED_ALONG, SET_ON, UNTIL
from ..registry import edit


@edit
class MoveFaces(Edit):
    name = "move faces"
    title = "Move, turn or copy"
    also = ("move", "shift", "translate", "copy")
    sentence = (
        "{way} {faces} {extent} along {along} of {axis} by {distance} until {until}, turning {angle} about it, "
        "{chamfers}"
    )
    past = "Moved {faces}"
    help = (
        "Slides faces along a direction and turns them about an axis; their neighbours follow, rounds roll along.  A "
        "pick inside a hole, boss or pocket takes the whole feature.  As a copy, the feature stays and another one "
        "is planted at the new place."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 12
    drawing = drawings.MOVE
    folds = ("extent", "axis", "until", "angle", "chamfers")

    distance: float = field(LengthField("the distance", "How far to slide; negative goes back.", default=0.0))
    way: str = field(ChoiceField("the way", "Move the faces themselves, or plant a copy.", default="move",
                             options={"move": "Move", "copy": "Copy"}))  # fmt: skip
    faces: tuple[Reference, ...] = field(PickField("the faces", "Faces of one body.", element="face"))
    extent: str = field(EXTENT)
    along: str = field(PLACED_ALONG)
    axis: tuple[Reference, ...] | None = field(SET_ON)
    until: tuple[Reference, ...] | None = field(UNTIL)
    angle: float = field(AngleField("the angle", "How far to turn, right-handed about the direction.", default=0.0))
    chamfers: str = field(CHAMFERS)

    @classmethod
    def idle(cls, work: Work, picked: tuple[Reference, ...]) -> frozenset[str]:
        return followers.no_chamfers(work, picked)

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        values = super().suggest(work, picked)
        if not picked or picked[0].kind != "face" or picked[0].owner[0].kind == "mesh":
            return values
        return {**values, "along": move_faces.usual_direction(work, picked[0])}

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"{'Copied' if self.way == 'copy' else 'Moved'} {self.word('faces', context)}"
        if self.until:
            words += f" along {self._direction_words(context)} until {self.word('until', context)}"
        elif self.distance:
            words += f" along {self._direction_words(context)} by {self.word('distance', context)}"
        if self.angle:
            words += f"{' and' if self.distance or self.until else ''} turned {self.word('angle', context)}"
            words += " about it" if self.distance or self.until else f" about {self._direction_words(context)}"
        return words

    def _direction_words(self, context: Context) -> str:
        return self.word("along", context) + (f" of {self.word('axis', context)}" if self.axis else "")

    def handle(self, work: Work) -> Handle | None:
        return self.planned(move_faces.MoveFaces).handle(work)

    def doing_words(self, context: Context, error: CannotDo) -> str:
        return f"{'Copying' if self.way == 'copy' else 'Moving'} {self.word('faces', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(move_faces.MoveFaces, work)
