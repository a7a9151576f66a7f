"""Join two parts."""

from __future__ import annotations

from typing import Any

from ...model.joint import KINDS
from ...model.references import Reference
from ...operations import joints
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import AngleField, ChoiceField, Context, LengthField, PickField, TextField
from ..registry import edit

APART = ("kind", "distance")
TURNED = ("kind", "angle")


@edit
class Join(Edit):
    name = "join"
    title = "Join two parts"
    also = ("mate", "connect", "align parts", "fasten", "fix")
    sentence = (
        "Join {of} to {to} {kind} {distance} {angle} , at least {least} {least_angle} , at most {most} {most_angle} , "
        "{way} called {called}"
    )
    past = "Joined {of} to {to}, {kind}"
    help = (
        "Two parts stand to one another as said, whatever moves either: round things on one axis, faces on one another "
        "or at a distance, parallel, at an angle, tangent, centred between two faces, or fixed.  The first goes to the "
        "second.  Without a second, a part is fixed to the model.  What is left free stays free."
    )
    offered_for = "face"
    stages = ("Assemble",)
    rank = 10
    drawing = '<path d="M2 5h6v7H2zM12 8h6v6h-6z"/><path class="hot" d="M8 8.5h6M11.5 6 14 8.5 11.5 11"/>'
    folds = ("least", "least_angle", "most", "most_angle", "way", "called")

    of: tuple[Reference, ...] = field(
        PickField("what goes", "A face, edge or corner of the part that goes; two for what lies between them.",
                  element="face", also=("edge", "vertex", "node"), maximum=2, changes=False, empty="a face or edge")
    )  # fmt: skip
    to: tuple[Reference, ...] = field(
        PickField("what stays",
                  "Of another part; two flat faces to be centred between; nothing fixes it to the model.",
                  element="face", also=("edge", "vertex", "node"), maximum=2, minimum=0, changes=False, default=(),
                  empty="a face or edge of another part", several=True)
    )  # fmt: skip
    kind: str | None = field(
        ChoiceField("the kind", "How they stand to one another.", default=None, options=KINDS, blank="as is likely")
    )
    distance: float | None = field(
        LengthField("the distance", "How far in front of the second.", default=None, blank="as far as now", only=APART)
    )
    angle: float | None = field(
        AngleField("the angle", "Between the two.", default=None, blank="as it is now", only=TURNED)
    )
    least: float | None = field(
        LengthField("the least", "In place of a distance.", default=None, blank="anything", only=APART)
    )
    least_angle: float | None = field(
        AngleField("the least angle", "In place of an angle.", default=None, blank="anything", only=TURNED)
    )
    most: float | None = field(
        LengthField("the most", "In place of a distance.", default=None, blank="anything", only=APART)
    )
    most_angle: float | None = field(
        AngleField("the most angle", "In place of an angle.", default=None, blank="anything", only=TURNED)
    )
    way: str = field(ChoiceField("the way round", "Which way the first looks.", default="nearest",
                                 options={"nearest": "as they lie", "flipped": "the other way round"}))  # fmt: skip
    called: str | None = field(TextField("the name", "What lists call it.", limit=31, default=None, blank="no name"))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("face", "edge", "vertex") and not pick.mesh and pick.count in (2, 3)

    @classmethod
    def suggest(cls, work: Work, picked: tuple[Reference, ...]) -> dict[str, Any]:
        values: dict[str, Any] = {"of": list(picked[:1]), "to": list(picked[1:3])}
        if len(picked) > 1 and all(p.kind in ("face", "edge", "vertex") for p in picked):
            values["kind"] = joints.likely(work.geometry, picked[:1], picked[1:3])
        return values

    def told(self, context: Context) -> str:
        if not self.to:
            return f"Fixed {self.word('of', context)} where it stands"
        value = self.distance if self.distance is not None else self.angle
        name = "distance" if self.distance is not None else "angle"
        words = f"Joined {self.word('of', context)} to {self.word('to', context)}"
        if value is not None:
            return f"{words} at {self.word(name, context)}"
        return f"{words}, {self.word('kind', context)}" if self.kind else words

    def apply(self, work: Work) -> Outcome:
        kind = self.kind
        if kind is None and (self.distance, self.least, self.most) != (None, None, None):
            kind = "distance"
        if kind is None and (self.angle, self.least_angle, self.most_angle) != (None, None, None):
            kind = "angle"
        turned = kind == "angle"
        return joints.Join(
            of=self.of,
            to=self.to,
            kind=kind,
            value=self.angle if turned else self.distance,
            least=self.least_angle if turned else self.least,
            most=self.most_angle if turned else self.most,
            flipped=self.way == "flipped",
            called=self.called,
        ).do(work)
