"""Findings accepted with a note, and taken up again."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..errors import EditError
from ..model.accepted import Accepted
from ..model.records import ACCEPTED
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class AcceptFinding(Operation):
    """key: of the finding; note: why it is right, empty to take it up again."""

    key: str
    note: str = ""

    def do(self, work: Work) -> Outcome:
        rows = dict(work.snapshot.kept(ACCEPTED))
        nodes = tuple(int(n) for n in re.findall(r"\bn([0-9]{1,11})\b", self.key))
        if not nodes or any(n not in work.snapshot.nodes for n in nodes):
            raise EditError(f"there is no finding “{self.key[:60]}”", field="key")
        if not self.note:
            if self.key not in rows:
                raise EditError("this finding was not accepted", field="key")
            del rows[self.key]
        else:
            rows[self.key] = Accepted(self.key, nodes, self.note)
        return Outcome(work.snapshot.with_kept(ACCEPTED, rows))
