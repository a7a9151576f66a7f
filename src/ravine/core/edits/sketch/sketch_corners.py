"""Fillet corners of a sketch."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.entities import Sketch
from ...sketch.trimming import round_corner
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import LengthField, PickField
from ..registry import edit


@edit
class SketchCorners(Edit):
    name = "round corners"
    title = "Round corners"
    also = ("fillet corner", "chamfer corner")
    sentence = "Round {corners} of the sketch with radius {radius}"
    past = "Rounded {corners} with radius {radius}"
    help = (
        "Puts an arc into corners where two lines share an end, tangent to both, its radius held; the last radius is "
        "offered."
    )
    offered_for = "point"
    rank = 14
    drawing = drawings.ROUND

    corners: tuple[Reference, ...] = field(PickField("the corners", "Points where two lines meet.", element="point"))
    radius: float = field(LengthField("the radius", "Of the arcs.", minimum=1e-4))

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """With the radius of the newest round in the sketch."""
        sketch = sketching.sketch_of(work.snapshot, picked, "corners")
        last = max((r for r in sketch.constraints.values() if r.kind == "radius"), key=lambda r: r.id, default=None)
        size = {"radius": f"{last.value:.6g} mm"} if last and last.value else {}
        return {"corners": list(picked), **size}

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "point"

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.corners, "corners")

        def rounded(ids: Iterator[int]) -> Sketch:
            found = sketch
            for point in sketching.numbers(self.corners):
                found = round_corner(found, point, self.radius, ids)
            return found

        after = sketching.with_ids(work.snapshot, rounded)
        return Outcome(after, sketching.sketch_facts(after.sketch(sketch.id)))
