"""Give faces a size: the diameter of holes, the radius of fillets, the thickness between opposite faces."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..errors import EditError
from ..local import related_faces as kin
from ..local.chamfers import Chamfer, chamfer_of, chamfer_run
from ..local.engine import reshape
from ..local.failure import LocalFailure
from ..local.fillets import fillet_of, is_hub
from ..local.plan import Offset, Radius, Step
from ..local.topology import SolidTopology
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..units import editable_length, format_length
from .blend_suppression import fillets_afresh
from .cell_push import push_by_cells
from .face_selection import selected_faces
from .facts import change_facts
from .followers import Followed
from .in_parts import first_part, pushed_in_parts
from .judging import judge_push
from .ladder import NothingWorked, Rung, first_that_works, largest_that_works
from .reshaping import faces_by_body, refusal, reshape_step
from .work import Operation, Outcome, Work

_MEASURES = {
    "diameter": "diameter",
    "radius": "radius",
    "thickness": "distance to its opposite",
    "width": "chamfer width",
}


@dataclass(frozen=True, kw_only=True)
class Resize(Operation):
    """Gives faces a total instead of a step."""

    faces: tuple[Reference, ...]
    size: float | None = None
    measure: str = "diameter"
    riders: str = "alone"
    like: tuple[Reference, ...] | None = None
    chamfers: str = "following"

    def do(self, work: Work) -> Outcome:
        size = self._size(work)
        snapshot, followed = work.snapshot, Followed()
        by_body = faces_by_body(snapshot, selected_faces(work, self.faces, self.riders))
        for number, chosen in by_body.items():
            body = snapshot.body(number)
            topology = work.geometry.solid(body.shape).topology
            steps = self._steps(body, topology, chosen, size)
            if not steps:
                continue
            try:
                snapshot, came = first_that_works(work, "resize", self._ways(work, snapshot, body, steps))
            except NothingWorked as nothing:
                nearest = self._largest(work, body, chosen, size) if work.mode.advises else None
                raise refusal(work, body, nothing.first, "size", nearest) from None
            followed += came
        if snapshot is work.snapshot:
            raise EditError(f"the {_MEASURES[self.measure]} is {format_length(size, snapshot.units)} already",
                            self.faces, field="size")  # fmt: skip
        return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), *followed.facts))

    def _size(self, work: Work) -> float:
        if not self.like:
            if self.size is None:
                raise EditError("the size is still empty; give one, or pick a face to take it from", field="size")
            return self.size
        body, index = self.like[0].owner
        found = size_of(work.geometry.solid(body.shape).topology, index, self.measure)
        if found is None:
            raise EditError(f"{self.like[0]} has no {_MEASURES[self.measure]} to take", self.like, field="like")
        return found

    def _steps(self, body: Body, topology: SolidTopology, faces: list[int], size: float) -> dict[int, Step]:
        """By id number; faces that have the size are left alone."""
        steps: dict[int, Step] = {}
        for number in faces:
            face = body.faces.index(number)
            now = size_of(topology, face, self.measure)
            if now is None:
                raise EditError(
                    f"face {text_id('face', number)} has no {_MEASURES[self.measure]}; push it instead",
                    [text_id("face", number)], field="measure")  # fmt: skip
            if abs(now - size) < 1e-9:
                continue
            if self.measure == "thickness":
                steps[number] = Offset(size - now)
                continue
            if self.measure == "width":
                share = 1 - size / now
                steps |= {body.faces[c.face]: Offset(share * c.corner) for c in _run(topology, face)}
                continue
            change = (size - now) / (2.0 if self.measure == "diameter" else 1.0)
            if _is_round(topology, face):
                steps[number] = Radius(topology.surface(face).radius + change)
            else:
                steps[number] = Offset(topology.sign(face) * change)
        return steps

    def _ways(self, work: Work, snapshot: Snapshot, body: Body, steps: dict[int, Step]) -> list[Way]:
        """In place; else fillets that cannot be rolled are made afresh, other faces are pushed by cells."""
        distances = {number: step.distance for number, step in steps.items() if isinstance(step, Offset)}
        radii = {number: step.radius for number, step in steps.items() if isinstance(step, Radius)}

        def afresh() -> tuple[Snapshot, Followed]:
            return fillets_afresh(work, snapshot, body, {body.faces.index(f): r for f, r in radii.items()}), Followed()

        chamfers = self.chamfers == "following"
        ways = [in_place(work, snapshot, body, steps, chamfers=chamfers)]
        if len(distances) == len(steps):
            ways.append(by_cells(work, snapshot, body, distances))
        if len(radii) == len(steps):
            ways.append(("round made afresh", afresh))
        return ways

    def _largest(self, work: Work, body: Body, faces: list[int], size: float) -> str | None:
        topology = work.geometry.solid(body.shape).topology
        now = size_of(topology, body.faces.index(faces[0]), self.measure) or size

        def works(step: float) -> bool:
            steps = {body.faces.index(f): s for f, s in self._steps(body, topology, faces, now + step).items()}
            try:
                reshape(topology, steps, chamfers=self.chamfers == "following")
            except LocalFailure:
                return False
            return True

        found = largest_that_works(size - now, works)
        return None if found is None else editable_length(now + found, work.snapshot.units)


Way = Rung[tuple[Snapshot, Followed]]


def in_place(work: Work, snapshot: Snapshot, body: Body, steps: Mapping[int, Step], *, chamfers: bool = True) -> Way:
    """Faces (ids) changed where they are."""

    def way() -> tuple[Snapshot, Followed]:
        after, result = reshape_step(work, snapshot, body, steps, chamfers=chamfers)
        return after, Followed.of(result)

    return "in place", way


def by_cells(work: Work, snapshot: Snapshot, body: Body, distances: Mapping[int, float]) -> Way:
    """Faces (ids) offset by their distances (mm) where the form of the body changes."""

    def way() -> tuple[Snapshot, Followed]:
        after = _by_cells(work, snapshot, body, distances)
        judge_push(work, body, after, distances)
        return after, Followed()

    return "cells", way


def _by_cells(work: Work, snapshot: Snapshot, body: Body, distances: Mapping[int, float]) -> Snapshot:
    """In parts where the faces come level with others."""
    share = first_part(work.geometry.solid(body.shape).topology, body, distances)
    if share is None:
        return push_by_cells(work, snapshot, body, distances)

    def push(start: Snapshot, part: Mapping[int, float]) -> Snapshot:
        return _by_cells(work, start, start.body(body.id), part)

    return pushed_in_parts(work, snapshot, body, distances, share, push)


def _is_round(topology: SolidTopology, face: int) -> bool:
    return fillet_of(topology, face) is not None and not is_hub(topology, face)


def _run(topology: SolidTopology, face: int) -> list[Chamfer]:
    item = chamfer_of(topology, face)
    return [] if item is None or not item.legs else chamfer_run(topology, item)


def size_of(topology: SolidTopology, face: int, measure: str) -> float | None:
    """mm; None where the face has no such size."""
    surface = topology.surface(face)
    if measure == "width":
        return max((leg for item in _run(topology, face)[:1] for leg in item.legs), default=None)
    if measure == "thickness":
        found = kin.opposite(topology, face)
        return None if found is None else found[1]
    if surface.kind not in ("cylinder", "sphere", "torus"):
        return None
    return surface.radius * (2.0 if measure == "diameter" else 1.0)
