"""Keep a dimension between faces, edges or corners."""

from __future__ import annotations

from typing import Any

from ...model.dimension import WAYS
from ...model.references import Reference
from ...operations import dimensioning
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField
from ..registry import edit


@edit
class AddDimension(Edit):
    name = "add dimension"
    title = "Put a dimension on it"
    also = ("drive dimension", "driving dimension")
    sentence = "Dimension {ends} {way} called {called}"
    past = "Dimensioned {ends}"
    help = (
        "Keeps the distance between two faces, edges, axes or corners, straight or along an axis of the model; the "
        "wall behind a flat face; or the diameter or radius of something round.  It is drawn in the view; a click on "
        "its value drives it: faces and whole features move until it is so."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 13
    drawing = '<path d="M3 3v10M17 3v10"/><path class="hot" d="M3 8h14M5.5 6 3 8l2.5 2M14.5 6 17 8l-2.5 2"/>'
    folds = ("way", "called")

    ends: tuple[Reference, ...] = field(
        PickField("the ends", "One round face or edge, one flat face, or two faces, edges or corners.", element="face",
                  also=("edge", "vertex"), maximum=2, changes=False)
    )  # fmt: skip
    way: str = field(ChoiceField("the way", "Along which direction.", default="straight",
                                 options={w: t for w, t in WAYS.items() if w != "diameter"}))  # fmt: skip
    called: str | None = field(
        TextField("the name", "What formulas and scripts call it.", limit=31, default=None, blank="no name")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "vertex") and not pick.mesh and pick.count <= 2

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"ends": list(picked[:2])}

    def told(self, context: Context) -> str:
        return f"Dimensioned {self.word('ends', context)}" + (f" as {self.called}" if self.called else "")

    def apply(self, work: Work) -> Outcome:
        return self.done_by(dimensioning.AddDimension, work)
