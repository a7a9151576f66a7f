"""Press a form out of a sheet."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import press_form
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..registry import edit

KINDS = {"dimple": "a dimple", "bead": "a bead", "collar": "a hole with a collar", "louvre": "a louvre",
         "knock-out": "a knock-out"}  # fmt: skip
LONG = ("kind", "bead", "louvre")


@edit
class PressForm(Edit):
    name = "press"
    title = "Press a form out of it"
    also = ("emboss", "stiffening bead", "formed feature")
    sentence = (
        "Press {kind} {size} wide and {height} high, {length} long, turned {turn}, out of {face} at {across} across "
        "and {up} up"
    )
    past = "Pressed {kind} out of {face}"
    doing = "Pressing {kind}"
    help = (
        "Forms of a small set: a round dimple, a bead, a hole whose rim is drawn to a collar, a louvre that is "
        "lanced open along one side, or a knock-out that hangs by two webs.  They stand out of the side that is "
        "picked.  In the "
        "flat a dimple, bead or louvre is marked by its outline, and the blank is whole there."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 13
    drawing = '<path d="M1 12h5M14 12h5"/><path class="hot" d="M6 12l2-5h4l2 5"/>'
    folds = ("turn",)

    kind: str = field(ChoiceField("the form", "What is pressed.", default="dimple", options=KINDS))
    size: float = field(LengthField("the size", "Diameter or width at the foot; of a collar that of its hole.",
                                    default=16.0, minimum=1e-2))  # fmt: skip
    height: float = field(LengthField("the height", "Above the wall.", default=3.0, minimum=1e-2))
    length: float = field(LengthField("the length", "Of a bead or louvre, over all.", default=50.0, minimum=1e-2,
                                      only=LONG))  # fmt: skip
    turn: float = field(AngleField("the turn", "Of a bead or louvre, in the wall.", default=0.0, only=LONG))
    face: tuple[Reference, ...] = field(
        PickField("the face", "Of a wall, on the side that it stands out of.", element="face", maximum=1,
                  kinds=("plane",))
    )  # fmt: skip
    across: float = field(LengthField("the place across", "Along the face, from its middle.", default=0.0))
    up: float = field(LengthField("the place up", "Along the face, square to across.", default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        flat = pick.kind == "face" and pick.face_kinds == {"plane"}
        return flat and pick.count == 1 and not pick.mesh and not pick.locked

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """Where the face was clicked."""
        values = super().suggest(work, picked)
        if work.pointed is None or not picked:
            return values
        across, up = press_form.PressForm(face=picked[:1]).from_start(work, work.pointed)
        return {**values, "across": f"{across:.6g} mm", "up": f"{up:.6g} mm"}

    def told(self, context: Context) -> str:
        return f"Pressed {KINDS[self.kind]} of {self.word('size', context)} out of {self.word('face', context)}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(press_form.PressForm).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(press_form.PressForm, work)
