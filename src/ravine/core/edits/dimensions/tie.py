"""Tie two things together."""

from __future__ import annotations

from typing import Any

from ...model.dimension import ROUND, WAYS
from ...model.references import Reference
from ...operations import ties
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField, TextField
from ..registry import edit


@edit
class Tie(Edit):
    name = "tie"
    title = "Tie them together"
    also = ("associate", "keep distance", "flush")
    sentence = "Tie {ends} at {distance} {way} called {called}"
    past = "Tied {ends}"
    help = (
        "Two faces, edges or axes stay at their distance, or on one another at 0: when an edit moves one of them, the "
        "other follows, its whole part where they are of different ones.  Drop the dimension and they are free."
    )
    offered_for = "face"
    stages = ("Shape", "Assemble")
    rank = 14
    drawing = '<path d="M3 3v10M17 3v10"/><path class="hot" d="M3 8h4M13 8h4M7 8a2 2 0 0 1 4 0M9 8a2 2 0 0 0 4 0"/>'
    folds = ("way", "called")

    ends: tuple[Reference, ...] = field(
        PickField("the two", "Two faces, edges or corners; the second follows where nothing else says which.",
                  element="face", also=("edge", "vertex"), maximum=2, changes=False)
    )  # fmt: skip
    distance: float | None = field(
        LengthField("the distance", "How far apart they stay.", minimum=0.0, default=None, blank="what it is now")
    )
    way: str = field(ChoiceField("the way", "Along which direction.", default="straight",
                                 options={w: t for w, t in WAYS.items() if w not in ROUND}))  # fmt: skip
    called: str | None = field(
        TextField("the name", "What formulas and scripts call it.", limit=31, default=None, blank="no name")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "vertex") and not pick.mesh and pick.count == 2

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"ends": list(picked[:2])}

    def told(self, context: Context) -> str:
        return f"Tied {self.word('ends', context)}" + ("" if self.distance is None else
                                                       f" at {self.word('distance', context)}")  # fmt: skip

    def apply(self, work: Work) -> Outcome:
        return self.done_by(ties.Tie, work)
