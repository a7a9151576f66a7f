"""Accept a finding of the standing check."""

from __future__ import annotations

from ...operations import accept_finding
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import Context, TextField
from ..registry import edit


@edit
class AcceptFinding(Edit):
    name = "accept finding"
    title = "Accept a finding"
    also = ("allow overlap", "ignore clash")
    sentence = "Accept {key} since {note}"
    past = "Accepted a finding"
    help = (
        "A finding of the standing check that is right as it is, an interference fit for one, is accepted with a note "
        "and counts no more.  Without a note it is taken up again."
    )
    offered_for = "finding"
    stages = ("Prove",)
    rank = 60
    drawing = drawings.LABEL

    note: str | None = field(TextField("the note", "Why it is right.", limit=200, default=None, blank="nothing"))
    key: str = field(TextField("the finding", "Its key, as the check tells it.", limit=120))

    def told(self, context: Context) -> str:
        return f"Accepted a finding: {self.note}" if self.note else "Took a finding up again"

    def apply(self, work: Work) -> Outcome:
        return accept_finding.AcceptFinding(key=self.key, note=self.note or "").do(work)
