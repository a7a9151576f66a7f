"""Put a damaged body right: everything at once, or one kind of fault."""

from __future__ import annotations

from ...mending.findings import KINDS
from ...model.references import Reference
from ...operations import mend
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..registry import edit

WHAT = {"everything": "everything", **{k.fix: k.fix for k in KINDS.values() if k.fix}}


@edit
class Mend(Edit):
    name = "mend"
    title = "Mend"
    as_found = True
    also = ("repair", "heal", "fix")
    sentence = "Mend {what} of {parts} , gaps up to {widest}"
    past = "Mended {what} of {parts}"
    help = (
        "Drops twins and slivers, sews borders that run beside one another, lays missing faces on the surface that "
        "their borders tell, turns faces to one side, draws loose edges anew where their faces cross, merges faces "
        "split for no reason.  On a mesh: holes, turned and doubled triangles, needles, crumbs.  What stays open is "
        "told."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 60
    drawing = '<path d="M3 14V3h5M12 3h5v11h-5"/><path class="hot" d="M8 14V9l2-2 2 2v5"/>'
    folds = ("widest",)

    what: str = field(ChoiceField("what", "All that is wrong, or one kind.", default="everything", options=WHAT))
    parts: tuple[Reference, ...] = field(PickField("the parts", "Parts or groups.", element="node"))
    widest: float | None = field(LengthField("the widest gap", "That may be sewn.", minimum=1e-6, default=None,
                                         blank="a 500th of the size"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and not pick.locked

    def told(self, context: Context) -> str:
        parts = self.word("parts", context)
        return f"Mended {parts}" if self.what == "everything" else f"Mended {self.what} of {parts}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(mend.Mend, work)
