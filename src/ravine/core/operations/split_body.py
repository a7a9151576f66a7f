"""Split parts by a plane or by the surface of a face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel.cells import split
from ..kernel.shapes import Shape, parts_of, placed
from ..local.surfaces import Floats, Surface
from ..local.swept_cells import spread
from ..model.references import Reference
from ..model.snapshot import Occurrence
from .axes import MODEL_AXES
from .bodies import each_body, in_pieces, places_of
from .facts import change_facts
from .pieces import kept_pieces
from .split_pins import pinned
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SplitBody(Operation):
    """Cuts solids in two or more.  pins: mm across those that hold the pieces of a flat cut together, none without."""

    parts: tuple[Reference, ...]
    face: tuple[Reference, ...] | None = None
    along: str = "z"
    height: float | None = None
    pins: float | None = None
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
        snapshot, pieces, pins = work.snapshot, 0, 0
        places = each_body(work, self.parts)
        for place in places:
            solid = work.geometry.solid(place.body.shape)
            result, trace = split(solid.shape, [self._knife(work, place)])
            if len(parts_of(result, "solid")) < 2:
                raise CannotDo(f"the cut does not pass through {place.body.name}", [f"n{place.node.id}"],
                                field="face" if self.face else "height")  # fmt: skip
            sources = [(solid.index, place.body.ids())]
            known = set(snapshot.bodies)
            snapshot, count = in_pieces(work, snapshot, place.body, result, sources, trace)
            pieces += count
            if self.pins is not None:
                own = [place.body.id, *sorted(set(snapshot.bodies) - known)]
                snapshot, more = pinned(work, snapshot, place, own, *self._plane(work, place), self.pins)
                pins += more
        snapshot, listed = kept_pieces(work, snapshot, [p.body.id for p in places], self.drop)
        after = snapshot.without_nodes({p.node for p in listed if p.dropped and p.node in snapshot.nodes})
        bodies = {p.body.id for p in places} | (set(snapshot.bodies) - set(work.snapshot.bodies))
        facts = (Fact("pieces", "pieces", float(pieces), "count"),
                 *((Fact("pins", "pins", float(pins), "count", one="pin"),) if pins else ()),
                 *change_facts(work, after, bodies))  # fmt: skip
        return Outcome(snapshot, facts, pieces=listed)

    def _plane(self, work: Work, place: Occurrence) -> tuple[Floats, Floats]:
        """Point and normal, in the coordinates of the body."""
        inside = place.matrix.inverse
        if not self.face:
            way = MODEL_AXES[self.along]
            point = [(self.height or 0.0) * c for c in way]
            return np.array(inside.point(point)), np.array(inside.direction(way))
        body, index = self.face[0].owner
        surface = work.geometry.solid(body.shape).topology.surface(index)
        if surface.kind != "plane":
            raise CannotDo("pins go across a flat cut only", self.face, field="pins")
        matrix = inside @ self.face[0].matrix
        axial = surface.axial
        return np.array(matrix.point(axial.origin)), np.array(matrix.direction(axial.z))

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
