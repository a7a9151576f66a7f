"""Keep what is picked under a name, or forget the name."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...operations import name_set
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField, TextField
from ..registry import edit


@edit
class NameSet(Edit):
    name = "name set"
    title = "Keep as a set"
    also = ("group", "selection set")
    sentence = "{way} {things} as the set {called}"
    past = "Kept {things} as the set {called}"
    help = (
        "Keeps faces, edges, corners or parts under a name in the parts list; a click on it picks them again.  A set "
        "holds through all edits, for as much of it as is there.  A name that is known already is used afresh, added "
        "to, or forgotten.  Scripts and recipes give set:NAME for a pick."
    )
    offered_for = "face"
    rank = 70
    drawing = drawings.LABEL

    way: str = field(ChoiceField("the way", "Keep these, add them to what is there, or forget the set.", default="keep",
                             options={"keep": "Keep", "add": "Add", "forget": "Forget"}))  # fmt: skip
    things: tuple[Reference, ...] = field(
        PickField("the things", "Faces, edges, corners or parts.", element="face", also=("edge", "vertex", "node"),
                changes=False, minimum=0, default=(), empty="nothing")
    )  # fmt: skip
    called: str = field(TextField("the name", "Of the set.", limit=60))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "vertex", "node")

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        used = work.snapshot.sets
        return {"things": list(picked), "called": next(n for k in range(1, 10**6) if (n := f"Set {k}") not in used)}

    def told(self, context: Context) -> str:
        if self.way == "forget":
            return f"Forgot the set {self.called}"
        things = self.word("things", context) if self.things else "nothing"
        verb, link = ("Added", "to") if self.way == "add" else ("Kept", "as")
        return f"{verb} {things} {link} the set {self.called}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(name_set.NameSet, work)
