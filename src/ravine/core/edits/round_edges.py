"""Round edges, with one radius or one that changes along the edge."""

from __future__ import annotations

from ..kernel import blend
from ..model.geometry import Solid
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .edge_picks import EDGES, RUNS, Blend, blend_edges
from .gaps import Context, LengthGap


@edit
class RoundEdges(Edit):
    name = "round"
    title = "Round"
    sentence = "Round {edges} with radius {size}, growing to {end} at the far end, {run}"
    past = "Rounded {edges} with radius {size}"
    help = (
        "Rolls a ball along sharp edges.  With a second radius the round changes evenly along each edge.  Later its "
        "radius is set by picking the round itself, and it goes away with remove."
    )
    offered_for = "edge"
    stages = ("Shape",)
    rank = 14
    drawing = "round"

    edges: tuple[str, ...] = gap(EDGES)
    size: float = gap(LengthGap("the radius", "Of the ball.", minimum=1e-3))
    end: float | None = gap(LengthGap("the end radius", "At the far end of each edge; empty for the same.",
                                      minimum=1e-3, default=None))  # fmt: skip
    run: str = gap(RUNS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "face") and not pick.locked and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Rounded {self.word('edges', context)} with radius {self.word('size', context)}"
        if self.end is not None:
            words += f" growing to {self.word('end', context)}"
        return words + (f", {self.word('run', context)}" if self.run == "loop" else "")

    def apply(self, work: Work) -> Outcome:
        return blend_edges(work, self.edges, self.run, self.size, self._blend, "Rounding with radius")

    def _blend(self, size: float) -> Blend:
        end = size if self.end is None else self.end * size / self.size

        def blended(solid: Solid, edges: list[int]) -> blend.Blended:
            shapes = [solid.index.get("edge", e) for e in edges]
            return blend.round_edges(solid.shape, shapes, [(size, end)] * len(edges))

        return blended
