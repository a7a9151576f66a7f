"""Begin a study, and take one away."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import simulations
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, PickField, TextField
from ..fields.shared import STUDY
from ..registry import edit


@edit
class BeginStudy(Edit):
    name = "begin study"
    title = "Begin a study of strength"
    also = ("simulate", "stress analysis", "fea", "finite elements")
    sentence = "Study {parts} as {called}"
    past = "Began {called}"
    help = (
        "Takes parts whose materials are known; what holds and loads them is said next, then it is solved.  The study "
        "stays with the model and is solved again after any edit."
    )
    stages = ("Prove",)
    rank = 10
    drawing = '<path d="M2 13h16M3 9h12"/><path class="hot" d="M15 2v6M12.5 5.5 15 8l2.5-2.5"/>'

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "Solids or groups; all where none is picked.", element="node", minimum=0, default=(),
                  changes=False, empty="all parts")
    )  # fmt: skip
    called: str | None = field(
        TextField("the name", "Of the study.", limit=60, default=None, blank="a name of its own")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("", "node") and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Began a study of {self.word('parts', context) if self.parts else 'all parts'}"

    def apply(self, work: Work) -> Outcome:
        return simulations.BeginStudy(parts=self.parts, called=self.called or "").do(work)


@edit
class DropStudy(Edit):
    name = "drop study"
    title = "Drop a study"
    also = ("forget study",)
    sentence = "Drop the study {study}"
    past = "Dropped the study {study}"
    help = "Takes a study away with its supports and loads; the parts stay as they are."
    stages = ("Prove",)
    rank = 40
    drawing = '<path d="M2 13h16M3 9h12"/><path class="hot" d="M13 2l4 4M17 2l-4 4"/>'

    study: str | None = field(STUDY)

    def told(self, context: Context) -> str:
        return f"Dropped the study {self.study or ''}".strip()

    def apply(self, work: Work) -> Outcome:
        return simulations.DropStudy(study=self.study or "").do(work)
