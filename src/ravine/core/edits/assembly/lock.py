"""Lock a customer's part, or free it again."""

from __future__ import annotations

from dataclasses import replace

from ...model.references import Reference
from ...model.snapshot import Body
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, PickField
from ..registry import edit


@edit
class Lock(Edit):
    name = "lock"
    title = "Lock or unlock"
    also = ("ground", "protect")
    sentence = "Set {parts} {state}"
    past = "Set {parts} {state}"
    help = "A locked part can be measured, referenced and used as a cutter, but no edit changes it."
    offered_for = "node"
    rank = 70
    drawing = '<path d="M4 7h11v7H4z"/><path class="hot" d="M6.5 7V4.5a3 3 0 0 1 6 0V7"/>'

    parts: tuple[Reference, ...] = field(PickField("the parts", "The parts or groups.", element="node", changes=False))
    state: str = field(
        ChoiceField("the state", "Locked or free to change.", default="locked",
                  options={"locked": "locked", "unlocked": "unlocked"})
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict:
        leaves = [n for i in picked for n in work.snapshot.leaves_below(i.number)]
        locked = any(work.snapshot.bodies[work.snapshot.nodes[n].body or 0].locked for n in leaves)
        return {"parts": list(picked), "state": "unlocked" if locked else "locked"}

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        for ident in self.parts:
            for leaf in snapshot.leaves_below(ident.number):
                body = snapshot.bodies[snapshot.nodes[leaf].body or 0]
                snapshot = snapshot.with_body(_set(body, self.state == "locked"))
        return Outcome(snapshot)


def _set(body: Body, locked: bool) -> Body:
    """An unlocked mirror part goes its own way from then on."""
    return replace(body, locked=locked, mirror=body.mirror if locked else None)
