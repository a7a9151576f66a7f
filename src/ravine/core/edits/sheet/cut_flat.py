"""Cut a sheet where it is drawn on its flat."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import cut_flat
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, NumbersField, PickField
from ..registry import edit

SHAPES = {"circle": "a round hole", "slot": "a slot", "rectangle": "a rectangle"}


@edit
class CutFlat(Edit):
    name = "cut flat"
    title = "Cut it on the flat"
    also = ("cut across bend", "cut unfolded", "hole in flat")
    sentence = "Cut {shape} {size} wide and {length} long, turned {turn}, into the flat of {on} at {at}"
    past = "Cut {shape} into the flat of {on}"
    doing = "Cutting {shape}"
    help = (
        "Cuts the folded part where a shape is drawn on its flat: square to the sheet everywhere, and on bends as the "
        "flat bends round.  In the flat, the word cut and a click give the place."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 10
    drawing = '<path d="M2 3h16v10H2z"/><path class="hot" d="M6 8a2 2 0 1 0 4 0 2 2 0 0 0-4 0M13 5v6"/>'
    keeps_open = ("shape", "size", "length", "turn")

    shape: str = field(ChoiceField("the shape", "What is cut.", default="circle", options=SHAPES))
    size: float = field(LengthField("the size", "Diameter, or width.", default=5.0, minimum=1e-3))
    length: float = field(
        LengthField("the length", "Over all.", default=15.0, minimum=1e-3, only=("shape", "slot", "rectangle"))
    )
    turn: float = field(AngleField("the turn", "In the flat.", default=0.0, only=("shape", "slot", "rectangle")))
    on: tuple[Reference, ...] = field(
        PickField("the part", "Or the flat face that its flat is seen from.", element="face", also=("node",), maximum=1)
    )
    at: tuple[float, ...] = field(NumbersField("the place", "In the flat, mm.", count=2))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        flat = pick.kind == "face" and pick.face_kinds == {"plane"}
        return (pick.kind == "node" or flat) and not pick.mesh and not pick.locked

    def told(self, context: Context) -> str:
        return f"Cut {SHAPES[self.shape]} of {self.word('size', context)} into the flat of {self.word('on', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(cut_flat.CutFlat, work)
