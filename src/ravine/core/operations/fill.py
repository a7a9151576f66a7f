"""Fill a closed loop of edges with a surface."""

from __future__ import annotations

from dataclasses import dataclass

from ..kernel.open_surfaces import filled
from ..model.references import Reference
from .open_surfaces import edge_shapes, new_sheet
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Fill(Operation):
    """Lays an open surface into a closed loop of edges or sketched curves."""

    edges: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        return new_sheet(work, filled(edge_shapes(work, self.edges)))
