"""Picks kept under a name."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..model.references import Reference
from ..model.words import plural
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class NameSet(Operation):
    """way: keep (a known name is used afresh), add or forget."""

    called: str
    things: tuple[Reference, ...] = ()
    way: str = "keep"

    def do(self, work: Work) -> Outcome:
        sets = dict(work.snapshot.sets)
        if self.way in ("add", "forget") and self.called not in sets:
            known = ", ".join(sets) or "none yet"
            raise EditError(
                f"there is no set “{self.called}” ({known})", field="called", nearest=next(iter(sets), None)
            )
        if self.way == "forget":
            del sets[self.called]
            return Outcome(work.snapshot.with_sets(sets))
        if not self.things:
            raise EditError("pick what goes into the set first", field="things")
        before = work.snapshot.set_left(self.called) if self.way == "add" else ()
        sets[self.called] = tuple(dict.fromkeys((*before, *self.things)))
        count = len(sets[self.called])
        return Outcome(work.snapshot.with_sets(sets), (Fact("things", "set of", plural(count, "thing")),))
