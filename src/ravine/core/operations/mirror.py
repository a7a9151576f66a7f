"""Mirror parts across a plane."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import CannotDo, EditError
from ..kernel.shapes import Shape, parts_of
from ..kernel.transform import mirrored
from ..model.references import Reference
from ..model.snapshot import Mirrored, Occurrence, Snapshot
from ..sketch.entities import Vec
from .axes import MODEL_AXES, face_middle
from .bodies import beside, in_pieces, new_body, places_of
from .booleans import combine_into
from .facts import change_facts
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Mirror(Operation):
    """Makes the mirrored solid across a flat face or a plane of the model."""

    parts: tuple[Reference, ...]
    face: tuple[Reference, ...] | None = None
    along: str = "x"
    height: float = 0.0
    result: str = "apart"

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        changed: set[int] = set()
        for place in places_of(work, self.parts, "parts"):
            if self.result != "joined":
                snapshot = self._apart(work, snapshot, place)
            elif place.body.locked:
                raise EditError(f"{place.body.name} is locked, so nothing is joined to it", [f"n{place.node.id}"])
            elif place.body.id not in changed:
                snapshot = self._joined(work, snapshot, place)
            changed.add(place.body.id)
        changed |= set(snapshot.bodies) - set(work.snapshot.bodies)
        made = Fact("parts", "new parts", float(len(snapshot.bodies) - len(work.snapshot.bodies)), "count")
        facts = change_facts(work, snapshot, changed)
        return Outcome(snapshot, (*facts, made) if self.result != "joined" else facts)

    def _plane(self, work: Work, place: Occurrence) -> tuple[Vec, Vec]:
        """A point and the normal, in the coordinates of the body."""
        if self.face:
            point, normal = (v.tolist() for v in face_middle(work, self.face[0]))
        else:
            normal = list(MODEL_AXES[self.along])
            point = [self.height * c for c in normal]
        inside = place.matrix.inverse
        return inside.point(point), inside.direction(normal)

    def _mirrored(self, work: Work, place: Occurrence) -> Shape:
        return mirrored(work.geometry.solid(place.body.shape).shape, *self._plane(work, place))

    def _apart(self, work: Work, snapshot: Snapshot, place: Occurrence) -> Snapshot:
        name = f"{place.body.name}, mirrored"
        body, snapshot = new_body(work, snapshot, self._mirrored(work, place), name, place.body)
        if self.result == "linked":
            body = replace(body, mirror=Mirrored(place.body.id, *self._plane(work, place)), locked=True)
            snapshot = snapshot.with_body(body)
        return beside(snapshot, place, body)

    def _joined(self, work: Work, snapshot: Snapshot, place: Occurrence) -> Snapshot:
        solid, result, trace = combine_into(work, place.body, "unite", [self._mirrored(work, place)])
        if len(parts_of(result, "solid")) != 1:
            raise CannotDo(f"the two halves of {place.body.name} do not touch; mirror it as a part of its own",
                            [f"n{place.node.id}"], field="result")  # fmt: skip
        sources = [(solid.index, place.body.ids())]
        return in_pieces(work, snapshot, place.body, result, sources, trace)[0]
