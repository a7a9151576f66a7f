"""Say what acts on parts of a study."""

from __future__ import annotations

from typing import Any

from ...model.references import Reference
from ...model.simulation import LOADS
from ...operations import simulations
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField, QuantityField, TextField
from ..fields.shared import STUDY
from ..registry import edit

FORCES = ("kind", "force", "bearing", "remote")
TWIST = ("kind", "moment")
PLACED = ("kind", "remote", "rotation")
AIMED = ("kind", "weight", "rotation")
WAYS = {"x": "X", "y": "Y", "z": "Z", "-x": "against X", "-y": "against Y", "-z": "against Z"}


@edit
class Load(Edit):
    name = "load"
    title = "Load it here"
    also = ("force", "pressure", "gravity", "torque", "bearing load")
    sentence = (
        "Load {on} with {kind} of {x} along X {y} along Y {z} along Z {about_x} about X {about_y} about Y {about_z} "
        "about Z {amount} {speed} along {way} at {at_x} X {at_y} Y {at_z} Z {power} {warm} {film} , in {study} called "
        "{called}"
    )
    past = "Loaded {on}"
    help = (
        "What acts on a study: a force spread over faces; a pressure; a pin's push on a bore; a moment; a force at a "
        "point off the part; on all of it its weight, its turning, or one temperature; heat flowing in, or air about "
        "faces.  Directions are those of the model."
    )
    offered_for = "face"
    stages = ("Prove",)
    rank = 12
    drawing = '<path d="M2 13h16M4 9h12v4"/><path class="hot" d="M10 1v7M7.5 5.5 10 8l2.5-2.5"/>'
    folds = ("study", "called")

    on: tuple[Reference, ...] = field(
        PickField("the faces", "Of the study's parts; none for weight, turning and one temperature.", element="face",
                  changes=False, minimum=0, default=(), empty="all parts")
    )  # fmt: skip
    kind: str = field(ChoiceField("the kind", "What acts.", default="force", options=LOADS))
    x: float = field(QuantityField("the force along X", "In the model.", default=0.0, only=FORCES))
    y: float = field(QuantityField("the force along Y", "In the model.", default=0.0, only=FORCES))
    z: float = field(QuantityField("the force along Z", "In the model.", default=0.0, only=FORCES))
    about_x: float = field(QuantityField("the moment about X", "In the model.", kind="moment", default=0.0, only=TWIST))
    about_y: float = field(QuantityField("the moment about Y", "In the model.", kind="moment", default=0.0, only=TWIST))
    about_z: float = field(QuantityField("the moment about Z", "In the model.", kind="moment", default=0.0, only=TWIST))
    amount: float | None = field(QuantityField("the pressure", "Against the faces.", kind="pressure", default=None,
                                               only=("kind", "pressure")))  # fmt: skip
    speed: float | None = field(QuantityField("the speed", "Of turning.", kind="speed", default=None,
                                              only=("kind", "rotation")))  # fmt: skip
    way: str = field(
        ChoiceField("the direction", "Of the weight, or of the axis.", default="-z", options=WAYS, only=AIMED)
    )
    at_x: float = field(LengthField("the point's X", "Of the force, or on the axis.", default=0.0, only=PLACED))
    at_y: float = field(LengthField("the point's Y", "Of the force, or on the axis.", default=0.0, only=PLACED))
    at_z: float = field(LengthField("the point's Z", "Of the force, or on the axis.", default=0.0, only=PLACED))
    power: float | None = field(QuantityField("the heat", "Flowing in.", kind="power", default=None,
                                              only=("kind", "heat")))  # fmt: skip
    warm: float | None = field(QuantityField("the temperature", "Of all, or of the air.", kind="temperature",
                                             default=None, only=("kind", "warmth", "air")))  # fmt: skip
    film: float = field(QuantityField("the film", "Of the air along it.", kind="film", default=10.0, least=1e-6,
                                      only=("kind", "air")))  # fmt: skip
    study: str | None = field(STUDY)
    called: str | None = field(TextField("the name", "Of the load.", limit=40, default=None, blank="its own"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and not pick.mesh

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        return {**super().suggest(work, picked), "z": "-100 N"}

    def told(self, context: Context) -> str:
        where = self.word("on", context) if self.on else "all parts"
        return f"Loaded {where} with {LOADS[self.kind]}{self._much(context)}"

    def _much(self, context: Context) -> str:
        shown = {"pressure": ("amount",), "rotation": ("speed",), "heat": ("power",), "warmth": ("warm",),
                 "air": ("warm",), "moment": ("about_x", "about_y", "about_z"), "weight": ()}  # fmt: skip
        names = shown.get(self.kind, ("x", "y", "z"))
        words = [self.word(n, context) + (f" {WAYS[n[-1]]}" if n[-1] in "xyz" else "") for n in names
                 if getattr(self, n)]  # fmt: skip
        return f" of {', '.join(words)}" if words else ""

    def apply(self, work: Work) -> Outcome:
        sign = -1.0 if self.way.startswith("-") else 1.0
        aimed: dict[str, float | None] = {a: sign if a == self.way[-1] else 0.0 for a in "xyz"}
        at: dict[str, float | None] = {f"at_{a}": getattr(self, f"at_{a}") for a in "xyz"}
        forces = {a: getattr(self, a) for a in "xyz"}
        moments = {a: getattr(self, f"about_{a}") for a in "xyz"}
        rows: dict[str, dict[str, float | None]] = {
            "force": forces, "bearing": forces, "remote": {**forces, **at},
            "pressure": {"amount": self.amount}, "moment": moments,
            "weight": aimed, "rotation": {**aimed, **at, "speed": self.speed}, "warmth": {"amount": self.warm},
            "heat": {"amount": self.power}, "air": {"amount": self.warm, "film": self.film},
        }  # fmt: skip
        numbers = {k: v for k, v in rows[self.kind].items() if v is not None}
        return simulations.AddCondition(
            kind=self.kind, on=self.on, numbers=numbers, study=self.study or "", called=self.called or ""
        ).do(work)
