"""What a named size may be off by: set, and taken away."""

from __future__ import annotations

from dataclasses import dataclass

from ..clearance.size_tolerance import read_tolerance
from ..errors import EditError
from ..model.records import TOLERANCES
from ..model.tolerance import SizeTolerance
from .values import unknown
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SetTolerance(Operation):
    """text: ±0.1, +0.2 -0.05 or a zone such as H7; empty to take it away."""

    called: str
    text: str = ""

    def do(self, work: Work) -> Outcome:
        snapshot, rows = work.snapshot, dict(work.snapshot.kept(TOLERANCES))
        sizes = snapshot.named_sizes()
        if self.called not in sizes:
            raise unknown(self.called, sizes)
        if not self.text:
            if self.called not in rows:
                raise EditError(f"{self.called} has no tolerance", field="text")
            del rows[self.called]
            return Outcome(snapshot.with_kept(TOLERANCES, rows))
        off = read_tolerance(self.text, sizes[self.called], snapshot.units)
        rows[self.called] = SizeTolerance(self.called, self.text.strip())
        size = sizes[self.called]
        facts = (Fact("least", "least", size + off.low, "length"), Fact("most", "most", size + off.high, "length"))
        return Outcome(snapshot.with_kept(TOLERANCES, rows), facts)
