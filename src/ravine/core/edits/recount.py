"""Recount a pattern: another number of members, another step, as if it had been laid so at first."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from ..errors import EditError
from ..model.pattern import Layout, Pattern
from ..model.snapshot import split_id
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .gaps import AngleGap, Context, CountGap, LengthGap, PickGap
from .members import check_turn, lay


@edit
class Recount(Edit):
    name = "recount"
    title = "Recount"
    sentence = "Recount the pattern of {face} to {count} members in {rows} rows every {step} or {angle}"
    past = "Recounted the pattern of {face} to {count} members"
    help = (
        "Gives a pattern another count or step.  Members that stay where they are keep their ids and what was changed "
        "on them; new ones are copies of the first as it is now."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 17
    drawing = "pattern"

    face: tuple[str, ...] = gap(PickGap("the member", "A face of any member.", element="face", maximum=1))
    count: int = gap(CountGap("the count", "Members in a row or around, with the first."))
    rows: int | None = gap(CountGap("the rows", "Rows of a grid; empty for as many as there are.", default=None))
    step: float | None = gap(
        LengthGap("the step", "From member to member of a row; empty for the one it has.", nonzero=True, default=None)
    )
    angle: float | None = gap(
        AngleGap("the angle", "From member to member around; empty for the one it has.", default=None)
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.patterned and pick.count == 1

    @classmethod
    def suggest(cls, work: Work, picked: tuple[str, ...]) -> dict[str, Any]:
        found = work.snapshot.pattern_of(split_id(picked[0])[1]) if picked else None
        if found is None:
            return {"face": list(picked)}
        layout = found.layout
        values: dict[str, Any] = {"face": list(picked), "count": layout.count}
        if layout.kind == "rows":
            gaps, context = cls.gaps(), work.context()
            values["rows"] = layout.rows
            values["step"] = gaps["step"].edit_text(float(np.linalg.norm(layout.first)), context)
        return values

    def told(self, context: Context) -> str:
        return f"Recounted the pattern of {self.word('face', context)} to {self.count} members" + (
            f" in {self.rows} rows" if (self.rows or 1) > 1 else ""
        )

    def apply(self, work: Work) -> Outcome:
        pattern = work.snapshot.pattern_of(split_id(self.face[0])[1])
        if pattern is None:
            raise EditError(f"face {self.face[0]} is in no pattern; lay one with “pattern” first", self.face)
        before = len(pattern.members)
        doing = f"Recounting the pattern of {self.word('face', work.context())}"
        snapshot = lay(work, work.snapshot, pattern, self._layout(pattern), doing)
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
