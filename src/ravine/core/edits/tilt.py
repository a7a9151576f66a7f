"""Tilt faces about an edge or axis, or against a neutral plane."""

from __future__ import annotations

import numpy as np

from ..errors import EditError, Unsettled
from ..local.engine import reshape
from ..local.failure import LocalFailure
from ..local.surfaces import Floats, Motion
from ..model import placement
from ..model.snapshot import Body, Snapshot, split_id
from ..units import format_angle
from .aside import reshaped_with_rounds_aside
from .axes import Axis, picked_axis
from .base import Edit, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .followers import CHAMFERS, Followed, no_chamfers
from .gaps import AngleGap, Context, PickGap
from .riders import RIDERS, with_riders
from .shaping import (
    FAILURES,
    faces_by_body,
    into_body,
    largest_that_works,
    matrix_of,
    refusal,
    reshape_step,
    triple,
    vector,
)


@edit
class Tilt(Edit):
    name = "tilt"
    title = "Tilt"
    sentence = "Tilt {faces} {riders} by {angle} about {axis}, {chamfers}"
    past = "Tilted {faces} by {angle} about {axis}"
    help = (
        "Turns faces about an edge or axis; their neighbours follow.  About a flat face, each turns about the line "
        "in which it meets that plane, as for draft.  A positive angle leans the face out of the body at its middle."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 13
    drawing = "tilt"

    faces: tuple[str, ...] = gap(
        PickGap("the faces", "Flat faces, or round ones that turn as a whole.", element="face")
    )
    riders: str = gap(RIDERS)
    angle: float = gap(AngleGap("the angle", "Positive leans outwards."))
    axis: tuple[str, ...] = gap(
        PickGap(
            "the axis", "A straight edge, a round face's axis, or a flat face that stays put.", element="edge",
            also=("face",), maximum=1, changes=False, empty="an edge or face",
        )
    )  # fmt: skip
    chamfers: str = gap(CHAMFERS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def idle(cls, work: Work, picked: tuple[str, ...]) -> frozenset[str]:
        return no_chamfers(work, picked)

    def told(self, context: Context) -> str:
        return f"Tilted {self.word('faces', context)} by {format_angle(self.angle)} about {self.word('axis', context)}"

    def handle(self, work: Work) -> Handle | None:
        if not isinstance(self.axis, tuple):
            return None  # not picked yet
        body, index = work.snapshot.owner_of("face", split_id(self.faces[0])[1])
        here, outward = self._middle(work, body, body.faces[index])
        axis = self._line(work, here, outward)
        assert axis.direction is not None
        foot = axis.point + float((here - axis.point) @ axis.direction) * axis.direction
        sense = self._sense(axis, here, outward)
        return Handle("angle", triple(foot), triple(sense * axis.direction), arm=triple(here - foot))

    def apply(self, work: Work) -> Outcome:
        if abs(self.angle) < 1e-9:
            raise EditError("the angle is zero, so nothing would change", field="angle")
        snapshot, followed = work.snapshot, Followed()
        by_body = faces_by_body(snapshot, with_riders(work, self.faces, self.riders))
        for number, chosen in by_body.items():
            snapshot, count = self._tilted(work, snapshot, snapshot.body(number), chosen)
            followed += count
        return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), *followed.facts))

    def _tilted(self, work: Work, snapshot: Snapshot, body: Body, faces: list[int]) -> tuple[Snapshot, Followed]:
        """In place, else with the rounds beside made afresh; and what followed."""
        steps = self._steps(work, body, faces, self.angle)
        try:
            after, result = reshape_step(work, snapshot, body, steps, chamfers=self.chamfers == "following")
            return after, Followed.of(result)
        except LocalFailure as failure:
            if work.preview:
                raise Unsettled(
                    "the rounds beside change their form here; shown when the hand rests", field="angle"
                ) from None
            try:
                return reshaped_with_rounds_aside(work, snapshot, body, steps), Followed()
            except FAILURES:
                pass
            nearest = self._largest(work, body, faces) if work.wants_nearest else None
            doing = f"Tilting {self.word('faces', work.context())} by {format_angle(self.angle)}"
            raise refusal(work, body, doing, failure, "angle", nearest) from None

    def _steps(self, work: Work, body: Body, faces: list[int], angle: float) -> dict[int, Motion]:
        return {f: into_body(work.snapshot, body, self._turn(work, body, f, angle)) for f in faces}

    def _turn(self, work: Work, body: Body, face: int, angle: float) -> Motion:
        here, outward = self._middle(work, body, face)
        axis = self._line(work, here, outward)
        assert axis.direction is not None
        return Motion.about(axis.point, axis.direction, self._sense(axis, here, outward) * angle)

    def _middle(self, work: Work, body: Body, face: int) -> tuple[Floats, Floats]:
        """A point on the face and the outward normal there, model coordinates."""
        matrix = matrix_of(work.snapshot, body)
        point, normal = work.geometry.solid(body.shape).fabric.middle(body.faces.index(face))
        return vector(placement.point(matrix, point)), vector(placement.direction(matrix, normal))

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
        kind, number = split_id(self.axis[0])
        if kind != "face":
            return False
        body, index = work.snapshot.owner_of(kind, number)
        return work.geometry.solid(body.shape).fabric.surface(index).kind == "plane"

    def _largest(self, work: Work, body: Body, faces: list[int]) -> str | None:
        fabric = work.geometry.solid(body.shape).fabric

        def works(angle: float) -> bool:
            steps = self._steps(work, body, faces, angle)
            try:
                reshape(
                    fabric, {body.faces.index(f): m for f, m in steps.items()}, chamfers=self.chamfers == "following"
                )
            except LocalFailure:
                try:
                    reshaped_with_rounds_aside(work, work.snapshot, body, steps)
                except FAILURES:
                    return False
            return True

        found = largest_that_works(self.angle, works)
        return None if found is None else f"{np.degrees(found):.4g}°"
