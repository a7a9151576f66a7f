"""Fillet edges, with one radius or one that changes along the edge."""

from __future__ import annotations

from dataclasses import dataclass

from ..kernel import blend
from ..model.geometry import Solid
from ..model.references import Reference
from .edge_blends import Blend, blend_edges
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class FilletEdges(Operation):
    """Rolls a ball along sharp edges."""

    edges: tuple[Reference, ...]
    size: float
    end: float | None = None
    run: str = "tangent"

    def do(self, work: Work) -> Outcome:
        return blend_edges(work, self.edges, self.run, self.size, self._blend)

    def _blend(self, size: float) -> Blend:
        end = size if self.end is None else self.end * size / self.size

        def blended(solid: Solid, edges: list[int]) -> blend.Blended:
            shapes = [solid.index.get("edge", e) for e in edges]
            return blend.fillet_edges(solid.shape, shapes, [(size, end)] * len(edges))

        return blended
