"""Scale parts evenly."""

from __future__ import annotations

from dataclasses import dataclass

from ..kernel.history import carry_ids
from ..kernel.shapes import ShapeIndex
from ..kernel.transform import scaled
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from .bodies import each_body
from .facts import change_facts
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Scale(Operation):
    """Makes solids larger or smaller evenly: a shrink allowance of 1.005, inches read as millimetres by 25.4."""

    parts: tuple[Reference, ...]
    factor: float
    centre: str = "middle"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        places = each_body(work, self.parts)
        for place in places:
            solid = work.geometry.solid(place.body.shape)
            box = solid.box
            middle = box.middle
            origin = place.matrix.inverse.point((0.0, 0.0, 0.0))
            shape, trace = scaled(solid.shape, origin if self.centre == "origin" else middle, self.factor)
            ids = carry_ids([(solid.index, place.body.ids())], [], trace, ShapeIndex(shape))
            snapshot = reshape_body(snapshot, work.geometry, place.body, Solid(shape), ids)
        return Outcome(snapshot, change_facts(work, snapshot, {p.body.id for p in places}))
