"""A duct between two outlines."""

from __future__ import annotations

from ...operations import make_transition
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, CountField, LengthField, TextField
from ..registry import edit

SHAPES = {"rectangle": "a rectangle", "round": "a round"}


@edit
class MakeTransition(Edit):
    name = "make transition"
    title = "Make a duct between two outlines"
    also = ("square to round", "duct", "hopper", "reducer")
    sentence = (
        "Make a duct of {thickness} sheet from {lower} of {lower_across} by {lower_deep} with corners {lower_corner} "
        "to {upper} of {upper_across} by {upper_deep} with corners {upper_corner} , {height} high, moved by {x} "
        "and {y} , "
        "turned {turn}, a quarter in {steps} steps, seam at {seam} with a gap of {gap} , as {called}"
    )
    past = "Made {called}"
    help = (
        "Between two outlines in level planes, on one axis or off it: flat facets with sharp folds between them, so "
        "that the flat is exact, open along a seam.  Sizes are those of the middle of the sheet.  The facets of "
        "a round "
        "outline have their folds on it."
    )
    stages = ("Sheet",)
    rank = 6
    drawing = '<path d="M2 14h16M6 3h8"/><path class="hot" d="M6 3 2 14M14 3l4 11M6 3l4 11 4-11"/>'
    folds = ("lower_corner", "upper_corner", "x", "y", "turn", "steps", "seam", "gap", "called")

    thickness: float = field(LengthField("the thickness", "Of the sheet.", default=1.0, minimum=1e-2))
    lower: str = field(ChoiceField("the shape below", "Of its outline.", default="rectangle", options=SHAPES))
    lower_across: float = field(
        LengthField("the size below", "Side along X, or diameter.", default=100.0, minimum=1e-2)
    )
    lower_deep: float | None = field(LengthField("the side along Y", "Below.", default=None, minimum=1e-2,
                                                 blank="the same", only=("lower", "rectangle")))  # fmt: skip
    lower_corner: float = field(LengthField("the corner radius", "Below.", default=0.0, minimum=0.0,
                                            only=("lower", "rectangle")))  # fmt: skip
    upper: str = field(ChoiceField("the shape above", "Of its outline.", default="round", options=SHAPES))
    upper_across: float = field(LengthField("the size above", "Side along X, or diameter.", default=80.0, minimum=1e-2))
    upper_deep: float | None = field(LengthField("the side along Y", "Above.", default=None, minimum=1e-2,
                                                 blank="the same", only=("upper", "rectangle")))  # fmt: skip
    upper_corner: float = field(LengthField("the corner radius", "Above.", default=0.0, minimum=0.0,
                                            only=("upper", "rectangle")))  # fmt: skip
    height: float = field(LengthField("the height", "Between the two planes.", default=90.0, minimum=1e-2))
    x: float = field(LengthField("the move along X", "Of the upper outline.", default=0.0))
    y: float = field(LengthField("the move along Y", "Of the upper outline.", default=0.0))
    turn: float = field(AngleField("the turn", "Of the upper outline.", default=0.0))
    steps: int = field(CountField("the steps", "Folds in a quarter of a circle.", default=6))
    seam: float = field(AngleField("the direction of the seam", "About Z, from X.", default=0.0))
    gap: float = field(LengthField("the gap", "Of the seam.", default=1.0, minimum=1e-3))
    called: str = field(TextField("the name", "Of the part.", default="Transition", limit=60))

    def told(self, context: Context) -> str:
        ends = " to ".join(SHAPES[s] for s in (self.lower, self.upper))
        return f"Made {self.called} of {self.word('thickness', context)} sheet, {ends}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(make_transition.MakeTransition, work)
