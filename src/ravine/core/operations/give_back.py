"""Give back part of a round: the sharp edge comes again over a share of its length."""

from __future__ import annotations

from dataclasses import dataclass

from ..local.failure import LocalFailure
from ..local.partial_fillet import given_back
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from .booleans import combined
from .facts import change_facts
from .reshaping import refusal
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class GiveBackPart(Operation):
    """Makes the edge under a round sharp again over a share of its length, so that a neighbour can be changed
    there."""

    face: tuple[Reference, ...]
    share: float = 0.5
    end: str = "first"

    def do(self, work: Work) -> Outcome:
        number = self.face[0].number
        body, _ = work.snapshot.owner_of("face", number)
        after = self._given(work, body, number)
        return Outcome(after, change_facts(work, after, {body.id}))

    def _given(self, work: Work, body: Body, number: int) -> Snapshot:
        topology = work.geometry.solid(body.shape).topology
        try:
            cells, adds = given_back(topology, body.faces.index(number), self.share, self.end == "first")
        except LocalFailure as failure:
            raise refusal(work, body, failure, "face") from None
        where = [text_id("face", number)]
        return combined(work, work.snapshot, body, "unite" if adds else "subtract", cells, where, "share")
