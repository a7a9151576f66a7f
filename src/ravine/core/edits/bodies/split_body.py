"""Split parts by a plane or by the surface of a face."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import split_body
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..fields.shared import DROPPED
from ..registry import edit


@edit
class SplitBody(Edit):
    name = "split"
    title = "Split"
    also = ("cut off", "divide", "slice")
    sentence = "Split {parts} by {face} or square to {along} at {height} , {pins} pins, dropping {drop}"
    past = "Split {parts}"
    doing = "Splitting {parts}"
    help = (
        "Cuts solids in two or more: along the surface of a face, which runs on as far as need be, or along a plane "
        "of the model.  Every piece becomes a part but those dropped by a click or by their numbers; copies of the "
        "part are split alike.  Across a flat cut, pins can be added that hold the pieces together where they are put: "
        "parts of their own, with holes for them in the pieces, and play to go together by hand."
    )
    offered_for = "node"
    stages = ("Shape",)
    rank = 23
    folds = ("pins",)
    drawing = '<path d="M2 4h15v9H2z"/><path class="hot" d="M4 15.5 15.5 1"/>'

    parts: tuple[Reference, ...] = field(PickField("the parts", "Solids.", element="node"))
    face: tuple[Reference, ...] | None = field(
        PickField("the face", "Its surface cuts, here or on another part.", element="face", maximum=1, changes=False,
                default=None, empty="a face")
    )  # fmt: skip
    along: str = field(ChoiceField("the direction", "The plane stands square to it, where no face is picked.",
                               default="z", options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    height: float | None = field(
        LengthField("the height", "Of the plane, from the origin of the model.", default=None, instead="face")
    )

    pins: float | None = field(
        LengthField("the pins", "How thick they are, where pieces are to go together again.", minimum=0.5,
                    default=None, blank="no")
    )  # fmt: skip
    drop: tuple[int, ...] = field(DROPPED)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Split {self.word('parts', context)} "
        pins = f", with pins of {self.word('pins', context)}" if self.pins is not None else ""
        if self.face:
            return words + f"by {self.word('face', context)}" + pins
        return words + f"square to {self.word('along', context)} at {self.word('height', context)}" + pins

    def handle(self, work: Work) -> Handle | None:
        return self.planned(split_body.SplitBody).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(split_body.SplitBody, work)
