"""Save the check-up of parts as a report."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import check_up
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, PickField
from ..registry import edit


@edit
class CheckUp(Edit):
    name = "check up"
    title = "Save the check-up"
    also = ("inspect", "analyse", "diagnose")
    sentence = "Save the check-up of {parts} as {format}"
    past = "Saved the check-up of {parts} as {format}"
    help = (
        "Writes a report of all that is wrong, with counts, places and sizes: as text to read or as JSON to keep "
        "score with.  Nothing is changed."
    )
    offered_for = "node"
    stages = ("Mend",)
    rank = 82
    drawing = '<path d="M4 1h9l3 3v11H4z"/><path class="hot" d="M7 7h6M7 10h6M7 13h3"/>'

    parts: tuple[Reference, ...] | None = field(
        PickField(
            "the parts", "All where none is picked.", element="node", changes=False, default=None, empty="all parts"
        )
    )
    format: str = field(ChoiceField("the form", "Of the report.", default="text",
                                options={"text": "text", "json": "JSON"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("", "node")

    def told(self, context: Context) -> str:
        return f"Saved the check-up of {self.word('parts', context) or 'all parts'} as {self.word('format', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(check_up.CheckUp, work)
