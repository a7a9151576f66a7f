"""Save the check-up of parts as a report."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ..mending.findings import counts
from ..mending.report import as_json, as_text, check_up
from ..model.references import Reference
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class CheckUp(Operation):
    """Writes a report of all that is wrong, with counts, places and sizes."""

    parts: tuple[Reference, ...] | None = None
    format: str = "text"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        leaves = {n for p in self.parts or () for n in snapshot.leaves_below(p.number)}
        bodies = {snapshot.nodes[n].body or 0 for n in leaves} if self.parts else None
        work.progress(0.2, "looking at every part")
        found = check_up(snapshot, work.geometry, bodies)
        names = [snapshot.nodes[r].name for r in snapshot.roots]
        title = names[0] if len(names) == 1 else f"{len(names)} parts"
        stem = re.sub(r"[^\w\- ]+", "_", title).strip() or "model"
        total = sum(counts(found).values())
        facts = (Fact("findings", "found", float(total), "count", tone="warning" if total else "plain"),)
        if self.format == "json":
            files = {f"{stem} check-up.json": as_json(snapshot, work.geometry, found, title)}
        else:
            files = {f"{stem} check-up.txt": as_text(snapshot, found, title)}
        return Outcome(snapshot, facts, files=files)
