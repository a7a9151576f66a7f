"""Recount a pattern: another number of members, another step, as if it had been laid so at first."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..model.pattern import Layout, Pattern
from ..model.references import Reference
from .facts import change_facts
from .pattern_members import check_turn, lay
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Recount(Operation):
    """Gives a pattern another count or step."""

    face: tuple[Reference, ...]
    count: int
    rows: int | None = None
    step: float | None = None
    angle: float | None = None

    def do(self, work: Work) -> Outcome:
        pattern = work.snapshot.pattern_of(self.face[0].number)
        if pattern is None:
            raise EditError(f"face {self.face[0]} is in no pattern; lay one with “pattern” first", self.face)
        before = len(pattern.members)
        snapshot = lay(work, work.snapshot, pattern, self._layout(pattern))
        after = Fact("members", "members", float(len(snapshot.patterns[pattern.id].members)), "count")
        was = Fact("was", "was", float(before), "count", one="was")
        return Outcome(snapshot, (*change_facts(work, snapshot, {pattern.body}), after, was))

    def _layout(self, pattern: Pattern) -> Layout:
        old = pattern.layout
        if old.kind == "around":
            if self.rows is not None and self.rows > 1:
                raise EditError("this pattern goes around an axis and has no rows", field="rows", nearest="1")
            if self.step is not None:
                raise EditError("this pattern goes around an axis; its step is an angle", field="step")
            angle = self.angle if self.angle is not None else 2 * math.pi / self.count if old.even else old.angle
            check_turn(self.count, angle)
            return replace(old, count=self.count, angle=angle, even=old.even and self.angle is None)
        if self.angle is not None:
            raise EditError("this pattern runs straight; its step is a length", field="angle")
        rows = self.rows or old.rows
        if rows > 1 and not any(old.second):
            raise EditError("it was laid as a single row, so it is not known where further rows go", field="rows",
                            nearest="1")  # fmt: skip
        first = old.first
        if self.step is not None:
            x, y, z = np.array(old.first) * (self.step / float(np.linalg.norm(old.first)))
            first = (float(x), float(y), float(z))
        return replace(old, count=self.count, first=first, rows=rows)
