"""Repeat a feature in a row, a grid or around an axis."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import axes, repeat
from ...operations.work import Handle, Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, CountField, LengthField, PickField
from ..fields.shared import ALONG, AXIS
from ..registry import edit


@edit
class PatternRows(Edit):
    name = "pattern"
    title = "Repeat in rows"
    also = ("array", "linear pattern", "row", "grid")
    sentence = (
        "Repeat {faces} {count} times along {along} of {axis} every {step}, in {rows} rows along {across} every {pitch}"
    )
    past = "Repeated {faces} {count} times along {along} every {step}"
    doing = "Repeating {faces}"
    help = (
        "Plants copies of a hole, boss or pocket in a row or a grid; the count takes in the one that is there.  The "
        "members are remembered: they can be recounted, and riders of the same pattern change together."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 18
    drawing = drawings.PATTERN
    folds = ("axis", "rows", "across", "pitch")

    faces: tuple[Reference, ...] = field(PickField("the feature", "A face of a hole, boss or pocket.", element="face"))
    count: int = field(CountField("the count", "Members in a row, with the first.", default=3))
    along: str = field(ALONG)
    axis: tuple[Reference, ...] | None = field(AXIS)
    step: float = field(LengthField("the step", "From member to member; negative goes back.", nonzero=True))
    rows: int = field(CountField("the rows", "Rows of the grid, with the first.", default=1))
    across: str = field(ChoiceField("the direction across", "In which the rows follow.", default="y",
                                options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    pitch: float | None = field(LengthField("the row step", "From row to row.", default=None))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        values = super().suggest(work, picked)
        if not picked or picked[0].kind != "face" or picked[0].owner[0].kind == "mesh":
            return values
        along, across, _ = axes.axes_beside(work, picked[0])
        return {**values, "along": along, "across": across}

    def told(self, context: Context) -> str:
        words = f"Repeated {self.word('faces', context)} {self.count} times along "
        words += f"{self.word('axis' if self.axis else 'along', context)} every {self.word('step', context)}"
        if self.rows > 1:
            words += f", in {self.rows} rows along {self.word('across', context)} every {self.word('pitch', context)}"
        return words

    def handle(self, work: Work) -> Handle | None:
        return self.planned(repeat.PatternRows).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(repeat.PatternRows, work)


@edit
class PatternAround(Edit):
    name = "pattern around"
    title = "Repeat around"
    also = ("circular pattern", "polar array")
    sentence = "Repeat {faces} {count} times around {axis} every {angle}"
    past = "Repeated {faces} {count} times around {axis}"
    doing = "Repeating {faces}"
    help = "Plants copies of a hole, boss or pocket around an axis; without an angle they share the full turn evenly."
    offered_for = "face"
    stages = ("Shape",)
    rank = 19
    drawing = drawings.PATTERN

    faces: tuple[Reference, ...] = field(PickField("the feature", "A face of a hole, boss or pocket.", element="face"))
    count: int = field(CountField("the count", "Members, with the first.", default=6))
    axis: tuple[Reference, ...] = field(
        PickField("the axis", "A round face or edge, or a straight edge.", element="face", also=("edge",), maximum=1,
                changes=False, empty="an axis", reopens=True)
    )  # fmt: skip
    angle: float | None = field(AngleField("the angle", "From member to member; empty for even.", default=None))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(repeat.PatternAround, work)
