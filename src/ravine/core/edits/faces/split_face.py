"""Split faces along lines: by a plane, between two corners, square to an edge, by another part, along parameters."""

from __future__ import annotations

from ...errors import CannotDo
from ...model.references import Reference
from ...operations import split_face
from ...operations.work import Outcome, Work
from .. import drawings
from ..base import Edit
from ..declared import field
from ..fields import ChoiceField, Context, PickField, ShareField
from ..registry import edit

WAYS = {
    "plane": "by the plane of",
    "corners": "in a line between",
    "square": "square to",
    "part": "by the outline of",
    "across": "across",
    "along": "along",
}
WITH = ("way", "plane", "corners", "square", "part")
AT = ("way", "square", "across", "along")


@edit
class SplitFace(Edit):
    name = "split face"
    title = "Split faces"
    also = ("divide face",)
    sentence = "Split {faces} {way} {tool} at {share}"
    past = "Split {faces} {way} {tool}"
    help = (
        "Divides faces without changing the solid: by a plane (a flat face, three corners, two edges …), in a line "
        "between two corners, square to an edge at a share of its length, by the outline of another part, or across "
        "and along at a share of the face.  Each piece is then a face of its own to colour, to tilt, to round or to "
        "push with its border kept."
    )
    offered_for = "face"
    rank = 29
    drawing = drawings.IMPRINT

    faces: tuple[Reference, ...] = field(PickField("the faces", "Faces of solids.", element="face"))
    way: str = field(ChoiceField("the way", "What the dividing line is.", default="across", options=WAYS))
    tool: tuple[Reference, ...] | None = field(
        PickField("what it is split by", "A flat face, edges, corners, a sketch or a part, as the way asks.",
                element="face", also=("edge", "vertex", "node", "sketch"), maximum=3, changes=False, default=None,
                empty="nothing picked", several=True, only=WITH)
    )  # fmt: skip
    share: float = field(ShareField("the place", "Share of the edge or of the face.", default=0.5, only=AT))

    def told(self, context: Context) -> str:
        words = f"Split {self.word('faces', context)} {WAYS[self.way]}"
        if self.tool and self.way in WITH:
            words += f" {self.word('tool', context)}"
        return words + (f" at {self.word('share', context)}" if self.way in AT else "")

    def doing_words(self, context: Context, error: CannotDo) -> str:
        return self.told(context)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(split_face.SplitFace, work)
