"""Runs of many short lines in a sketch as few lines, arcs, circles or splines."""

from __future__ import annotations

import numpy as np

from ..errors import EditError
from ..mending.sections import chained
from ..sketch.drawing import Pen
from ..sketch.entities import Curve, Sketch
from ..sketch.fitting import Wanted, fit
from ..sketch.flats import Floats
from ..sketch.strokes import lay
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, LengthGap, PickGap
from .section_curves import WITH
from .sketching import numbers, sketch_of, with_ids


@edit
class SimplifyCurves(Edit):
    name = "simplify curves"
    title = "Simplify"
    sentence = "Simplify {curves} to {kinds} within {deviation} , leaving out below {shortest}"
    past = "Simplified {curves} within {deviation}"
    help = (
        "Puts few lines, arcs, circles or splines for runs of many short lines, and closes gaps narrower than the "
        "deviation between them.  The line tells the count and the true largest deviation as it changes."
    )
    offered_for = "curve"
    rank = 18
    drawing = "simplify"

    curves: tuple[str, ...] = gap(PickGap("the curves", "Straight lines that follow one another.", element="curve",
                                          maximum=5000))  # fmt: skip
    kinds: str = gap(ChoiceGap("the kinds", "That may stand for short lines.", default="arcs", options=WITH))
    deviation: float = gap(LengthGap("the deviation", "How far a place may lie off.", minimum=1e-6, default=0.02))
    shortest: float = gap(LengthGap("the shortest", "Runs below it are left out.", minimum=0.0, default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve" and pick.count > 2

    def apply(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.curves, "curves")
        chosen = [sketch.curve(n) for n in numbers(self.curves)]
        other = next((c for c in chosen if c.kind != "line"), None)
        if other:
            raise EditError(f"c{other.id} is no straight line", [f"c{other.id}"], field="curves")
        wanted = Wanted(self.deviation, self.kinds != "lines", self.kinds == "splines", self.shortest)
        found = fit(runs_of(sketch, chosen, self.deviation), wanted)
        if len(found.strokes) >= len(chosen):
            raise EditError(f"{len(chosen)} lines cannot be fewer within that; a larger deviation may", self.curves,
                            field="deviation")  # fmt: skip

        def drawn(ids: object) -> Sketch:
            pen = Pen(sketch.without([c.id for c in chosen]), ids)  # type: ignore[arg-type]
            lay(pen, found.strokes)
            return pen.sketch

        facts = (
            Fact("curves", "curves", float(len(found.strokes)), "count"),
            Fact("segments", "lines before", float(len(chosen)), "count", one="line before"),
            Fact("off", "largest deviation", found.off, "length"),
        )
        return Outcome(with_ids(work.snapshot, drawn), facts)


def runs_of(sketch: Sketch, lines: list[Curve], near: float) -> list[Floats]:
    """Lines that follow one another, through shared points or points within `near` mm, as rows of places."""
    places = np.array([sketch.points[p] for c in lines for p in c.points])
    key = np.round(places / max(near, 1e-6))
    _, at, number = np.unique(key, axis=0, return_index=True, return_inverse=True)
    number = number.reshape(-1, 2)
    return chained(number[:, 0].tolist(), number[:, 1].tolist(), places[at])
