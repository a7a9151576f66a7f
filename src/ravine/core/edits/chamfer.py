"""Chamfer edges: one distance, two, or a distance and an angle."""

from __future__ import annotations

import math

from ..errors import EditError
from ..kernel import blend
from ..model.geometry import Solid
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .edge_picks import EDGES, RUNS, Blend, blend_edges, face_beside
from .gaps import AngleGap, ChoiceGap, Context, LengthGap


@edit
class Chamfer(Edit):
    name = "chamfer"
    title = "Chamfer"
    sentence = "Chamfer {edges} by {size} and {second} or at {angle}, measured on {side}, {run}"
    past = "Chamfered {edges} by {size}"
    help = "Takes sharp edges off with a flat or conical face: one distance, two of them, or a distance and an angle."
    offered_for = "edge"
    stages = ("Shape",)
    rank = 15
    drawing = "chamfer"

    edges: tuple[str, ...] = gap(EDGES)
    size: float = gap(LengthGap("the distance", "From the edge, on the first face.", minimum=1e-3))
    second: float | None = gap(LengthGap("the second distance", "On the other face; empty for the same.",
                                         minimum=1e-3, default=None))  # fmt: skip
    angle: float | None = gap(AngleGap("the angle", "Between the chamfer and the first face, instead of a second "
                                       "distance.", default=None))  # fmt: skip
    side: str = gap(ChoiceGap("the side", "Which of the two faces beside an edge is the first.", default="first",
                              options={"first": "one side", "other": "the other side"}))  # fmt: skip
    run: str = gap(RUNS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind in ("edge", "face") and not pick.locked and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"Chamfered {self.word('edges', context)} by {self.word('size', context)}"
        if self.angle is not None:
            words += f" at {self.word('angle', context)}"
        elif self.second is not None:
            words += f" and {self.word('second', context)}"
        return words + (f", {self.word('run', context)}" if self.run == "loop" else "")

    def apply(self, work: Work) -> Outcome:
        if self.angle is not None and not 0.01 < self.angle < math.pi / 2 - 0.01:
            raise EditError("the angle of a chamfer lies between 1° and 89°", field="angle", nearest="45°")
        return blend_edges(work, self.edges, self.run, self.size, self._blend, "Chamfering by")

    def _blend(self, size: float) -> Blend:
        second = size
        if self.angle is not None:
            second = size * math.tan(self.angle)
        elif self.second is not None:
            second = self.second * size / self.size
        pair = (second, size) if self.side == "other" else (size, second)

        def blended(solid: Solid, edges: list[int]) -> blend.Blended:
            shapes = [solid.index.get("edge", e) for e in edges]
            return blend.chamfer_edges(solid.shape, shapes, [(*pair, face_beside(solid, e)) for e in edges])

        return blended
