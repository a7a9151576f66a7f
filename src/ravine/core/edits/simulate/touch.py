"""Contacts and element sizes of a study, and its supports and loads taken away."""

from __future__ import annotations

from ...model.references import Reference
from ...model.simulation import CONTACTS
from ...operations import simulations
from ...operations.work import Outcome, Work
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField, TextField
from ..fields.shared import STUDY
from ..registry import edit


@edit
class SetContact(Edit):
    name = "let touch"
    title = "Say how parts touch"
    also = ("contact", "bonded", "sliding contact")
    sentence = "Let {parts} be {kind} where they touch, over gaps up to {gap} , in {study}"
    past = "Let {parts} be {kind}"
    help = (
        "Parts of a study that touch are bonded unless this says otherwise; sliding, they push and pull on each other "
        "only square to where they touch, without friction, and do not come apart.  Free to open, they press on one "
        "another, come apart, and meet over gaps that the load closes; this takes several rounds of solving."
    )
    stages = ("Prove",)
    rank = 13
    drawing = '<path d="M2 3h7v10H2z"/><path class="hot" d="M11 3h7v10h-7z"/>'
    folds = ("gap", "study")

    kind: str = field(ChoiceField("how", "They touch.", default="bonded", options=CONTACTS))
    parts: tuple[Reference, ...] = field(
        PickField("the parts", "Two of the study; none for all.", element="node", maximum=2, minimum=0, default=(),
                  changes=False, empty="all parts")
    )  # fmt: skip
    gap: float = field(
        LengthField(
            "the gap",
            "That is closed as if they touched; of what is free to open, that the load may close.",
            default=0.0,
            minimum=0.0,
        )
    )
    study: str | None = field(STUDY)

    def told(self, context: Context) -> str:
        return f"Let {self.word('parts', context) if self.parts else 'all parts'} be {CONTACTS[self.kind]}"

    def apply(self, work: Work) -> Outcome:
        return simulations.SetContact(kind=self.kind, parts=self.parts, gap=self.gap, study=self.study or "").do(work)


@edit
class SetMesh(Edit):
    name = "set elements"
    title = "Set the size of elements"
    also = ("mesh size", "finer mesh", "element size")
    sentence = "Make elements of {on} {size} large, in {study}"
    past = "Made elements of {on} {size} large"
    help = "How finely a study is divided, on all of it or on faces.  Curves are followed more finely by themselves."
    offered_for = "face"
    stages = ("Prove",)
    rank = 14
    drawing = '<path d="M2 13 10 2l8 11z"/><path class="hot" d="M6 7.5h8M10 13 6 7.5M10 13l4-5.5"/>'
    folds = ("study",)

    on: tuple[Reference, ...] = field(
        PickField("the faces", "Of the study's parts; none for all of it.", element="face", minimum=0, default=(),
                  changes=False, empty="all parts")
    )  # fmt: skip
    size: float | None = field(LengthField("the size", "Of elements, at most.", default=None, minimum=1e-3,
                                           blank="as fits"))  # fmt: skip
    study: str | None = field(STUDY)

    def told(self, context: Context) -> str:
        size = self.word("size", context) if self.size is not None else "as large as fits"
        return f"Made elements {'of ' + self.word('on', context) + ' ' if self.on else ''}{size}"

    def apply(self, work: Work) -> Outcome:
        return simulations.SetMesh(size=self.size, on=self.on, study=self.study or "").do(work)


@edit
class DropCondition(Edit):
    name = "drop from study"
    title = "Drop a support or load"
    also = ("drop load", "drop support")
    sentence = "Drop {called} from {study}"
    past = "Dropped {called}"
    help = "Takes a support or a load of a study away."
    stages = ("Prove",)
    rank = 41
    drawing = '<path d="M2 13h16"/><path class="hot" d="M8 3l5 5M13 3 8 8"/>'

    called: str = field(TextField("the name", "Of the support or load.", limit=40))
    study: str | None = field(STUDY)

    def told(self, context: Context) -> str:
        return f"Dropped {self.called}"

    def apply(self, work: Work) -> Outcome:
        return simulations.DropCondition(called=self.called, study=self.study or "").do(work)
