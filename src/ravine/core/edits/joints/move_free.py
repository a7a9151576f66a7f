"""Move a part as its joints leave it free."""

from __future__ import annotations

from typing import Any

from ...model.joint import SLIDES, TURNS
from ...model.references import Reference
from ...operations import free_motion
from ...operations.work import Handle, Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..registry import edit


@edit
class MoveFree(Edit):
    name = "move free"
    title = "Move as it is free"
    also = ("swing", "play", "drag part")
    sentence = "Move {part} {motion} by {angle} {distance} , {contact}"
    past = "Moved {part} {motion}"
    help = (
        "Turns or slides a part the way its joints leave free, and takes along what is joined to it.  Stopping at "
        "contact, it goes until it meets another part."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 12
    drawing = '<circle cx="5" cy="11" r="2"/><path d="M6.5 9.5 14 4"/><path class="hot" d="M17 6c1 4-2 7-6 8l2-3"/>'
    folds = ("contact",)

    part: tuple[Reference, ...] = field(
        PickField("the part", "One that is joined.", element="node", places=True, maximum=1)
    )
    motion: str = field(
        ChoiceField("the motion", "Of those that its joints leave free, slides and turns counted apart.",
                    default="turn", options={**TURNS, **SLIDES})
    )  # fmt: skip
    angle: float = field(AngleField("the angle", "How far to turn.", default=0.0, only=("motion", *TURNS)))
    distance: float = field(LengthField("the distance", "How far to slide.", default=0.0, only=("motion", *SLIDES)))
    contact: str = field(ChoiceField("at contact", "Whether it goes through what is in its way.", default="through",
                                     options={"through": "through others", "stop": "stopping at contact"}))  # fmt: skip

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"part": list(picked[:1]), "motion": free_motion.first_motion(work, picked[0])}

    def told(self, context: Context) -> str:
        value = "distance" if self.motion in SLIDES else "angle"
        verb = "Slid" if value == "distance" else "Turned"
        return f"{verb} {self.word('part', context)} by {self.word(value, context)} as its joints leave it"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(free_motion.MoveFree).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(free_motion.MoveFree, work)
