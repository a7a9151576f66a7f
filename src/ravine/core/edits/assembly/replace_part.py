"""Take a newer part in the place of an older one."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import replace_part
from ...operations.work import Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import Context, LengthField, PickField
from ..registry import edit


@edit
class ReplacePart(Edit):
    name = "replace"
    title = "Replace by a newer one"
    also = ("swap", "exchange")
    sentence = "Replace {part} by {newer} , matching within {near}"
    past = "Replaced {part} by {newer}"
    help = (
        "Puts a newer body, brought in beforehand, wherever the old one stands.  Faces, edges and corners that lie "
        "where they lay keep their ids, and with them named sets, colours and picks; the name, the material and the "
        "lock stay as well.  What did not carry over is told.  Step back to compare."
    )
    offered_for = "node"
    stages = ("Bring in", "Assemble")
    rank = 70
    drawing = '<path d="M3 3h6v6H3z"/><path class="hot" d="M11 8h6v6h-6M12 4c3-2 5 0 5 2M8 13c-3 2-5 0-5-2"/>'
    folds = ("near",)

    part: tuple[Reference, ...] = field(PickField("the part", "The old one.", element="node", maximum=1, changes=False))
    newer: tuple[Reference, ...] = field(
        PickField(
            "the newer one",
            "Brought in beforehand; it goes.",
            element="node",
            maximum=1,
            changes=False,
            empty="the newer part",
        )
    )
    near: float | None = field(LengthField("how near", "Things that lie where they lay.", minimum=1e-6, default=None,
                                       blank="a 1000th of the size"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        return f"Replaced {self.word('part', context)} by {self.word('newer', context)}"

    def apply(self, work: Work) -> Outcome:
        return self.done_by(replace_part.ReplacePart, work)
