"""Set features aside."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import aside
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField
from ..registry import edit


@edit
class SetAsideFeatures(Edit):
    name = "set aside"
    title = "Set the feature aside"
    also = ("suppress", "without holes", "without rounds")
    sentence = "Set {faces} {members} aside"
    past = "Set {faces} aside"
    help = (
        "Takes holes, pockets, bosses, rounds or chamfers off the part, which closes behind them; they wait in the "
        "list of features and can be put back on the faces as these are then."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 20
    drawing = '<path d="M2 13V7h4v4h4V7h4v6z"/><path class="hot" d="M6 3h4v3H6zM14 5l4-2M14 5l4 2"/>'
    folds = ("members",)

    faces: tuple[Reference, ...] = field(PickField("the features", "Any faces of them.", element="face"))
    members: str = field(ChoiceField("the members", "This one, or all that repeat it.", default="alone",
                                     options={"alone": "by itself", "alike": "and all like it"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Set {self.word('faces', context)}{' and all like it' if self.members == 'alike' else ''} aside"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(aside.SetAsideFeatures, work)
