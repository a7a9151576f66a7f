"""Pull edges out into an open surface."""

from __future__ import annotations

from dataclasses import dataclass

from ..kernel.open_surfaces import pulled
from ..kernel.queries import edge_facts
from ..model.references import Reference
from .axes import direction_of
from .open_surfaces import edge_shapes, new_sheet
from .work import Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class EdgesOut(Operation):
    """Makes an open surface that edges of a part, or curves of a sketch, leave behind as they move."""

    edges: tuple[Reference, ...]
    distance: float
    along: str = "z"
    axis: tuple[Reference, ...] | None = None

    def handle(self, work: Work) -> Handle | None:
        way = direction_of(work, self.along, self.axis)
        x, y, z = way.tolist()
        return Handle("distance", edge_facts(edge_shapes(work, self.edges)[0]).middle, (x, y, z))

    def do(self, work: Work) -> Outcome:
        way = direction_of(work, self.along, self.axis)
        surface = pulled(edge_shapes(work, self.edges), (self.distance * way).tolist())
        return new_sheet(work, surface)
