"""Push or pull faces: each goes parallel to itself along its outward normal, and its neighbours follow.

The ladder: the local face engine; where the form of the body changes, the matter in between by a boolean (flat
faces); else a refusal that names the face in the way and the largest value that works.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from ..box import Box
from ..errors import CannotDo, EditError, Unsettled
from ..local import related_faces as kin
from ..local.engine import reshape
from ..local.failure import LocalFailure, NoReading
from ..local.fillets import fillet_of, pushed_radius
from ..local.plan import Offset
from ..local.planning import radius_changed
from ..model.query import Face, Scope
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..tolerances import TOUCHING
from ..units import editable_length
from .blend_suppression import SuppressedBlends, blends_beside, fillets_afresh, with_blends_suppressed
from .cell_push import FallsApart, push_by_cells
from .face_selection import selected_faces
from .facts import change_facts
from .followers import Followed
from .in_parts import first_part, pushed_in_parts
from .judging import judge_push
from .ladder import NothingWorked, Rung, climbed, first_that_works, largest_that_works, works
from .prism_push import Asked, PrismPush
from .reshaping import faces_by_body, matrix_of, refusal, reshape_step
from .targets import distance_until
from .work import Fact, Handle, Operation, Outcome, Work


class _BodyPush:
    """The push of some faces of one body, from one snapshot to the next."""

    def __init__(
        self, work: Work, snapshot: Snapshot, body: int, faces: Sequence[int], distance: float, asked: Push
    ) -> None:
        self.work, self.snapshot, self.faces, self.distance, self.asked = work, snapshot, list(faces), distance, asked
        self.body = snapshot.body(body)
        self.solid = work.geometry.solid(self.body.shape)
        self.joined: set[int] = set()
        self.warnings: list[str] = []
        self.followed = Followed()
        self.stopped: Sequence[int] = ()  # the faces that the local way failed on
        self.meaningless: NoReading | None = None  # why no way at all can do it

    @property
    def follows(self) -> bool:
        """Whether chamfers go along."""
        return self.asked.chamfers == "following"

    def run(self) -> Snapshot:
        flat = all(self.solid.topology.surface(self.body.faces.index(f)).kind == "plane" for f in self.faces)
        if flat and (self.asked.border == "kept" or self._joins_others()):
            return self._by_prism(stepped=self.asked.border == "kept")
        if self.asked.border == "kept":
            raise EditError("only flat faces can keep their border; let the neighbours follow", field="border")
        return self._climbed(flat)

    def _locally(self) -> Snapshot:
        steps = {f: Offset(self.distance) for f in self.faces}
        try:
            after, result = reshape_step(self.work, self.snapshot, self.body, steps, chamfers=self.follows)
        except LocalFailure as failure:
            self.stopped = failure.faces
            self.meaningless = failure if isinstance(failure, NoReading) else None
            raise
        self.followed = Followed.of(result)
        return after

    def _climbed(self, flat: bool) -> Snapshot:
        """In place, else by the further rungs in turn.  The first reason is the best one to tell, but for what the
        prism says, and for that the body would fall apart."""
        try:
            return first_that_works(self.work, "push", [("in place", self._locally), *self._further(flat)])
        except NothingWorked as nothing:
            raise self._refused(nothing, flat) from None

    def _further(self, flat: bool) -> list[Rung[Snapshot]]:
        """A push that comes level with other faces is done in parts, by whatever way each of these takes; all others
        at once."""
        share = first_part(self.solid.topology, self.body, dict.fromkeys(self.faces, self.distance))
        if share is not None:
            return [("in parts", lambda: self._later(lambda: self._in_parts(share)))]
        return [
            ("rounds set aside", lambda: self._later(lambda: self._with_blends_suppressed(flat))),
            ("prism", lambda: self._later(lambda: self._by_plain_prism(flat))),
            ("cells", lambda: self._later(lambda: self._by_cells(self.distance))),
            ("round made afresh", lambda: self._later(lambda: self._as_round(flat))),
        ]

    def _in_parts(self, share: float) -> Snapshot:
        def push(snapshot: Snapshot, distances: Mapping[int, float]) -> Snapshot:
            part = _BodyPush(
                self.work, snapshot, self.body.id, list(distances), next(iter(distances.values())), self.asked
            )
            after = part.run()
            self.warnings += part.warnings
            self.joined |= part.joined
            self.followed += part.followed
            return after

        distances = dict.fromkeys(self.faces, self.distance)
        return pushed_in_parts(self.work, self.snapshot, self.body, distances, share, push)

    def _later(self, way: Callable[[], Snapshot]) -> Snapshot:
        """What is slow waits until the hand rests, and is not tried where what was asked means nothing."""
        if not self.work.mode.checks:
            raise Unsettled("the faces beside change their form here; shown when the hand rests", field="distance")
        if self.meaningless is not None:
            raise self.meaningless
        after = way()
        if not self.joined:
            judge_push(self.work, self.body, after, dict.fromkeys(self.faces, self.distance))
        return after

    def _refused(self, nothing: NothingWorked, flat: bool) -> CannotDo:
        apart = next((e for _, e in nothing.failed if isinstance(e, FallsApart)), None)
        prism = nothing.of("prism")
        told = None
        if isinstance(prism, EditError):
            told = CannotDo(prism.reason, prism.where, prism.nearest, prism.field)
        elif apart is not None:
            told = CannotDo(apart.reason, [text_id("face", f) for f in self.faces], field="distance")
        nearest = self._largest(flat)
        if told is None:
            return refusal(self.work, self.body, nothing.first, "distance", nearest)
        told.nearest = told.nearest or nearest
        return told

    def _by_plain_prism(self, flat: bool) -> Snapshot:
        if not flat:
            raise LocalFailure("only flat faces leave a prism", [])
        return self._by_prism(stepped=False)

    def _by_cells(self, distance: float) -> Snapshot:
        """Not a round that changes its radius: what it sweeps about its axis is not what was asked."""
        places = [self.body.faces.index(f) for f in self.faces]
        rounds = [p for p in places if radius_changed(self.solid.topology, p, places)]
        if rounds:
            raise LocalFailure("a round there is as large as it can be", rounds)
        return push_by_cells(self.work, self.snapshot, self.body, dict.fromkeys(self.faces, distance))

    def _as_round(self, flat: bool) -> Snapshot:
        """Rounds picked without what they touch get another radius."""
        topology = self.solid.topology
        radii = {}
        for face in (self.body.faces.index(f) for f in self.faces):
            item = fillet_of(topology, face)
            if item is None:
                raise LocalFailure("it is no round", [face])
            radii[face] = pushed_radius(topology, item, self.distance)
        return fillets_afresh(self.work, self.snapshot, self.body, radii)

    def _with_blends_suppressed(self, flat: bool) -> Snapshot:
        """The fillets beside are taken away, the faces pushed, and the edges rounded again; if that fails, with those
        beside the face that stopped the local way, too: it may vanish between fillets."""
        picked = {self.body.faces.index(f) for f in self.faces}
        suppressed = blends_beside(self.solid.topology, picked)

        def with_more() -> Snapshot:
            wider = blends_beside(self.solid.topology, picked, self.stopped)
            if wider.faces == suppressed.faces:
                raise LocalFailure("no other round is in the way", sorted(picked))
            return self._pushed_sharp(wider, flat)

        ways: list[Rung[Snapshot]] = [
            ("those beside", partial(self._pushed_sharp, suppressed, flat)),
            ("those that stopped it, too", with_more),
        ]
        return climbed(self.work, "rounds set aside", ways)

    def _pushed_sharp(self, suppressed: SuppressedBlends, flat: bool) -> Snapshot:
        def push(sharp: Snapshot) -> Snapshot:
            step = _BodyPush(self.work, sharp, self.body.id, self.faces, self.distance, self.asked)
            ways: list[Rung[Snapshot]] = [
                ("in place", step._locally),
                ("cells", partial(step._by_cells, self.distance)),
            ]
            return climbed(self.work, "push of the sharp body", ways)

        after = with_blends_suppressed(self.work, self.snapshot, self.body, suppressed, push)
        self.followed = Followed(len(suppressed.fillets))
        return after

    def _by_prism(self, stepped: bool) -> Snapshot:
        step = self._prism(self.distance, stepped)
        after = step.run()
        self.warnings += step.warnings
        self.joined |= step.joined
        return after

    def _largest(self, flat: bool) -> str | None:
        """By the same ladder, within a few seconds."""
        if not self.work.mode.advises:
            return None
        places = [self.body.faces.index(f) for f in self.faces]

        def does(distance: float) -> bool:
            try:
                reshape(self.solid.topology, {f: Offset(distance) for f in places}, chamfers=self.follows)
            except NoReading:
                return False
            except LocalFailure:
                return (flat and works(self.work, self._prism(distance).run)) or works(
                    self.work,
                    lambda: self._by_cells(distance),
                )
            return True

        found = largest_that_works(self.distance, does)
        return None if found is None else editable_length(found, self.snapshot.units)

    def _prism(self, distance: float, stepped: bool = False) -> PrismPush:
        asked = Asked(distance, stepped, self.asked.touching == "joining")
        return PrismPush(self.work, self.snapshot, self.body.id, self.faces, asked)

    def _joins_others(self) -> bool:
        """Whether the added matter becomes one with another solid; those that it meets and that stay parts of their own
        are told."""
        joining = self.asked.touching == "joining"
        if not self._near_others() or not (joining or self.work.mode.advises):
            return False
        step = self._prism(self.distance)
        found = step.reached()
        if not found:
            self.warnings += step.warnings
        return bool(found)

    def _near_others(self) -> bool:
        """Whether the way of the faces comes near another solid, which added matter may join."""
        if self.distance < 0:
            return False
        topology = self.solid.topology
        here = matrix_of(self.snapshot, self.body)
        rows = [topology.boxes[self.body.faces.index(f)].reshape(2, 3) for f in self.faces]
        ours = [Box.around(row).grown(abs(self.distance) + TOUCHING).moved(here) for row in rows]
        for other in self.snapshot.bodies.values():
            if other.id == self.body.id or other.kind != "solid":
                continue
            theirs = self.work.geometry.solid(other.shape).rough_box.moved(matrix_of(self.snapshot, other))
            if any(box.meets(theirs) for box in ours):
                return True
        return False


@dataclass(frozen=True, kw_only=True)
class Push(Operation):
    """Moves faces along their outward normals: out adds matter, a negative distance cuts."""

    faces: tuple[Reference, ...]
    distance: float | None = None
    until: tuple[Reference, ...] | None = None
    riders: str = "alone"
    sides: str = "one"
    border: str = "following"
    chamfers: str = "following"
    touching: str = "keeping apart"

    def handle(self, work: Work) -> Handle | None:
        body, index = self.faces[0].owner
        face = Face(Scope(work.snapshot, work.geometry, body), index)
        if face.kind == "plane":
            origin, normal = face.facts.centroid, face.facts.normal
        else:
            origin, normal = work.geometry.solid(body.shape).topology.middle(index)
        matrix = self.faces[0].matrix
        return Handle("distance", matrix.point(origin), matrix.direction(normal), self.faces)

    def do(self, work: Work) -> Outcome:
        faces = selected_faces(work, self.faces, self.riders)
        by_body = faces_by_body(work.snapshot, faces)
        distance = self._distance(work)
        snapshot, warnings, joined, followed = work.snapshot, [], set[int](), Followed()
        for number, chosen in by_body.items():
            if number in joined:
                raise EditError(
                    "two of the picked bodies would join into one while both are pushed; push them one after the "
                    "other, or keep them apart", list(faces), field="touching")  # fmt: skip
            work.progress(0.1, "working out the new faces")
            step = _BodyPush(work, snapshot, number, self._sided(work, snapshot.body(number), chosen), distance, self)
            snapshot = step.run()
            warnings += step.warnings
            joined |= step.joined
            followed += step.followed
        facts = (
            *change_facts(work, snapshot, set(by_body) | joined),
            *followed.facts,
            *((Fact("distance", "distance", distance, "length"),) if self.until else ()),
            *(Fact("joins", "joins", work.snapshot.bodies[b].name, tone="warning") for b in sorted(joined)),
        )
        return Outcome(snapshot, facts, tuple(warnings))

    def _distance(self, work: Work) -> float:
        if self.until:
            found = distance_until(work, self.faces[0], self.until[0])
            if abs(found) < TOUCHING:
                raise EditError(f"the face already lies on {self.until[0]}", self.until, field="until")
            return found
        if self.distance is None:
            raise EditError("the distance is still empty; give one, or pick what to push until", field="distance")
        if abs(self.distance) < TOUCHING:
            raise EditError("the distance is zero, so nothing would change", field="distance")
        return self.distance

    def _sided(self, work: Work, body: Body, faces: list[int]) -> list[int]:
        if self.sides == "one":
            return faces
        topology = work.geometry.solid(body.shape).topology
        found = list(faces)
        for face in faces:
            other = kin.opposite(topology, body.faces.index(face))
            if other is None:
                raise EditError("no flat face lies opposite, so only one side can go", [text_id("face", face)],
                                field="sides")  # fmt: skip
            found.append(body.faces[other[0]])
        return list(dict.fromkeys(found))
