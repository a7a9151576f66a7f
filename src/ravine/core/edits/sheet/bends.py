"""Give bends another radius; slit a wall."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import rebend, split_sheet, step_bend
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, CountField, LengthField, PickField, ShareField
from ..registry import edit


@edit
class SetBend(Edit):
    name = "set bend"
    title = "Give the bend a radius"
    also = ("bend radius",)
    sentence = "Give {bends} the inner radius {radius} , {riders}"
    past = "Gave {bends} the inner radius {radius}"
    doing = "Bending {bends} anew"
    help = (
        "Makes bends of a sheet anew with another inner radius, both faces about one axis; the walls stay in their "
        "planes.  All bends of the same radius go along where asked."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 8
    drawing = '<path d="M2 13h6M14 7V2"/><path class="hot" d="M8 13a6 6 0 0 0 6-6M9 8l5 5"/>'

    bends: tuple[Reference, ...] = field(
        PickField("the bends", "By a face, on either side.", element="face", kinds=("cylinder",))
    )
    radius: float = field(LengthField("the radius", "On the inner side.", minimum=1e-3))
    riders: str = field(ChoiceField("which", "Only these, or all of the same radius.", default="alone",
                                    options={"alone": "these alone", "alike": "and all like them"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.face_kinds == {"cylinder"} and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(rebend.SetBend, work)


@edit
class SplitSheet(Edit):
    name = "slit"
    title = "Slit the wall"
    also = ("split wall", "seam")
    sentence = "Slit the wall from {ends} at {share} of it, {gap} wide"
    past = "Slit the wall from {ends}"
    doing = "Slitting the wall from {ends}"
    help = (
        "Opens a wall of a sheet along a line: from an edge straight across, at a share of its length, or between two "
        "corners.  So a closed profile gets its seam, and a flat that would lie over itself comes apart."
    )
    offered_for = "edge"
    stages = ("Sheet",)
    rank = 11
    drawing = '<path d="M2 3h16v10H2z"/><path class="hot" d="M10 1v14"/>'
    folds = ("share",)

    ends: tuple[Reference, ...] = field(
        PickField("the ends", "An edge of a wall, or two corners of it.", element="edge", also=("vertex",), maximum=2)
    )
    share: float = field(ShareField("the share", "Where along the edge.", default=0.5))
    gap: float = field(LengthField("the gap", "Of the slit.", default=0.2, minimum=1e-3))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "vertex") and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(split_sheet.SplitSheet, work)


@edit
class StepBend(Edit):
    name = "bend in steps"
    title = "Make the bend in steps"
    also = ("step bend", "bump bend", "segmented bend")
    sentence = "Make {bends} in {steps} steps"
    past = "Made {bends} in {steps} steps"
    doing = "Bending {bends} in steps"
    help = (
        "A radius that no tool has is bent in many small strokes: flat strips between sharp folds of one angle, that "
        "touch the arc from outside.  Each fold is a line on the flat.  How far the corners stand outside the arc is "
        "told."
    )
    offered_for = "face"
    stages = ("Sheet",)
    rank = 9
    drawing = '<path d="M2 13h5M14 6V2"/><path class="hot" d="M7 13l3.5-1 2.5-2.5L14 6"/>'

    bends: tuple[Reference, ...] = field(
        PickField("the bends", "By a face, on either side.", element="face", kinds=("cylinder",))
    )
    steps: int = field(CountField("the steps", "Strokes of each bend.", default=6))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.face_kinds == {"cylinder"} and not pick.mesh and not pick.locked

    def apply(self, work: Work) -> Outcome:
        return self.done_by(step_bend.StepBend, work)
