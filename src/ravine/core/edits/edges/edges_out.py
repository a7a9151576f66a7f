"""Pull edges out into an open surface."""

from __future__ import annotations

from ...model.references import Reference
from ...operations import edges_out
from ...operations.work import Handle, Outcome, Work
from ..base import Edit, PickSummary
from ..declared import field
from ..fields import ChoiceField, LengthField, PickField
from ..registry import edit


@edit
class EdgesOut(Edit):
    name = "edges out"
    title = "Pull edges out"
    also = ("extend surface", "extrude edge")
    sentence = "Pull {edges} out by {distance} along {along} or {axis}"
    past = "Pulled {edges} out by {distance}"
    help = (
        "Makes an open surface that edges of a part, or curves of a sketch, leave behind as they move.  It is a part "
        "of its own; thickened it becomes a solid."
    )
    offered_for = "edge"
    rank = 33
    drawing = '<path d="M2 13h11"/><path class="hot" d="M2 13 6 4h11l-4 9"/>'
    folds = ("axis",)

    edges: tuple[Reference, ...] = field(
        PickField("the edges", "Edges, or curves of a sketch.", element="edge", also=("curve",), changes=False)
    )
    distance: float = field(LengthField("the distance", "How far.", nonzero=True))
    along: str = field(ChoiceField("the direction", "Where no edge gives it.", default="z",
                               options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    axis: tuple[Reference, ...] | None = field(
        PickField(
            "the axis",
            "An edge or face that gives the direction.",
            element="edge",
            also=("face",),
            maximum=1,
            changes=False,
            default=None,
            empty="an axis",
            reopens=True,
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "curve") and not pick.mesh

    def handle(self, work: Work) -> Handle | None:
        return self.planned(edges_out.EdgesOut).handle(work)

    def apply(self, work: Work) -> Outcome:
        return self.done_by(edges_out.EdgesOut, work)
