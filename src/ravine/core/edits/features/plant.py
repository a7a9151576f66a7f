"""Plant a solid on a face."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import plant
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..registry import edit

_WAYS = {"as it was": "as it was", "added": "added", "subtracted": "cut out"}


@edit
class Plant(Edit):
    name = "plant"
    title = "Plant a part on it"
    also = ("stamp", "put feature")
    sentence = "Plant {what} on {face}, {way}, at {across} across and {up} up, turned {angle}, and {after}"
    past = "Planted {what} on {face}"
    help = (
        "Puts what was lifted out, or any other solid, on a flat face or a cylinder: with its foot where it was "
        "clicked, added as matter or cut as a pocket.  On a cylinder its foot is carried on until it lies on.  "
        "As often as wanted."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 21
    drawing = '<path d="M1 14h18V10H1z"/><path class="hot" d="M7 10V4h6v6M10 1v2M8.5 2.5 10 4l1.5-1.5"/>'
    folds = ("way", "angle", "after")
    keeps_open = ("what",)

    face: tuple[Reference, ...] = field(
        PickField("the face", "Flat, or a cylinder.", element="face", maximum=1, kinds=("plane", "cylinder"))
    )
    what: tuple[Reference, ...] = field(
        PickField("the part", "A solid, such as one that was lifted out.", element="node", maximum=1, changes=False)
    )
    way: str = field(ChoiceField("the way", "Matter or void.", default="as it was", options=_WAYS))
    across: float = field(LengthField("the place across", "Along the face; along a cylinder's axis.", default=0.0))
    up: float = field(LengthField("the place up", "Along the face, square to across.", default=0.0))
    angle: float = field(AngleField("the turn", "About the normal of the face.", default=0.0))
    after: str = field(ChoiceField("the end", "What becomes of the planted part.", default="kept",
                                   options={"kept": "keep it", "used": "use it up"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and pick.face_kinds <= {"plane", "cylinder"} and not pick.mesh

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """On what was clicked, the part that was lifted out last."""
        values: dict[str, Any] = {"face": list(picked[:1])}
        found = plant.lifted_last(work, picked[:1])
        if found is None:
            return values
        values["what"] = [found]
        if work.pointed is not None and plant.is_flat(work, picked[0]):
            across, up = plant.Plant(what=picked[:1], face=picked[:1]).from_start(work, work.pointed)
            values |= {"across": f"{across:.6g} mm", "up": f"{up:.6g} mm"}
        return values

    def told(self, context: Context) -> str:
        return f"Planted {self.word('what', context)} on {self.word('face', context)}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(plant.Plant).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(plant.Plant, work)
