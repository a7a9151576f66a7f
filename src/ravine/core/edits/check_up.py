"""Save the check-up of parts as a report."""

from __future__ import annotations

import re

from ..mending.findings import counts
from ..mending.report import as_json, as_text, check_up
from ..model.snapshot import split_id
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, Context, PickGap


@edit
class CheckUp(Edit):
    name = "check up"
    title = "Save the check-up"
    sentence = "Save the check-up of {parts} as {format}"
    past = "Saved the check-up of {parts} as {format}"
    help = (
        "Writes a report of all that is wrong, with counts, places and sizes: as text to read or as JSON to keep "
        "score with.  Nothing is changed."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 82
    drawing = "report"

    parts: tuple[str, ...] | None = gap(PickGap("the parts", "All where none is picked.", element="node", changes=False,
                                         default=None, empty="all parts"))  # fmt: skip
    format: str = gap(ChoiceGap("the form", "Of the report.", default="text",
                                options={"text": "text", "json": "JSON"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("", "node")

    def told(self, context: Context) -> str:
        return f"Saved the check-up of {self.word('parts', context) or 'all parts'} as {self.word('format', context)}"

    def apply(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        leaves = {n for p in self.parts or () for n in snapshot.leaves_below(split_id(p)[1])}
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
