"""Link another model in, take over a newer state of it, cut the link."""

from __future__ import annotations

from typing import Any

from ...model.link import OtherState
from ...model.records import LINKS
from ...model.references import Reference
from ...operations import link_model
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, OtherField, PickField
from ..registry import edit

LINKED = PickField("the linked parts", "Their group, or any of them.", element="node", maximum=1, changes=False)


@edit
class LinkModel(Edit):
    name = "link in"
    title = "Bring in another model"
    as_found = True
    also = ("link model", "subassembly", "reference model")
    sentence = "Link in {source}"
    past = "Linked in {source}"
    help = (
        "Brings in all parts of another of your models as one group, at the revision it has now.  They are locked, "
        "since they change in their own model; when that has moved on, the list says so, and the newer state can be "
        "looked at and taken over.  Joints within the other model hold there, not here."
    )
    stages = ("Bring in",)
    rank = 12
    drawing = '<path d="M2 3h7v7H2z"/><path class="hot" d="M11 8h7v7h-7zM5 10v5h6"/>'

    source: OtherState = field(OtherField("the model", "Its number, with a revision as 3:17."))

    def told(self, context: Context) -> str:
        return f"Linked in {self.word('source', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(link_model.LinkModel, work)


@edit
class TakeNewer(Edit):
    name = "take newer"
    title = "Take over a newer state"
    as_found = True
    also = ("update link", "refresh link", "newer revision")
    sentence = "Bring {part} to {source}"
    past = "Brought {part} to {source}"
    help = (
        "Takes over another state of a linked model, a newer or an older one.  Faces, edges and parts that are still "
        "there keep their ids, and with them joints, ties, dimensions, sets and picks; the group stays where it "
        "stands.  What is no more is told.  The view shows the new state before it is accepted."
    )
    offered_for = "node"
    stages = ("Assemble", "Bring in")
    rank = 71
    drawing = '<path d="M3 3h6v6H3z"/><path class="hot" d="M11 11h6v6h-6zM6 12v3h3M14 8V5h-3"/>'

    part: tuple[Reference, ...] = field(LINKED)
    source: OtherState = field(OtherField("the state", "Number of the model, with a revision as 3:17."))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.linked

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        """The newest state of the model that it comes from."""
        if not picked or not work.snapshot.kept(LINKS):
            return {"part": list(picked[:1])}
        return {"part": list(picked[:1]), "source": str(link_model.link_above(work.snapshot, picked).model)}

    def told(self, context: Context) -> str:
        return f"Brought {self.word('part', context)} to {self.word('source', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(link_model.TakeNewer, work)


@edit
class CutLink(Edit):
    name = "cut link"
    title = "Cut the link"
    also = ("unlink", "embed")
    sentence = "Cut the link of {part}"
    past = "Cut the link of {part}"
    help = "Leaves linked parts where they are as this model's own: they are free to be edited, and no longer follow."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 72
    drawing = '<path d="M2 7h7v7H2z"/><path class="hot" d="M12 7h6v7h-6zM8 4l5 13"/>'

    part: tuple[Reference, ...] = field(LINKED)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and pick.linked

    def told(self, context: Context) -> str:
        return f"Cut the link of {self.word('part', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(link_model.CutLink, work)
