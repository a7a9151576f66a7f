"""Mirror parts across a plane."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import mirror
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, Context, LengthField, PickField
from ..registry import edit


@edit
class Mirror(Edit):
    name = "mirror"
    title = "Mirror"
    also = ("reflect", "symmetry")
    sentence = "Mirror {parts} across {face} or square to {along} at {height}, {result}"
    past = "Mirrored {parts}"
    doing = "Mirroring {parts}"
    help = (
        "Makes the mirrored solid across a flat face or a plane of the model: as a part of its own, or joined to the "
        "one it came from, which makes a whole of a half; or "
        "as a part that follows the first one whatever is done to it, until it is unlocked."
    )
    offered_for = "node"
    stages = ("Shape", "Assemble")
    rank = 26
    drawing = (
        '<path d="M2 13V4l5 9z"/><path d="M9.5 1v14" stroke-dasharray="1.6 1.4"/><path class="hot" d="M17 13V4l-5 9z"/>'
    )

    parts: tuple[Reference, ...] = field(PickField("the parts", "Solids.", element="node", changes=False))
    face: tuple[Reference, ...] | None = field(
        PickField("the face", "A flat face in the mirror plane.", element="face", maximum=1, kinds=("plane",),
                changes=False, default=None, empty="a flat face")
    )  # fmt: skip
    along: str = field(ChoiceField("the direction", "The mirror stands square to it, where no face is picked.",
                               default="x", options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    height: float = field(LengthField("the place", "Of the mirror, from the origin of the model.", default=0.0))
    result: str = field(
        ChoiceField("the result", "What becomes of the mirrored solid.", default="apart",
                  options={"apart": "as a part of its own", "joined": "joined to it",
                           "linked": "as a part that follows it"})
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node" and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Mirrored {self.word('parts', context)} across "
        if self.face:
            words += self.word("face", context)
        else:
            words += f"the plane square to {self.word('along', context)} at {self.word('height', context)}"
        return words + ({"joined": ", joined", "linked": ", linked"}.get(self.result, ""))

    def apply(self, work: Work) -> Outcome:
        return self.done_by(mirror.Mirror, work)
