"""Chamfer edges: one distance, two, or a distance and an angle."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import EditError
from ..kernel import blend
from ..model.geometry import Solid
from ..model.references import Reference
from .edge_blends import Blend, blend_edges, face_beside
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Chamfer(Operation):
    """Takes sharp edges off with a flat or conical face: one distance, two of them, or a distance and an angle."""

    edges: tuple[Reference, ...]
    size: float
    second: float | None = None
    angle: float | None = None
    side: str = "first"
    run: str = "tangent"

    def do(self, work: Work) -> Outcome:
        if self.angle is not None and self.second is not None:
            raise EditError("a chamfer takes a second distance or an angle, not both; empty one of them", field="angle")
        if self.angle is not None and not 0.01 < self.angle < math.pi / 2 - 0.01:
            raise EditError("the angle of a chamfer lies between 1° and 89°", field="angle", nearest="45°")
        return blend_edges(work, self.edges, self.run, self.size, self._blend)

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
