"""Drill holes to standard: clearance, tapped, counterbored, countersunk, or of any diameter."""

from __future__ import annotations

from typing import Any

from ...model.holes import SCREWS
from ...model.references import Reference
from ...operations import drill
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..registry import edit


@edit
class Drill(Edit):
    name = "drill"
    title = "Drill a hole"
    also = ("hole", "counterbore", "countersink", "tap", "bore")
    sentence = (
        "Drill a {kind} hole for {screw} in {fit} fit, diameter {diameter}, into {face} at {across} across and {up} up "
        "from {start}, depth {depth}"
    )
    past = "Drilled a {kind} hole into {face}"
    doing = "Drilling into {face}"
    help = (
        "Cuts a standard hole square to a flat face: clearance by ISO 273, tapping drill, counterbore for socket "
        "screws, countersink, in metric and inch sizes.  Without a depth it goes through; a blind one ends in a "
        "drill point.  It stands where the face was clicked, counted from its middle, a corner, or the "
        "centre of a round edge."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 24
    drawing = '<path d="M1 6h5v8M14 14V6h5"/><path class="hot" d="M6 6v8M14 6v8M10 1v12" stroke-dasharray="3 1.4"/>'

    face: tuple[Reference, ...] = field(
        PickField("the face", "A flat face.", element="face", maximum=1, kinds=("plane",))
    )
    kind: str = field(
        ChoiceField("the kind", "What the hole is for.", default="clearance",
                  options={"clearance": "clearance", "tapped": "tapped", "counterbored": "counterbored",
                           "countersunk": "countersunk", "plain": "plain"})
    )  # fmt: skip
    screw: str = field(ChoiceField("the screw", "Size of its thread.", default="M6", options={s: s for s in SCREWS}))
    fit: str = field(ChoiceField("the fit", "How much room the screw has.", default="medium",
                             options={"close": "close", "medium": "medium", "free": "free"}))  # fmt: skip
    diameter: float | None = field(
        LengthField(
            "the diameter",
            "Of a plain hole, or instead of the standard one.",
            minimum=1e-2,
            default=None,
            blank="standard",
        )
    )
    across: float = field(LengthField("the place across", "Along the face; along X where that can be.", default=0.0))
    up: float = field(LengthField("the place up", "Along the face, square to across.", default=0.0))
    start: tuple[Reference, ...] | None = field(
        PickField("the start", "A corner, or an edge: the centre of a round one, the middle of a straight one.",
                element="vertex", also=("edge",), maximum=1, changes=False, default=None, empty="its middle")
    )  # fmt: skip
    depth: float | None = field(
        LengthField(
            "the depth", "Of the full diameter; empty for through.", minimum=1e-2, default=None, blank="through"
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and pick.face_kinds == {"plane"}

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """Where the face was clicked."""
        values = super().suggest(work, picked)
        if work.pointed is None or not picked:
            return values
        across, up = drill.Drill(face=picked[:1]).from_start(work, work.pointed)
        return {**values, "across": f"{across:.6g} mm", "up": f"{up:.6g} mm"}

    def told(self, context: Context) -> str:
        if self.kind == "plain":
            size = f"plain hole of {self.word('diameter', context)}"
        else:
            size = f"{self.kind} hole for {self.screw}"
        ends = f"{self.word('depth', context)} deep" if self.depth is not None else "through"
        article = "an" if size[0] in "aeiou" else "a"
        return f"Drilled {article} {size} into {self.word('face', context)}, {ends}"

    def handle(self, work: Work) -> Handle | None:
        return self.planned(drill.Drill).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(drill.Drill, work)
