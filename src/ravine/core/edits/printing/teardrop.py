"""Give level holes a roof."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import teardrop
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, LengthField, PickField
from ..registry import edit


@edit
class Teardrop(Edit):
    name = "teardrop"
    title = "Give the hole a roof to print"
    also = ("roof hole", "printable hole")
    sentence = "Give {holes} a roof leaning {angle} , cut level {flat} above"
    past = "Gave {holes} a roof"
    doing = "Cutting roofs over {holes}"
    help = (
        "Holes that lie level are printed without support when their top runs to a peak that leans no more than "
        "prints; "
        "cut level, it stays low.  Up is as the part is printed."
    )
    offered_for = "face"
    stages = ("Prove",)
    rank = 22
    drawing = '<path d="M4 9a6 6 0 1 0 12 0"/><path class="hot" d="M4 9l6-7 6 7"/>'
    folds = ("angle", "flat")

    holes: tuple[Reference, ...] = field(
        PickField("the holes", "By their round walls.", element="face", kinds=("cylinder",))
    )
    angle: float | None = field(AngleField("the lean", "Off upright.", default=None, blank="the machine's"))
    flat: float | None = field(LengthField("the height", "Over the round, at which it is cut level.", default=None,
                                           minimum=0.0, blank="a peak"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.face_kinds == {"cylinder"} and bool(pick.hollow) and not pick.mesh

    def apply(self, work: Work) -> Outcome:
        return self.done_by(teardrop.Teardrop, work)
