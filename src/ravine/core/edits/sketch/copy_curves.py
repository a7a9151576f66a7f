"""Copy curves of a sketch: in a row, around a place, or mirrored about a line."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from ...errors import EditError
from ...model.references import Reference
from ...operations import sketching
from ...operations.work import Outcome, Work
from ...sketch.copying import along, around, copy
from ...sketch.drawing import Pen, Spot
from ...sketch.entities import Curve, Sketch
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, CountField, PickField, PlacesField
from ..registry import edit

MANY = 500


@edit
class CopyCurves(Edit):
    name = "copy curves"
    title = "Copy"
    sentence = "Copy {curves} {way} by {step} around {middle} every {angle} with {count} in all {line}"
    past = "Copied {curves} {way}"
    help = (
        "Draws curves again: in a row, by a step; around a place, evenly over the full turn or by an angle; or "
        "mirrored about a line, to which they then stay mirrored.  Copied circles and arcs keep the size of the first."
    )
    offered_for = "curve"
    rank = 16
    drawing = drawings.PATTERN

    curves: tuple[Reference, ...] = field(PickField("the curves", "Of one sketch.", element="curve", maximum=200))
    way: str = field(ChoiceField("the way", "How they are laid.", default="row",
                             options={"row": "in a row", "around": "around", "mirrored": "mirrored"}))  # fmt: skip
    step: tuple[Spot, ...] | None = field(
        PlacesField(
            "the step", "From one to the next, across and up: 12,0.", single=True, default=None, only=("way", "row")
        )
    )  # fmt: skip
    middle: tuple[Spot, ...] | None = field(
        PlacesField("the middle", "What they stand around.", single=True, default=None, only=("way", "around"))
    )
    angle: float | None = field(AngleField("the angle", "From one to the next; an even share where none is given.",
                                       default=None, blank="an even share", only=("way", "around")))  # fmt: skip
    count: int = field(CountField("the count", "With the one that is there.", default=2, only=("way", "row", "around")))
    line: tuple[Reference, ...] | None = field(
        PickField("the line", "To mirror about.", element="curve", maximum=1, default=None, empty="about a line")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "curve"

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {"curves": [p for p in picked if p.startswith("c")]}

    def told(self, context: Context) -> str:
        words = f"Copied {self.word('curves', context)} "
        if self.way == "mirrored":
            return words + f"mirrored about {self.word('line', context)}"
        return words + f"{'in a row' if self.way == 'row' else 'around'}, {self.count} in all"

    def apply(self, work: Work) -> Outcome:
        sketch = sketching.sketch_of(work.snapshot, self.curves, "curves")
        curves = [sketch.curve(n) for n in sketching.numbers(self.curves)]
        if len(curves) * self.count > MANY:
            raise EditError(f"that makes {len(curves) * self.count} curves; up to {MANY} fit", field="count")

        def copied(ids: Iterator[int]) -> Sketch:
            if self.way == "mirrored":
                if not self.line:
                    raise EditError("pick the line to mirror about", field="line")
                return sketching.mirrored(sketch, [c.id for c in curves], self.line[0], ids)
            pen = Pen(sketch, ids)
            self._copy(pen, curves)
            return sketching._settled(pen.sketch)

        after = sketching.with_ids(work.snapshot, copied)
        return Outcome(after, sketching.sketch_facts(after.sketch(sketch.id)))

    def _copy(self, pen: Pen, curves: list[Curve]) -> None:
        if self.count < 2:
            raise EditError("a count of 1 leaves just what is there", nearest="2", field="count")
        if self.way == "row":
            if not self.step or max(map(abs, self.step[0].place)) < 1e-6:
                raise EditError("the step from one to the next is still empty", field="step")
            for k in range(1, self.count):
                copy(pen, curves, along(self.step[0].place, k))
            return
        if not self.middle:
            raise EditError("the middle they stand around is still empty", field="middle")
        angle = self.angle if self.angle is not None else 2 * math.pi / self.count
        for k in range(1, self.count):
            copy(pen, curves, around(self.middle[0].place, k * angle))
