"""A solid through areas of several sketches."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError
from ..kernel.sweep import led, lofted
from ..model.profiles import face_of, region_named
from ..model.snapshot import split_id
from .new_material import put, united
from .open_surfaces import edge_shapes
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Loft(Operation):
    """Smooth or straight walls through one area each of several sketches, in the order of the pick."""

    areas: tuple[str, ...]
    walls: str = "smooth"
    guide: tuple[str, ...] | None = None
    way: str = "joining"

    def do(self, work: Work) -> Outcome:
        sketches = [work.snapshot.sketch(split_id(a)[1]) for a in self.areas]
        if len({s.id for s in sketches}) < len(sketches):
            raise EditError("a loft takes one area of each sketch", self.areas, field="areas")
        faces = [face_of(s.plane, region_named(s, a)) for s, a in zip(sketches, self.areas, strict=True)]
        work.progress(0.2, "laying the walls")
        if self.guide:
            solid = led(faces, edge_shapes(work, self.guide))
        else:
            solid = lofted(faces, self.walls == "smooth")
        return put(work, united([solid]), self.way, "Loft")
