"""A solid through areas of several sketches."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..kernel.sweep import led, lofted
from ..model.profiles import face_of
from ..model.references import Reference
from ..model.sketch_regions import region_named
from .new_material import put, united
from .open_surfaces import edge_shapes
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Loft(Operation):
    """Smooth or straight walls through one area each of several sketches, in the order of the pick."""

    areas: tuple[Reference, ...]
    walls: str = "smooth"
    guide: tuple[Reference, ...] | None = None
    way: str = "joining"

    def do(self, work: Work) -> Outcome:
        sketches = [work.snapshot.sketch(a.number) for a in self.areas]
        if len({s.id for s in sketches}) < len(sketches):
            raise EditError("a loft takes one area of each sketch", self.areas, field="areas")
        faces = [face_of(s.plane, region_named(s, a)) for s, a in zip(sketches, self.areas, strict=True)]
        work.progress(0.2, "laying the walls")
        if self.guide:
            solid = led(faces, edge_shapes(work, self.guide))
        else:
            solid = lofted(faces, self.walls == "smooth")
        return put(work, united([solid]), self.way, "Loft")
