"""Give faces a size: the diameter of holes, the radius of rounds, the thickness between opposite faces."""

from __future__ import annotations

from typing import Any

from ..errors import EditError
from ..local import kin
from ..local.chamfers import Chamfer, chamfer_of, chamfer_run
from ..local.engine import reshape
from ..local.fabric import Fabric
from ..local.failure import LocalFailure
from ..local.plan import Offset, Radius, Step
from ..local.rounds import is_hub, round_of
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..units import editable_length, format_length
from .aside import reround
from .base import Edit, Outcome, PickSummary, Work, edit, gap
from .between import push_by_cells
from .facts import change_facts
from .followers import CHAMFERS, Followed, no_chamfers
from .gaps import ChoiceGap, Context, LengthGap, PickGap
from .riders import RIDERS, with_riders
from .shaping import faces_by_body, largest_that_works, refusal, reshape_step

_MEASURES = {
    "diameter": "diameter",
    "radius": "radius",
    "thickness": "distance to its opposite",
    "width": "chamfer width",
}


@edit
class Resize(Edit):
    name = "resize"
    title = "Set size"
    sentence = "Set {measure} of {faces} {riders} to {size} or that of {like}, {chamfers}"
    past = "Set {measure} of {faces} to {size}"
    help = (
        "Gives faces a total instead of a step: the diameter or radius of round faces, the distance between a flat "
        "face and the one opposite, the width of a chamfer along its wider side.  A round or chamfer changes with its "
        "whole run.  Or takes the size of another face."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 11
    drawing = "size"

    size: float | None = gap(LengthGap("the size", "The new total.", minimum=1e-4, default=None, instead="like"))
    measure: str = gap(ChoiceGap("the measure", "Which size of the faces is set.", default="diameter",
                                 options=_MEASURES))  # fmt: skip
    faces: tuple[str, ...] = gap(PickGap("the faces", "Round faces, flat ones, or chamfers.", element="face"))
    riders: str = gap(RIDERS)
    like: tuple[str, ...] | None = gap(
        PickGap("the pattern", "A face whose size is taken.", element="face", maximum=1, changes=False, default=None,
                empty="another face")
    )  # fmt: skip
    chamfers: str = gap(CHAMFERS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh and (pick.chamfers or not pick.face_kinds & {"spline", "cone"})

    @classmethod
    def idle(cls, work: Work, picked: tuple[str, ...]) -> frozenset[str]:
        return no_chamfers(work, picked)

    @classmethod
    def suggest(cls, work: Work, picked: tuple[str, ...]) -> dict[str, Any]:
        found: dict[str, Any] = {"faces": list(picked)}
        body, index = work.snapshot.owner_of("face", split_id(picked[0])[1])
        fabric = work.geometry.solid(body.shape).fabric
        kind = fabric.surface(index).kind
        if size_of(fabric, index, "width") is not None:
            measure = "width"
        elif kind == "plane":
            measure = "thickness"
        else:
            measure = "radius" if _is_round(fabric, index) or kind == "torus" else "diameter"
        size = size_of(fabric, index, measure)
        if size is not None:
            found |= {"measure": measure, "size": editable_length(size, work.snapshot.units)}
        return found

    def told(self, context: Context) -> str:
        words = f"Set {self.word('measure', context)} of {self.word('faces', context)} to "
        return words + (f"that of {self.word('like', context)}" if self.like else self.word("size", context))

    def apply(self, work: Work) -> Outcome:
        size = self._size(work)
        snapshot, followed = work.snapshot, Followed()
        by_body = faces_by_body(snapshot, with_riders(work, self.faces, self.riders))
        for number, chosen in by_body.items():
            body = snapshot.body(number)
            fabric = work.geometry.solid(body.shape).fabric
            steps = self._steps(body, fabric, chosen, size)
            if not steps:
                continue
            try:
                snapshot, result = reshape_step(work, snapshot, body, steps, chamfers=self.chamfers == "following")
            except LocalFailure as failure:
                again = self._otherwise(work, snapshot, body, steps)
                if again is not None:
                    snapshot = again
                    continue
                nearest = self._largest(work, body, chosen, size) if work.wants_nearest else None
                units = snapshot.units
                doing = f"Setting {self.word('measure', work.context())} of {self.word('faces', work.context())}"
                raise refusal(
                    work, body, f"{doing} to {format_length(size, units)}", failure, "size", nearest
                ) from None
            followed += Followed.of(result)
        if snapshot is work.snapshot:
            raise EditError(f"the {_MEASURES[self.measure]} is {format_length(size, snapshot.units)} already",
                            self.faces, field="size")  # fmt: skip
        return Outcome(snapshot, (*change_facts(work, snapshot, set(by_body)), *followed.facts))

    def _size(self, work: Work) -> float:
        if not self.like:
            if self.size is None:
                raise EditError("the size is still empty; give one, or pick a face to take it from", field="size")
            return self.size
        body, index = work.snapshot.owner_of("face", split_id(self.like[0])[1])
        found = size_of(work.geometry.solid(body.shape).fabric, index, self.measure)
        if found is None:
            raise EditError(f"{self.like[0]} has no {_MEASURES[self.measure]} to take", self.like, field="like")
        return found

    def _steps(self, body: Body, fabric: Fabric, faces: list[int], size: float) -> dict[int, Step]:
        """By id number; faces that have the size are left alone."""
        steps: dict[int, Step] = {}
        for number in faces:
            face = body.faces.index(number)
            now = size_of(fabric, face, self.measure)
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
                steps |= {body.faces[c.face]: Offset(share * c.corner) for c in _run(fabric, face)}
                continue
            change = (size - now) / (2.0 if self.measure == "diameter" else 1.0)
            if _is_round(fabric, face):
                steps[number] = Radius(fabric.surface(face).radius + change)
            else:
                steps[number] = Offset(fabric.sign(face) * change)
        return steps

    @staticmethod
    def _otherwise(work: Work, snapshot: Snapshot, body: Body, steps: dict[int, Step]) -> Snapshot | None:
        """Rounds that cannot be rolled to their size are made afresh, other faces are pushed by cells; None where that
        fails, too."""
        distances = {number: step.distance for number, step in steps.items() if isinstance(step, Offset)}
        radii = {number: step.radius for number, step in steps.items() if isinstance(step, Radius)}
        try:
            if len(distances) == len(steps):
                return push_by_cells(work, snapshot, body, distances)
            if len(radii) == len(steps):
                return reround(work, snapshot, body, {body.faces.index(f): radius for f, radius in radii.items()})
        except (LocalFailure, EditError):
            pass  # the first reason is the one to tell
        return None

    def _largest(self, work: Work, body: Body, faces: list[int], size: float) -> str | None:
        fabric = work.geometry.solid(body.shape).fabric
        now = size_of(fabric, body.faces.index(faces[0]), self.measure) or size

        def works(step: float) -> bool:
            steps = {body.faces.index(f): s for f, s in self._steps(body, fabric, faces, now + step).items()}
            try:
                reshape(fabric, steps, chamfers=self.chamfers == "following")
            except LocalFailure:
                return False
            return True

        found = largest_that_works(size - now, works)
        return None if found is None else editable_length(now + found, work.snapshot.units)


def _is_round(fabric: Fabric, face: int) -> bool:
    return round_of(fabric, face) is not None and not is_hub(fabric, face)


def _run(fabric: Fabric, face: int) -> list[Chamfer]:
    item = chamfer_of(fabric, face)
    return [] if item is None or not item.legs else chamfer_run(fabric, item)


def size_of(fabric: Fabric, face: int, measure: str) -> float | None:
    """mm; None where the face has no such size."""
    surface = fabric.surface(face)
    if measure == "width":
        return max((leg for item in _run(fabric, face)[:1] for leg in item.legs), default=None)
    if measure == "thickness":
        found = kin.opposite(fabric, face)
        return None if found is None else found[1]
    if surface.kind not in ("cylinder", "sphere", "torus"):
        return None
    return surface.radius * (2.0 if measure == "diameter" else 1.0)
