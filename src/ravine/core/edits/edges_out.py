"""Pull edges out into an open surface."""

from __future__ import annotations

from ..kernel.queries import edge_facts
from ..kernel.sheets import pulled
from .axes import direction_of
from .base import Edit, Handle, Outcome, PickSummary, Work, edit, gap
from .gaps import ChoiceGap, LengthGap, PickGap
from .sheets import edge_shapes, new_sheet


@edit
class EdgesOut(Edit):
    name = "edges out"
    title = "Pull edges out"
    sentence = "Pull {edges} out by {distance} along {along} or {axis}"
    past = "Pulled {edges} out by {distance}"
    help = (
        "Makes an open surface that edges of a part, or curves of a sketch, leave behind as they move.  It is a part "
        "of its own; thickened it becomes a solid."
    )
    offered_for = "edge"
    rank = 33
    drawing = "pulled"

    edges: tuple[str, ...] = gap(PickGap("the edges", "Edges, or curves of a sketch.", element="edge", also=("curve",),
                                         changes=False))  # fmt: skip
    distance: float = gap(LengthGap("the distance", "How far.", nonzero=True))
    along: str = gap(ChoiceGap("the direction", "Where no edge gives it.", default="z",
                               options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    axis: tuple[str, ...] | None = gap(PickGap("the axis", "An edge or face that gives the direction.", element="edge",
                                               also=("face",), maximum=1, changes=False, default=None,
                                               empty="an axis"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "curve") and not pick.mesh

    def handle(self, work: Work) -> Handle | None:
        way = direction_of(work, self.along, self.axis, "")
        x, y, z = way.tolist()
        return Handle("distance", edge_facts(edge_shapes(work, self.edges)[0]).middle, (x, y, z))

    def apply(self, work: Work) -> Outcome:
        way = direction_of(work, self.along, self.axis, "")
        surface = pulled(edge_shapes(work, self.edges), (self.distance * way).tolist())
        return new_sheet(work, surface)
