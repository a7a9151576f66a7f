"""Move, turn or copy faces and whole features."""

from __future__ import annotations

from ..errors import Unsettled
from ..kernel.rebuild import carried
from ..local.closing import close_up
from ..local.failure import LocalFailure
from ..local.features import lift_parts
from ..local.surfaces import Floats, Motion
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .aside import reshaped_with_rounds_aside
from .axes import PLACED_ALONG, SET_ON, UNTIL, Placing, face_middle, face_normal, placing
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import EXTENT, plant, reach
from .followers import CHAMFERS, Followed, no_chamfers
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap
from .placed_moves import placed_motion, placing_handle, slide_until
from .shaping import FAILURES, faces_by_body, indices, into_body, refusal, reshape_step


@edit
class MoveFaces(Edit):
    name = "move faces"
    title = "Move, turn or copy"
    sentence = (
        "{way} {faces} {extent} along {along} of {axis} by {distance} until {until}, turning {angle} about it, "
        "{chamfers}"
    )
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
    along: str = gap(PLACED_ALONG)
    axis: tuple[str, ...] | None = gap(SET_ON)
    until: tuple[str, ...] | None = gap(UNTIL)
    angle: float = gap(AngleGap("the angle", "How far to turn, right-handed about the direction.", default=0.0))
    chamfers: str = gap(CHAMFERS)

    @classmethod
    def idle(cls, work: Work, picked: tuple[str, ...]) -> frozenset[str]:
        return no_chamfers(work, picked)

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
        return self.word("along", context) + (f" of {self.word('axis', context)}" if self.axis else "")

    def _placing(self, work: Work) -> Placing:
        return placing(work, self.axis, face_middle(work, self.faces[0])[0])

    def _direction(self, work: Work) -> Floats:
        return face_normal(work, self.faces[0]) if self.along == "normal" else self._placing(work).along(self.along)

    def handle(self, work: Work) -> Handle | None:
        return placing_handle(self._placing(work), self.along, face_normal(work, self.faces[0]))

    def apply(self, work: Work) -> Outcome:
        motion, distance = self._motion(work)
        snapshot, followed = work.snapshot, Followed()
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
                snapshot, count = moved_feature(
                    work, snapshot, body, faces, own, self._doing(work), chamfers=self.chamfers == "following"
                )
                followed += count
        facts = (*change_facts(work, snapshot, set(by_body)), *followed.facts)
        if self.until:
            facts += (Fact("distance", "distance", distance, "length"),)
        return Outcome(snapshot, facts)

    def _motion(self, work: Work) -> tuple[Motion, float]:
        """In model coordinates, and how far it slides."""
        middle = face_middle(work, self.faces[0])[0]
        direction = self._direction(work)
        distance = slide_until(work, self.until, middle, direction, self.distance)
        return placed_motion(self._placing(work).origin, direction, distance, self.angle), distance

    def _copy(self, work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        try:
            parts = lift_parts(solid.fabric, faces)
        except LocalFailure as failure:
            raise refusal(work, body, self._doing(work), failure, "faces") from None
        return plant(work, snapshot, body, parts, [motion], self._doing(work))

    def _doing(self, work: Work) -> str:
        return f"{'Copying' if self.way == 'copy' else 'Moving'} {self.word('faces', work.context())}"


def moved_feature(
    work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion, doing: str, *, chamfers: bool = True
) -> tuple[Snapshot, Followed]:
    """Faces (by index) moved, neighbours following along their own surfaces; a feature that leaves its face is taken
    out and planted anew.  Also what came along.  Raises EditError, after which nothing has changed."""
    try:
        after, result = reshape_step(work, snapshot, body, {body.faces[f]: motion for f in faces}, chamfers=chamfers)
        return after, Followed.of(result)
    except LocalFailure as failure:
        for other in (_replanted, _with_rounds_aside):
            try:
                return other(work, snapshot, body, faces, motion, doing), Followed()
            except FAILURES:
                continue
        raise refusal(work, body, doing, failure, "distance", None) from None


def _with_rounds_aside(
    work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion, doing: str
) -> Snapshot:
    if work.preview:
        raise Unsettled(f"{doing}: the rounds beside change their form here; shown when the hand rests")
    return reshaped_with_rounds_aside(work, snapshot, body, {body.faces[f]: motion for f in faces})


def _replanted(work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Motion, doing: str) -> Snapshot:
    """Where the feature leaves its face: close up here, plant there.  Its faces get new ids."""
    solid = work.geometry.solid(body.shape)
    parts = lift_parts(solid.fabric, faces)
    closed = close_up(solid.fabric, faces)
    ids = carried(solid.fabric.index, body.ids(), closed.rebuilt, closed.fabric.index)
    bare = Solid.reshaped(closed.fabric, solid.volume_mm3 + closed.volume_change)
    between = reshape_body(snapshot, work.geometry, body, bare, ids)
    return plant(work, between, between.body(body.id), parts, [motion], doing)
