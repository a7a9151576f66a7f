"""Runs of many short lines in a sketch as few lines, arcs, circles or splines."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..mending.sections import chained
from ..model.references import Reference
from ..sketch.drawing import Pen
from ..sketch.entities import Curve, Sketch
from ..sketch.fitting import Wanted, fit
from ..sketch.plane_curves import Floats
from ..sketch.strokes import lay
from .sketching import numbers, sketch_of, with_ids
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SimplifyCurves(Operation):
    """Puts few lines, arcs, circles or splines for runs of many short lines, and closes gaps narrower than the
    deviation between them."""

    curves: tuple[Reference, ...]
    kinds: str = "arcs"
    deviation: float = 0.02
    shortest: float = 0.0

    def do(self, work: Work) -> Outcome:
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

        def drawn(ids: Iterator[int]) -> Sketch:
            pen = Pen(sketch.without([c.id for c in chosen]), ids)
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
