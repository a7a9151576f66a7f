"""Tilt faces about an edge or axis, or against a neutral plane."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError, Unsettled
from ..local.engine import reshape
from ..local.failure import LocalFailure
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid, vec_of
from .axes import Axis, picked_axis
from .blend_suppression import reshaped_with_blends_suppressed
from .face_selection import selected_faces
from .facts import change_facts
from .followers import Followed
from .ladder import NothingWorked, first_that_works, largest_that_works, works
from .reshaping import faces_by_body, into_body, place_of, refusal, reshape_step, vector
from .work import Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Tilt(Operation):
    """Turns faces about an edge or axis; their neighbours follow."""

    faces: tuple[Reference, ...]
    angle: float
    axis: tuple[Reference, ...]
    riders: str = "alone"
    chamfers: str = "following"

    def handle(self, work: Work) -> Handle | None:
        if not isinstance(self.axis, tuple):
            return None  # not picked yet
        body, index = self.faces[0].owner
        here, outward = self._middle(work, body, body.faces[index])
        axis = self._line(work, here, outward)
        assert axis.direction is not None
        foot = axis.point + float((here - axis.point) @ axis.direction) * axis.direction
        sense = self._sense(axis, here, outward)
        return Handle("angle", vec_of(foot), vec_of(sense * axis.direction), arm=vec_of(here - foot))

    def do(self, work: Work) -> Outcome:
        if abs(self.angle) < 1e-9:
            raise EditError("the angle is zero, so nothing would change", field="angle")
        snapshot, followed = work.snapshot, Followed()
        by_body = faces_by_body(snapshot, selected_faces(work, self.faces, self.riders))
        for number, chosen in by_body.items():
            snapshot, count = self._tilted(work, snapshot, snapshot.body(number), chosen)
            followed += count
        return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), *followed.facts))

    def _tilted(self, work: Work, snapshot: Snapshot, body: Body, faces: list[int]) -> tuple[Snapshot, Followed]:
        """In place, else with the fillets beside made afresh; and what followed."""
        steps = self._steps(work, body, faces, self.angle)

        def in_place() -> tuple[Snapshot, Followed]:
            after, result = reshape_step(work, snapshot, body, steps, chamfers=self.chamfers == "following")
            return after, Followed.of(result)

        def set_aside() -> tuple[Snapshot, Followed]:
            if not work.mode.checks:
                raise Unsettled("the rounds beside change their form here; shown when the hand rests", field="angle")
            return reshaped_with_blends_suppressed(work, snapshot, body, steps), Followed()

        try:
            return first_that_works(work, "tilt", [("in place", in_place), ("rounds set aside", set_aside)])
        except NothingWorked as nothing:
            nearest = self._largest(work, body, faces) if work.mode.advises else None
            raise refusal(work, body, nothing.first, "angle", nearest) from None

    def _steps(self, work: Work, body: Body, faces: list[int], angle: float) -> dict[int, Rigid]:
        return {f: into_body(place_of(self.faces, body), self._turn(work, body, f, angle)) for f in faces}

    def _turn(self, work: Work, body: Body, face: int, angle: float) -> Rigid:
        here, outward = self._middle(work, body, face)
        axis = self._line(work, here, outward)
        assert axis.direction is not None
        return Rigid.about(axis.point, axis.direction, self._sense(axis, here, outward) * angle)

    def _middle(self, work: Work, body: Body, face: int) -> tuple[Floats, Floats]:
        """A point on the face and the outward normal there, model coordinates."""
        matrix = place_of(self.faces, body)
        point, normal = work.geometry.solid(body.shape).topology.middle(body.faces.index(face))
        return vector(matrix.point(point)), vector(matrix.direction(normal))

    @staticmethod
    def _sense(axis: Axis, here: Floats, outward: Floats) -> float:
        """-1 where a right-handed turn would lean the face into the body."""
        assert axis.direction is not None
        return -1.0 if float(np.cross(axis.direction, here - axis.point) @ outward) < -1e-9 else 1.0

    def _line(self, work: Work, here: Floats, outward: Floats) -> Axis:
        found = picked_axis(work, self.axis[0])
        assert found.direction is not None
        if not self._is_flat(work):
            return found
        along = np.cross(outward, found.direction)
        size = float(np.linalg.norm(along))
        if size < 1e-9:
            raise EditError("the face is parallel to the picked plane and never meets it; pick an edge", self.axis,
                            field="axis")  # fmt: skip
        # the point of both planes nearest to the face's middle
        rows = np.array([outward, found.direction])
        step = np.linalg.pinv(rows) @ np.array([0.0, float((found.point - here) @ found.direction)])
        return Axis(here + step, along / size)

    def _is_flat(self, work: Work) -> bool:
        kind = self.axis[0].kind
        if kind != "face":
            return False
        body, index = self.axis[0].owner
        return work.geometry.solid(body.shape).topology.surface(index).kind == "plane"

    def _largest(self, work: Work, body: Body, faces: list[int]) -> str | None:
        topology = work.geometry.solid(body.shape).topology

        def does(angle: float) -> bool:
            steps = self._steps(work, body, faces, angle)
            try:
                reshape(
                    topology, {body.faces.index(f): m for f, m in steps.items()}, chamfers=self.chamfers == "following"
                )
            except LocalFailure:
                return works(work, lambda: reshaped_with_blends_suppressed(work, work.snapshot, body, steps))
            return True

        found = largest_that_works(self.angle, does)
        return None if found is None else f"{np.degrees(found):.4g}°"
