"""Line up axes: two that should be one and nearly are become one."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import line_up
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField
from ..registry import edit

ROUND = frozenset({"cylinder", "cone", "torus"})


@edit
class LineUp(Edit):
    name = "line up"
    title = "Line up axes"
    also = ("align", "coaxial")
    sentence = "Line up the axes of {faces}, {stays} staying, {moving} moving"
    past = "Lined up the axes of {faces}"
    doing = "Lining up the axes of {faces}"
    help = (
        "Makes two axes that should be one coincide: bores that a scan or an old file left a little apart.  One stays; "
        "the other's feature, or its whole part, is moved and turned by the least that closes the mismatch, which the "
        "line shows."
    )
    offered_for = "face"
    stages = ("Mend", "Shape")
    rank = 37
    drawing = (
        '<path d="M7 1v14" stroke-dasharray="3 1.4"/><circle cx="7" cy="8" r="4"/>'
        '<path class="hot" d="M11 1v14M12 12h4M16 12l-1.5-1.2M16 12l-1.5 1.2"/>'
    )

    faces: tuple[Reference, ...] = field(
        PickField("the faces", "Two round faces.", element="face", minimum=2, maximum=2, changes=False)
    )
    stays: str = field(ChoiceField("which stays", "The one that is right.", default="first",
                               options={"first": "the first", "second": "the second"}))  # fmt: skip
    moving: str = field(ChoiceField("what moves", "The feature that the other face belongs to, or its whole part.",
                                default="feature", options={"feature": "its feature", "part": "its part"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.count == 2 and (pick.mesh or pick.face_kinds <= ROUND)

    def told(self, context: Context) -> str:
        return f"Lined up the axes of {self.word('faces', context)}, {self.word('stays', context)} staying"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(line_up.LineUp, work)
