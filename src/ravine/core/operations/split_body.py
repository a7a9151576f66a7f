"""Split parts by a plane or by the surface of a face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel.cells import split
from ..kernel.shapes import Shape, parts_of, placed
from ..local.surfaces import Surface
from ..local.swept_cells import spread
from ..model.references import Reference
from ..model.snapshot import Occurrence
from .axes import MODEL_AXES
from .bodies import each_body, in_pieces, places_of
from .facts import change_facts
from .pieces import kept_pieces
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SplitBody(Operation):
    """Cuts solids in two or more."""

    parts: tuple[Reference, ...]
    face: tuple[Reference, ...] | None = None
    along: str = "z"
    height: float | None = None
    drop: tuple[int, ...] = ()

    def handle(self, work: Work) -> Handle | None:
        if self.face:
            return None
        place = places_of(work, self.parts, "parts")[0]
        box = work.geometry.solid(place.body.shape).box
        middle = np.array(place.matrix.point(box.middle))
        way = np.array(MODEL_AXES[self.along])
        x, y, z = (middle - (middle @ way) * way).tolist()
        return Handle("height", (x, y, z), MODEL_AXES[self.along])

    def do(self, work: Work) -> Outcome:
        if self.face is None and self.height is None:
            raise EditError("pick a face to split by, or give the height of a plane", field="height")
        snapshot, pieces = work.snapshot, 0
        places = each_body(work, self.parts)
        for place in places:
            solid = work.geometry.solid(place.body.shape)
            result, trace = split(solid.shape, [self._knife(work, place)])
            if len(parts_of(result, "solid")) < 2:
                raise CannotDo(f"the cut does not pass through {place.body.name}", [f"n{place.node.id}"],
                                field="face" if self.face else "height")  # fmt: skip
            sources = [(solid.index, place.body.ids())]
            snapshot, count = in_pieces(work, snapshot, place.body, result, sources, trace)
            pieces += count
        snapshot, listed = kept_pieces(work, snapshot, [p.body.id for p in places], self.drop)
        after = snapshot.without_nodes({p.node for p in listed if p.dropped and p.node in snapshot.nodes})
        bodies = {p.body.id for p in places} | (set(snapshot.bodies) - set(work.snapshot.bodies))
        facts = (Fact("pieces", "pieces", float(pieces), "count"), *change_facts(work, after, bodies))
        return Outcome(snapshot, facts, pieces=listed)

    def _knife(self, work: Work, place: Occurrence) -> Shape:
        """In the coordinates of the body."""
        solid = work.geometry.solid(place.body.shape)
        inside = place.matrix.inverse
        reach = np.array(solid.box)
        if not self.face:
            normal = np.array(inside.direction(MODEL_AXES[self.along]))
            height = [self.height * c for c in MODEL_AXES[self.along]] if self.height is not None else [0.0] * 3
            return spread(Surface.plane(np.array(inside.point(height)), normal), reach)
        body, index = self.face[0].owner
        owner = work.geometry.solid(body.shape)
        matrix = inside @ self.face[0].matrix
        surface = owner.topology.surface(index)
        if surface.kind == "spline":
            return placed(owner.index.get("face", index), matrix)
        return spread(surface.moved(matrix), reach)
