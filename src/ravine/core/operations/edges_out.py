"""Pull edges out into an open surface."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import CannotDo
from ..kernel.open_surfaces import pulled
from ..kernel.properties import area_properties
from ..kernel.queries import edge_facts
from ..kernel.shapes import parts_of
from ..model.references import Reference
from ..tolerances import TOUCHING
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
        for face in parts_of(surface, "face"):
            if abs(area_properties(face).amount) < TOUCHING * abs(self.distance):
                raise CannotDo(
                    "an edge runs along that way, so it leaves no surface; pick another direction", self.edges
                )
        return new_sheet(work, surface)
