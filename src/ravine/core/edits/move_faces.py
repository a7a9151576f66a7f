"""Move, turn or copy faces and whole features."""

from __future__ import annotations

import numpy as np

from ..errors import EditError
from ..kernel.rebuild import carried
from ..local.closing import close_up
from ..local.failure import LocalFailure
from ..local.features import lift_out
from ..local.surfaces import Motion
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .axes import ALONG, AXIS, direction_of, face_middle, picked_axis
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts, following_fact
from .features import EXTENT, plant, reach
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap
from .shaping import faces_by_body, indices, into_body, refusal, reshape_step, triple


@edit
class MoveFaces(Edit):
    name = "move faces"
    title = "Move, turn or copy"
    sentence = "{way} {faces} {extent} along {along} of {axis} by {distance} until {until}, turning {angle} about it"
    past = "Moved {faces}"
    help = (
        "Slides faces along a direction and turns them about an axis; their neighbours follow, rounds roll along.  A "
        "pick inside a hole, boss or pocket takes the whole feature.  As a copy, the feature stays and another one "
        "is planted at the new place."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 12
    drawing = "move"

    distance: float = gap(LengthGap("the distance", "How far to slide; negative goes back.", default=0.0))
    way: str = gap(ChoiceGap("the way", "Move the faces themselves, or plant a copy.", default="move",
                             options={"move": "Move", "copy": "Copy"}))  # fmt: skip
    faces: tuple[str, ...] = gap(PickGap("the faces", "Faces of one body.", element="face"))
    extent: str = gap(EXTENT)
    along: str = gap(ALONG)
    axis: tuple[str, ...] | None = gap(AXIS)
    until: tuple[str, ...] | None = gap(
        PickGap(
            "until", "A face, edge or corner whose height along the direction is the goal.", element="face",
            also=("edge", "vertex"), maximum=1, changes=False, default=None, empty="a value",
        )
    )  # fmt: skip
    angle: float = gap(AngleGap("the angle", "How far to turn, right-handed about the direction.", default=0.0))

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    def told(self, context: Context) -> str:
        words = f"{'Copied' if self.way == 'copy' else 'Moved'} {self.word('faces', context)}"
        if self.until:
            words += f" along {self._direction_words(context)} until {self.word('until', context)}"
        elif self.distance:
            words += f" along {self._direction_words(context)} by {self.word('distance', context)}"
        if self.angle:
            words += f"{' and' if self.distance or self.until else ''} turned {self.word('angle', context)}"
            words += " about it" if self.distance or self.until else f" about {self._direction_words(context)}"
        return words

    def _direction_words(self, context: Context) -> str:
        return self.word("axis", context) if self.axis else self.word("along", context)

    def handle(self, work: Work) -> Handle | None:
        direction = direction_of(work, self.along, self.axis, self.faces[0])
        origin = face_middle(work, self.faces[0])[0]
        return Handle("distance", triple(origin), triple(direction))

    def apply(self, work: Work) -> Outcome:
        motion, distance = self._motion(work)
        snapshot, followed = work.snapshot, 0
        by_body = faces_by_body(snapshot, self.faces)
        for number, chosen in by_body.items():
            body = snapshot.body(number)
            solid = work.geometry.solid(body.shape)
            faces = reach(solid, indices(body, chosen), self.extent)
            own = into_body(snapshot, body, motion)
            work.progress(0.2, "working out the new place")
            if self.way == "copy":
                snapshot = self._copy(work, snapshot, body, faces, own)
            else:
                snapshot, count = moved_feature(work, snapshot, body, faces, own, self._doing(work))
                followed += count
        facts = (*change_facts(work, snapshot, set(by_body)), *following_fact(followed))
        if self.until:
            facts += (Fact("distance", "distance", distance, "length"),)
        return Outcome(snapshot, facts)

    def _motion(self, work: Work) -> tuple[Motion, float]:
        """In model coordinates, and how far it slides."""
        direction = direction_of(work, self.along, self.axis, self.faces[0])
        middle = face_middle(work, self.faces[0])[0]
        centre = picked_axis(work, self.axis[0]).point if self.axis else middle
        distance = self.distance
        if self.until:
            distance = float((picked_axis(work, self.until[0]).point - middle) @ direction)
        if abs(distance) < 1e-9 and abs(self.angle) < 1e-12:
            raise EditError("distance and angle are both zero, so nothing would move", field="distance")
        turn = Motion.about(centre, direction, self.angle) if self.angle else Motion.slide(np.zeros(3))
        return Motion(turn.turn, turn.shift + distance * direction), distance

    def _copy(self, work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        try:
            feature = lift_out(solid.fabric, faces)
        except LocalFailure as failure:
            raise refusal(work, body, self._doing(work), failure, "faces") from None
        return plant(work, snapshot, body, feature, [motion], self._doing(work))

    def _doing(self, work: Work) -> str:
        return f"{'Copying' if self.way == 'copy' else 'Moving'} {self.word('faces', work.context())}"


def moved_feature(
    work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion, doing: str
) -> tuple[Snapshot, int]:
    """Faces (by index) moved, neighbours following along their own surfaces; a feature that leaves its face is taken
    out and planted anew.  Also how many rounds came along.  Raises EditError, after which nothing has changed."""
    try:
        after, result = reshape_step(work, snapshot, body, {body.faces[f]: motion for f in faces})
        return after, len(result.followed)
    except LocalFailure as failure:
        try:
            return _replanted(work, snapshot, body, faces, motion, doing), 0
        except (LocalFailure, EditError):
            raise refusal(work, body, doing, failure, "distance", None) from None


def _replanted(work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion, doing: str) -> Snapshot:
    """Where the feature leaves its face: close up here, plant there.  Its faces get new ids."""
    solid = work.geometry.solid(body.shape)
    feature = lift_out(solid.fabric, faces)
    closed = close_up(solid.fabric, faces)
    ids = carried(solid.fabric.index, body.ids(), closed.rebuilt, closed.fabric.index)
    bare = Solid.reshaped(closed.fabric, solid.volume_mm3 + closed.volume_change)
    between = reshape_body(snapshot, work.geometry, body, bare, ids)
    return plant(work, between, between.body(body.id), feature, [motion], doing)
