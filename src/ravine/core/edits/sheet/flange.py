"""Pull edges of a sheet into flanges."""

from __future__ import annotations

import math

from ...model.references import Reference
from ...operations import flange
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField
from ..registry import edit

SHAPES = {"flange": "a flange", "hem": "a hem", "step": "a step"}
COUNTED = {"outside": "to the outside", "inside": "to the inside", "tangent": "beyond the bend"}
PLACED = {"beyond": "beyond the edge", "flush": "flush with the edge"}
RELIEFS = {"rectangular": "square reliefs", "round": "round reliefs", "none": "torn ends"}
CORNERS = {"open": "open corners", "closed": "closed corners"}


@edit
class Flange(Edit):
    name = "flange"
    title = "Pull a flange"
    also = ("edge flange", "hem", "jog", "bend up", "fold up")
    sentence = (
        "Pull {edges} into {shape} of {length} {counted} , bent by {angle} with radius {radius} , {placed} , leaving "
        "{first} and {last} free, {relief} {wide} wide and {deep} deep, {corners} with a gap of {gap} , going on by "
        "{beyond}"
    )
    past = "Pulled {edges} into {shape}"
    doing = "Pulling {edges} into {shape}"
    help = (
        "Bends sheet out of straight edges, towards the side whose edge was picked: a flange, a hem folded back on "
        "itself, or a step there and back.  The length counts to the outer corner, the inner one, or beyond the bend. "
        "Several edges at once make room for one another at shared corners, or close them up to a gap.  Where part of "
        "an edge stays free, the sheet is relieved beside the bend."
    )
    offered_for = "edge"
    stages = ("Sheet",)
    rank = 6
    drawing = '<path d="M2 13h9"/><path class="hot" d="M11 13a3 3 0 0 0 3-3V2M11.5 4.5 14 2l2.5 2.5"/>'
    folds = ("counted", "placed", "first", "last", "relief", "wide", "deep", "corners", "gap", "beyond")

    edges: tuple[Reference, ...] = field(
        PickField("the edges", "Straight ones of the sheet, on the side that it folds to.", element="edge")
    )
    shape: str = field(ChoiceField("the shape", "What is made of the edge.", default="flange", options=SHAPES))
    length: float = field(LengthField("the length", "Of the leg; the rise of a step.", default=20.0, minimum=1e-3))
    counted: str = field(ChoiceField("counted", "From where the length counts.", default="outside", options=COUNTED,
                                     only=("shape", "flange", "hem")))  # fmt: skip
    angle: float = field(AngleField("the angle", "By which the sheet is bent.", default=math.pi / 2,
                                    only=("shape", "flange", "step")))  # fmt: skip
    radius: float | None = field(
        LengthField("the radius", "On the inner side.", default=None, minimum=0.0, blank="the thickness")
    )
    placed: str = field(ChoiceField("placed", "Where the bend lies.", default="beyond", options=PLACED,
                                    only=("shape", "flange", "hem")))  # fmt: skip
    first: float = field(LengthField("free at the start", "Of the edge.", default=0.0, minimum=0.0))
    last: float = field(LengthField("free at the end", "Of the edge.", default=0.0, minimum=0.0))
    relief: str = field(ChoiceField("reliefs", "Beside the bend, where the edge stays free.", default="rectangular",
                                    options=RELIEFS))  # fmt: skip
    wide: float | None = field(
        LengthField("relief width", "Along the edge.", default=None, minimum=1e-3, blank="the thickness")
    )
    deep: float | None = field(
        LengthField("relief depth", "Beyond the bend.", default=None, minimum=1e-3, blank="the thickness")
    )
    corners: str = field(ChoiceField("corners", "Where two of the flanges meet.", default="open", options=CORNERS))
    gap: float = field(LengthField("the gap", "Between two legs at a corner.", default=0.2, minimum=0.0))
    beyond: float = field(
        LengthField("going on", "Of a step, after it.", default=10.0, minimum=1e-3, only=("shape", "step"))
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "edge" and not pick.mesh and not pick.locked

    def told(self, context: Context) -> str:
        words = f"Pulled {self.word('edges', context)} into {SHAPES[self.shape]} of {self.word('length', context)}"
        return words + ("" if self.shape == "hem" else f", bent by {self.word('angle', context)}")

    def handle(self, work: Work) -> Handle | None:
        return self.planned(flange.Flange).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(flange.Flange, work)
