"""Move, turn or copy faces and whole features."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import Unsettled
from ..local.failure import LocalFailure
from ..local.features import Lifted, crossed_by, lift_parts
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid
from .axes import Placing, axes_beside, face_middle, face_normal, placing
from .blend_suppression import reshaped_with_blends_suppressed
from .facts import change_facts
from .followers import Followed
from .ladder import NothingWorked, first_that_works
from .placed_moves import placed_motion, placing_handle, slide_until
from .planting import plant, reach
from .remove import take_away
from .reshaping import faces_by_body, indices, into_body, place_of, refusal, reshape_step
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class MoveFaces(Operation):
    """Slides faces along a direction and turns them about an axis; their neighbours follow, fillets roll along."""

    faces: tuple[Reference, ...]
    distance: float = 0.0
    way: str = "move"
    extent: str = "feature"
    along: str = "z"
    axis: tuple[Reference, ...] | None = None
    until: tuple[Reference, ...] | None = None
    angle: float = 0.0
    chamfers: str = "following"

    def _placing(self, work: Work) -> Placing:
        return placing(work, self.axis, face_middle(work, self.faces[0])[0])

    def _direction(self, work: Work) -> Floats:
        return face_normal(work, self.faces[0]) if self.along == "normal" else self._placing(work).along(self.along)

    def handle(self, work: Work) -> Handle | None:
        return placing_handle(self._placing(work), self.along, face_normal(work, self.faces[0]))

    def do(self, work: Work) -> Outcome:
        motion, distance = self._motion(work)
        snapshot, followed = work.snapshot, Followed()
        by_body = faces_by_body(snapshot, self.faces)
        for number, chosen in by_body.items():
            body = snapshot.body(number)
            solid = work.geometry.solid(body.shape)
            faces = reach(solid, indices(body, chosen), self.extent)
            own = into_body(place_of(self.faces, body), motion)
            work.progress(0.2, "working out the new place")
            if self.way == "copy":
                snapshot = self._copy(work, snapshot, body, faces, own)
            else:
                snapshot, count = moved_feature(work, snapshot, body, faces, own, chamfers=self.chamfers == "following")
                followed += count
        facts = (*change_facts(work, snapshot, set(by_body)), *followed.facts)
        if self.until:
            facts += (Fact("distance", "distance", distance, "length"),)
        return Outcome(snapshot, facts)

    def _motion(self, work: Work) -> tuple[Rigid, float]:
        """In model coordinates, and how far it slides."""
        middle = face_middle(work, self.faces[0])[0]
        direction = self._direction(work)
        distance = slide_until(work, self.until, middle, direction, self.distance)
        return placed_motion(self._placing(work).origin, direction, distance, self.angle), distance

    def _copy(self, work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Rigid) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        try:
            parts = lift_parts(solid.topology, faces)
        except LocalFailure as failure:
            raise refusal(work, body, failure, "faces") from None
        return plant(work, snapshot, body, parts, [motion])


def usual_direction(work: Work, face: Reference) -> str:
    """A feature goes sideways, a face that belongs to none square to itself."""
    body, index = face.owner
    solid = work.geometry.solid(body.shape)
    round_about = solid.topology.surface(index).kind != "plane"
    return axes_beside(work, face)[0] if round_about or len(reach(solid, [index], "feature")) > 1 else "normal"


def moved_feature(
    work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Rigid, *, chamfers: bool = True
) -> tuple[Snapshot, Followed]:
    """Faces (by index) moved, neighbours following along their own surfaces; a feature that leaves its face is taken
    out and planted anew.  Also what came along.  Raises EditError, after which nothing has changed."""

    def in_place() -> tuple[Snapshot, Followed]:
        after, result = reshape_step(work, snapshot, body, {body.faces[f]: motion for f in faces}, chamfers=chamfers)
        return after, Followed.of(result)

    ways = [
        ("in place", in_place),
        ("replanted", lambda: (_replanted(work, snapshot, body, faces, motion), Followed())),
        ("rounds set aside", lambda: (_with_blends_suppressed(work, snapshot, body, faces, motion), Followed())),
    ]
    try:
        return first_that_works(work, "move", ways)
    except NothingWorked as nothing:
        raise refusal(work, body, nothing.first, "distance") from None


def _with_blends_suppressed(work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Rigid) -> Snapshot:
    if not work.mode.checks:
        raise Unsettled("the rounds beside change their form here; shown when the hand rests")
    return reshaped_with_blends_suppressed(work, snapshot, body, {body.faces[f]: motion for f in faces})


def _replanted(work: Work, snapshot: Snapshot, body: Body, faces: set[int], motion: Rigid) -> Snapshot:
    """Where the feature leaves its face: close up here, plant there.  Its faces get new ids."""
    parts = _lifted(work, snapshot, body, faces)
    between = take_away(work, snapshot, body, faces)
    return plant(work, between, between.body(body.id), parts, [motion])


def _lifted(work: Work, snapshot: Snapshot, body: Body, faces: set[int]) -> list[Lifted]:
    """The feature as bodies; a bore or boss that others cross whole, with what they take of it."""
    topology = work.geometry.solid(body.shape).topology
    try:
        return lift_parts(topology, faces)
    except LocalFailure:
        crossing = crossed_by(topology, faces)
        if not crossing:
            raise
    without = take_away(work, snapshot, body, crossing).body(body.id)
    now = work.geometry.solid(without.shape).topology
    left = [without.faces.index(n) for n in (body.faces[f] for f in faces) if n in without.faces]
    if not left:
        raise LocalFailure("it goes with what crosses it", sorted(faces))
    return lift_parts(now, set[int]().union(*(now.one_surface(f) for f in left)))
