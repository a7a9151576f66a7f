"""Give a size to what is drawn, or change one."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import dimension_sketch, sketching
from ...operations.work import Outcome, Work
from ...sketch.constraints import SIZE_WORDS
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, FormulaField, PickField, TextField
from ..registry import edit


@edit
class Dimension(Edit):
    name = "dimension"
    title = "Dimension"
    also = ("size", "measure curve")
    sentence = "Dimension {on} with {kind} {size} {angle} called {called}"
    past = "Dimensioned {on}"
    help = (
        "Holds a size: the length of a line, the distance of points, lines, or a point from a line, across or upwards "
        "only, the angle between two lines, a radius or diameter.  Given again it changes the size; the rest of the "
        "sketch moves as little as it can.  A size with a name stands for its length in every formula: 2*wall + 1; a "
        "dimension given by a formula goes on following it."
    )
    offered_for = "curve"
    rank = 11
    drawing = '<path d="M3 5v8M17 5v8"/><path class="hot" d="M3 4h14M5 2.5 3 4l2 1.5M15 2.5 17 4l-2 1.5"/>'

    on: tuple[Reference, ...] = field(
        PickField(
            "what it is on", "One or two curves and points of one sketch.", element="curve", also=("point",), maximum=2
        )
    )
    kind: str = field(
        ChoiceField("what is held", "Between or of what is picked.", default="distance", options=SIZE_WORDS)
    )
    size: float | None = field(
        FormulaField(
            "the size",
            "A length.",
            minimum=0.0,
            default=None,
            instead="angle",
            only=("kind", "distance", "across", "upwards", "radius", "diameter"),
        )
    )
    angle: float | None = field(AngleField("the angle", "From the first line to the second.", default=None,
                                       only=("kind", "angle")))  # fmt: skip

    called: str | None = field(
        TextField("the name", "What formulas call it: letters and digits.", limit=31, default=None, blank="no name")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("curve", "point") and pick.count <= 2

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """With the size it has now."""
        sketch = sketching.sketch_of(work.snapshot, picked, "on")
        now = dimension_sketch.size_now(sketch, sketching.numbers(picked))
        if now is None:
            return {"on": list(picked)}
        kind, size, called = now
        return {"on": list(picked), "kind": kind, "size": size, **({"called": called} if called else {})}

    def told(self, context: Context) -> str:
        size = self.word("angle" if self.kind == "angle" else "size", context)
        return f"Dimensioned {self.word('on', context)}: {SIZE_WORDS[self.kind]} {size}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(dimension_sketch.DimensionSketch, work)
