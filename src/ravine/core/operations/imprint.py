"""Split faces along areas drawn on them."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import CannotDo
from ..kernel.shapes import placed
from ..model.references import Reference
from .face_division import with_split_faces
from .new_material import near_parts, profile_of, united_faces
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Imprint(Operation):
    """Splits the flat faces that areas of a sketch lie on along the areas' outlines."""

    areas: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        stamp = united_faces(profile_of(work, self.areas).faces)
        snapshot, more = work.snapshot, 0
        for place in near_parts(work, stamp):
            here = placed(stamp, place.matrix.inverse)
            snapshot, grown = with_split_faces(work, snapshot, place.body, [here], "areas")
            more += grown
        if not more:
            raise CannotDo("no flat face lies there that they would split", self.areas, field="areas")
        return Outcome(snapshot, (Fact("faces", "more faces", float(more), "count"),))
