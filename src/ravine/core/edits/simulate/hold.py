"""Say where parts of a study are held."""

from __future__ import annotations

from ...model.references import Reference
from ...model.simulation import SUPPORTS
from ...operations import simulations
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField, QuantityField, TextField
from ..fields.shared import STUDY
from ..registry import edit

MOVED = ("kind", "displacement")
ROUND = ("kind", "cylindrical")


@edit
class Support(Edit):
    name = "hold"
    title = "Hold it here"
    also = ("support", "fix faces", "constraint of a study", "boundary condition", "clamp")
    sentence = (
        "Hold {on} {kind} {x} along X {y} along Y {z} along Z {radial} {tangential} {axial} {ground} , warm "
        "{temperature} , in {study} called {called}"
    )
    past = "Held {on}"
    help = (
        "A support of a study: fixed; without friction, so that only the way into it is barred; about an axis, with "
        "the radial, turning and axial ways held or free; at a displacement along X, Y, Z, free where left out; or on "
        "an elastic ground.  A temperature makes it one of the warm or cold ends of a heat flow."
    )
    offered_for = "face"
    stages = ("Prove",)
    rank = 11
    drawing = '<path d="M4 2h12v7H4z"/><path class="hot" d="M2 9h16M4 13l2-4M9 13l2-4M14 13l2-4"/>'
    folds = ("temperature", "study", "called")

    on: tuple[Reference, ...] = field(PickField("the faces", "Of the study's parts.", element="face", changes=False))
    kind: str = field(ChoiceField("the kind", "How it is held.", default="fixed", options=SUPPORTS))
    x: float | None = field(
        LengthField("the move along X", "Free where left out.", default=None, blank="free", only=MOVED)
    )
    y: float | None = field(
        LengthField("the move along Y", "Free where left out.", default=None, blank="free", only=MOVED)
    )
    z: float | None = field(
        LengthField("the move along Z", "Free where left out.", default=None, blank="free", only=MOVED)
    )
    radial: str = field(ChoiceField("the radial way", "To and from the axis.", default="held", only=ROUND,
                                    options={"held": "held radially", "free": "free radially"}))  # fmt: skip
    tangential: str = field(ChoiceField("the turning", "About the axis.", default="free", only=ROUND,
                                        options={"held": "held from turning", "free": "free to turn"}))  # fmt: skip
    axial: str = field(ChoiceField("the axial way", "Along the axis.", default="held", only=ROUND,
                                   options={"held": "held along the axis", "free": "free along the axis"}))  # fmt: skip
    ground: float | None = field(QuantityField("the ground", "Push per length it gives.", kind="ground", default=None,
                                               least=1e-9, only=("kind", "elastic")))  # fmt: skip
    temperature: float | None = field(
        QuantityField("the temperature", "At which it is kept.", kind="temperature", default=None, blank="any")
    )
    study: str | None = field(STUDY)
    called: str | None = field(TextField("the name", "Of the support.", limit=40, default=None, blank="its own"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and not pick.mesh

    def told(self, context: Context) -> str:
        return f"Held {self.word('on', context)} {SUPPORTS[self.kind]}"

    def apply(self, work: Work) -> Outcome:
        numbers: dict[str, float] = {}
        if self.kind == "displacement":
            numbers = {a: v for a in "xyz" if (v := getattr(self, a)) is not None}
        if self.kind == "cylindrical":
            numbers = {w: float(getattr(self, w) == "held") for w in ("radial", "tangential", "axial")}
        if self.ground is not None:
            numbers["ground"] = self.ground
        if self.temperature is not None:
            numbers["temperature"] = self.temperature
        return simulations.AddCondition(
            kind=self.kind, on=self.on, numbers=numbers, study=self.study or "", called=self.called or ""
        ).do(work)
