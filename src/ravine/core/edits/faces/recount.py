"""Recount a pattern: another number of members, another step, as if it had been laid so at first."""

from __future__ import annotations

from typing import Any

import numpy as np

from ...model.references import Reference
from ...operations import recount
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary, context_of
from ..declared import field
from ..fields import AngleField, Context, CountField, LengthField, PickField
from ..registry import edit


@edit
class Recount(Edit):
    name = "recount"
    title = "Recount"
    also = ("change count",)
    sentence = "Recount the pattern of {face} to {count} members in {rows} rows every {step} or {angle}"
    past = "Recounted the pattern of {face} to {count} members"
    doing = "Recounting the pattern of {face}"
    help = (
        "Gives a pattern another count or step.  Members that stay where they are keep their ids and what was changed "
        "on them; new ones are copies of the first as it is now."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 17
    drawing = drawings.PATTERN

    face: tuple[Reference, ...] = field(PickField("the member", "A face of any member.", element="face", maximum=1))
    count: int = field(CountField("the count", "Members in a row or around, with the first."))
    rows: int | None = field(CountField("the rows", "Rows of a grid; empty for as many as there are.", default=None))
    step: float | None = field(
        LengthField("the step", "From member to member of a row; empty for the one it has.", nonzero=True, default=None)
    )
    angle: float | None = field(
        AngleField("the angle", "From member to member around; empty for the one it has.", default=None)
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.patterned and pick.count == 1

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        found = work.snapshot.pattern_of(picked[0].number) if picked else None
        if found is None:
            return {"face": list(picked)}
        layout = found.layout
        values: dict[str, Any] = {"face": list(picked), "count": layout.count}
        if layout.kind == "rows":
            fields, context = cls.fields(), context_of(work)
            values["rows"] = layout.rows
            values["step"] = fields["step"].edit_text(float(np.linalg.norm(layout.first)), context)
        return values

    def told(self, context: Context) -> str:
        return f"Recounted the pattern of {self.word('face', context)} to {self.count} members" + (
            f" in {self.rows} rows" if (self.rows or 1) > 1 else ""
        )

    def apply(self, work: Work) -> Outcome:
        return self.done_by(recount.Recount, work)
