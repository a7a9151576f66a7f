"""Pack what a supplier needs."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import package
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LinesField, PickField, TextField
from ..registry import edit

DESPITE = {"told": "telling what is missing", "refused": "only if nothing is missing"}


@edit
class Package(Edit):
    name = "package"
    title = "Pack for a supplier"
    also = ("supplier package", "rfq package", "zip", "release")
    sentence = (
        "Pack {parts} as revision {revision} , files named {pattern} , {despite} , notes {notes} , called {called}"
    )
    past = "Packed {parts} for a supplier"
    doing = "Packing"
    help = (
        "One archive: STEP of every made part, drawings, flats of sheet parts, prints, the list, materials, finishes, "
        "notes, checksums and an index page.  What is missing is told before; the same revision gives the same bytes."
    )
    stages = ("Hand over",)
    rank = 12
    drawing = '<path d="M2 5l8-3 8 3v7l-8 3-8-3z"/><path class="hot" d="M2 5l8 3 8-3M10 8v7"/>'
    folds = ("pattern", "notes", "called")

    parts: tuple[Reference, ...] = field(
        PickField("the parts", "All where none is picked; bought ones go into the list only.", element="node",
                  minimum=0, default=(), changes=False, empty="all parts")
    )  # fmt: skip
    revision: str | None = field(TextField("the revision", "Stamped on it.", limit=20, default=None, blank="none"))
    pattern: str = field(TextField("the names", "With {number}, {name}, {item}, {revision}.", limit=80,
                                   default="{number} {name}"))  # fmt: skip
    despite: str = field(
        ChoiceField("what is missing", "Whether it is packed all the same.", default="told", options=DESPITE)
    )
    notes: str | None = field(LinesField("the notes", "For the supplier.", limit=2000, default=None, blank="none"))
    called: str | None = field(
        TextField("the title", "Of the archive.", limit=80, default=None, blank="that of the part")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("", "node")

    def told(self, context: Context) -> str:
        stamp = f" as revision {self.revision}" if self.revision else ""
        return f"Packed {self.word('parts', context)} for a supplier{stamp}"

    def apply(self, work: Work) -> Outcome:
        return package.Package(
            parts=self.parts, title=self.called or "", revision=self.revision or "", pattern=self.pattern,
            notes=tuple((self.notes or "").splitlines()), despite=self.despite == "told",
        ).do(work)  # fmt: skip
