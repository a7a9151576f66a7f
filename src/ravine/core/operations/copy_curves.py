"""Curves of a sketch drawn again: in a row, around a place, or mirrored about a line."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..errors import EditError
from ..model.references import Reference
from ..sketch.copying import along, around, copy
from ..sketch.drawing import Pen, Spot
from ..sketch.entities import Curve, Sketch
from .sketching import mirrored, numbers, settled, sketch_facts, sketch_of, with_ids
from .work import Operation, Outcome, Work

MANY = 500


@dataclass(frozen=True, kw_only=True)
class CopyCurves(Operation):
    """way: row (by `step`, mm), around (`middle`, by `angle`, radians, or evenly over the full turn) or mirrored (about
    `line`); count: with the one that is there."""

    curves: tuple[Reference, ...]
    way: str = "row"
    step: Sequence[Spot] | None = None
    middle: Sequence[Spot] | None = None
    angle: float | None = None
    count: int = 2
    line: tuple[Reference, ...] | None = None

    def do(self, work: Work) -> Outcome:
        sketch = sketch_of(work.snapshot, self.curves, "curves")
        curves = [sketch.curve(n) for n in numbers(self.curves)]
        if len(curves) * self.count > MANY:
            raise EditError(f"that makes {len(curves) * self.count} curves; up to {MANY} fit", field="count")

        def copied(ids: Iterator[int]) -> Sketch:
            if self.way == "mirrored":
                if not self.line:
                    raise EditError("pick the line to mirror about", field="line")
                return mirrored(sketch, [c.id for c in curves], self.line[0], ids)
            pen = Pen(sketch, ids)
            self._copy(pen, curves)
            return settled(pen.sketch)

        after = with_ids(work.snapshot, copied)
        return Outcome(after, sketch_facts(after.sketch(sketch.id)))

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
