"""Push or pull faces: each goes parallel to itself along its outward normal, and its neighbours follow.

The ladder: the local face engine; where the form of the body changes, the matter in between by a boolean (flat
faces); else a refusal that names the face in the way and the largest value that works.
"""

from __future__ import annotations

from ...errors import CannotDo
from ...model.references import Reference
from ...operations import followers, push
from ...operations.work import Handle, Outcome, Work
from ...units import format_length
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..fields.shared import CHAMFERS, FACE_SELECTION
from ..registry import edit


@edit
class Push(Edit):
    name = "push"
    title = "Push or pull"
    also = ("offset face", "pull")
    sentence = (
        "Push {faces} {riders} out by {distance} until {until} on {sides}, {border}, {chamfers}, {touching} what it "
        "touches"
    )
    past = "Pushed {faces} out by {distance}"
    help = (
        "Moves faces along their outward normals: out adds matter, a negative distance cuts.  A hole's wall changes "
        "its radius, a round its own.  Neighbours follow along their own surfaces and rounds roll along; faces keep "
        "their ids.  Several faces are pushed together, each along its own normal."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 10
    drawing = '<path d="M2 14V8h7v6z"/><path class="hot" d="M9 8h5v6H9M16 11h3M17.5 9.5 19 11l-1.5 1.5"/>'
    folds = ("riders", "until", "sides", "border", "chamfers", "touching")

    faces: tuple[Reference, ...] = field(PickField("the faces", "Faces, on one body or several.", element="face"))
    distance: float | None = field(
        LengthField(
            "the distance", "Out of the body when positive, into it when negative.", default=None, instead="until"
        )
    )
    until: tuple[Reference, ...] | None = field(
        PickField(
            "until",
            "A face, edge, corner, facet of a mesh or part that the first face is pushed to, instead of a distance.",
            element="face", also=("edge", "vertex", "facet", "node"), maximum=1, changes=False, default=None,
            empty="a value",
        )
    )  # fmt: skip
    riders: str = field(FACE_SELECTION)
    sides: str = field(
        ChoiceField(
            "the sides", "Whether the faces opposite are pushed out by the same distance, too.",
            default="one", options={"one": "one side", "both": "both sides"},
        )
    )  # fmt: skip
    border: str = field(
        ChoiceField(
            "the border",
            "Whether neighbours follow along their own surfaces, or the face keeps its border and a step appears.",
            default="following",
            options={"following": "neighbours following", "kept": "keeping its border"},
        )
    )
    chamfers: str = field(CHAMFERS)
    touching: str = field(
        ChoiceField(
            "joining",
            "Whether added matter joins other bodies that it touches.  Locked bodies never join.",
            default="keeping apart",
            options={"keeping apart": "keeping apart from", "joining": "joining"},
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def idle(cls, work: Work, picked: tuple[Reference, ...]) -> frozenset[str]:
        return followers.no_chamfers(work, picked)

    def told(self, context: Context) -> str:
        words = f"Pushed {self.word('faces', context)}"
        if self.sides == "both":
            words += " and its opposite"
        if self.until:
            return f"{words} until {self.word('until', context)}"
        if self.distance is None:
            return words
        way = "out" if self.distance > 0 else "in"
        words += f" {way} by {format_length(abs(self.distance), context.snapshot.units)}"
        return words + (", keeping its border" if self.border == "kept" else "")

    def handle(self, work: Work) -> Handle | None:
        return self.planned(push.Push).handle(work)

    def doing_words(self, context: Context, error: CannotDo) -> str:
        words = f"Pushing {self.word('faces', context)}"
        if self.distance is None or self.until:
            return f"{words} until {self.word('until', context)}"
        way = "out" if self.distance > 0 else "in"
        return f"{words} {way} by {format_length(abs(self.distance), context.snapshot.units)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(push.Push, work)
