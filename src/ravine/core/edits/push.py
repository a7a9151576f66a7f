"""Push or pull faces: each goes parallel to itself along its outward normal, and its neighbours follow.

The ladder: the local face engine; where the form of the body changes, the matter in between by a boolean (flat
faces); else a refusal that names the face in the way and the largest value that works.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import EditError, Unsettled
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.properties import rough_box
from ..local import kin
from ..local.engine import reshape
from ..local.failure import LocalFailure, NoReading
from ..local.plan import Offset
from ..local.rounds import pushed_radius, round_of
from ..model import placement
from ..model.query import Face, Scope
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..model.words import describe_faces
from ..units import editable_length, format_length
from .aside import Aside, reround, rounds_beside, with_rounds_aside
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .between import FallsApart, push_by_cells
from .facts import change_facts
from .followers import CHAMFERS, Followed, no_chamfers
from .gaps import ChoiceGap, Context, LengthGap, PickGap
from .matter import TOUCH, Asked, MatterPush
from .riders import RIDERS, with_riders
from .shaping import FAILURES, faces_by_body, largest_that_works, matrix_of, refusal, reshape_step
from .targets import distance_until


@edit
class Push(Edit):
    name = "push"
    title = "Push or pull"
    sentence = (
        "Push {faces} {riders} out by {distance} until {until} on {sides}, {border}, {chamfers}, {touching} what it "
        "touches"
    )
    past = "Pushed {faces} out by {distance}"
    help = (
        "Moves faces along their outward normals: out adds matter, a negative distance cuts.  A hole's wall changes "
        "its radius, a round its own.  Neighbours follow along their own surfaces and rounds roll along; faces keep "
        "their ids.  Several faces are pushed together, each along its own normal."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 10
    drawing = "push"

    faces: tuple[str, ...] = gap(PickGap("the faces", "Faces, on one body or several.", element="face"))
    distance: float | None = gap(
        LengthGap(
            "the distance", "Out of the body when positive, into it when negative.", default=None, instead="until"
        )
    )
    until: tuple[str, ...] | None = gap(
        PickGap(
            "until",
            "A face, edge, corner, facet of a mesh or part that the first face is pushed to, instead of a distance.",
            element="face", also=("edge", "vertex", "facet", "node"), maximum=1, changes=False, default=None,
            empty="a value",
        )
    )  # fmt: skip
    riders: str = gap(RIDERS)
    sides: str = gap(
        ChoiceGap(
            "the sides", "Whether the faces opposite are pushed out by the same distance, too.",
            default="one", options={"one": "one side", "both": "both sides"},
        )
    )  # fmt: skip
    border: str = gap(
        ChoiceGap(
            "the border",
            "Whether neighbours follow along their own surfaces, or the face keeps its border and a step appears.",
            default="following",
            options={"following": "neighbours following", "kept": "keeping its border"},
        )
    )
    chamfers: str = gap(CHAMFERS)
    touching: str = gap(
        ChoiceGap(
            "joining",
            "Whether added matter joins other bodies that it touches.  Locked bodies never join.",
            default="joining",
            options={"joining": "joining", "keeping apart": "keeping apart from"},
        )
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh

    @classmethod
    def idle(cls, work: Work, picked: tuple[str, ...]) -> frozenset[str]:
        return no_chamfers(work, picked)

    def told(self, context: Context) -> str:
        words = f"Pushed {self.word('faces', context)}"
        if self.sides == "both":
            words += " and its opposite"
        if self.until:
            return f"{words} until {self.word('until', context)}"
        if self.distance is None:
            return words
        way = "out" if self.distance > 0 else "in"
        words += f" {way} by {format_length(abs(self.distance), context.snapshot.units)}"
        return words + (", keeping its border" if self.border == "kept" else "")

    def handle(self, work: Work) -> Handle | None:
        body, index = work.snapshot.owner_of("face", split_id(self.faces[0])[1])
        face = Face(Scope(work.snapshot, work.geometry, body), index)
        if face.kind == "plane":
            origin, normal = face.facts.centroid, face.facts.normal
        else:
            origin, normal = work.geometry.solid(body.shape).fabric.middle(index)
        matrix = face.scope.matrix
        return Handle("distance", placement.point(matrix, origin), placement.direction(matrix, normal), self.faces)

    def apply(self, work: Work) -> Outcome:
        faces = with_riders(work, self.faces, self.riders)
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
            body, index = work.snapshot.owner_of("face", split_id(self.faces[0])[1])
            found = distance_until(work, body, body.faces[index], self.until[0])
            if abs(found) < TOUCH:
                raise EditError(f"the face already lies on {self.until[0]}", self.until, field="until")
            return found
        if self.distance is None:
            raise EditError("the distance is still empty; give one, or pick what to push until", field="distance")
        if abs(self.distance) < TOUCH:
            raise EditError("the distance is zero, so nothing would change", field="distance")
        return self.distance

    def _sided(self, work: Work, body: Body, faces: list[int]) -> list[int]:
        if self.sides == "one":
            return faces
        fabric = work.geometry.solid(body.shape).fabric
        found = list(faces)
        for face in faces:
            other = kin.opposite(fabric, body.faces.index(face))
            if other is None:
                raise EditError("no flat face lies opposite, so only one side can go", [text_id("face", face)],
                                field="sides")  # fmt: skip
            found.append(body.faces[other[0]])
        return list(dict.fromkeys(found))


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

    @property
    def follows(self) -> bool:
        """Whether chamfers go along."""
        return self.asked.chamfers == "following"

    @property
    def doing(self) -> str:
        ids = [text_id("face", f) for f in self.faces]
        way = "out" if self.distance > 0 else "in"
        amount = format_length(abs(self.distance), self.snapshot.units)
        return f"Pushing {describe_faces(self.work.snapshot, self.work.geometry, ids)} {way} by {amount}"

    def run(self) -> Snapshot:
        flat = all(self.solid.fabric.surface(self.body.faces.index(f)).kind == "plane" for f in self.faces)
        if flat and (self.asked.border == "kept" or self._near_others()):
            return self._by_matter(stepped=self.asked.border == "kept")
        if self.asked.border == "kept":
            raise EditError("only flat faces can keep their border; let the neighbours follow", field="border")
        try:
            return self._locally()
        except LocalFailure as failure:
            return self._after(failure, flat)

    def _locally(self) -> Snapshot:
        steps = {f: Offset(self.distance) for f in self.faces}
        after, result = reshape_step(self.work, self.snapshot, self.body, steps, chamfers=self.follows)
        self.followed = Followed.of(result)
        return after

    def _after(self, failure: LocalFailure, flat: bool) -> Snapshot:
        """The further rungs in turn.  The first reason is the best one to tell, but for what the matter says."""
        if self.work.preview:
            raise Unsettled("the faces beside change their form here; shown when the hand rests", field="distance")
        self.stopped = failure.faces
        told: EditError | None = None
        rungs = (self._with_rounds_aside, self._by_plain_matter, self._by_cells, self._as_round)
        for rung in () if isinstance(failure, NoReading) else rungs:
            try:
                return rung(flat)
            except LocalFailure:
                continue
            except KERNEL_FAILURES:
                continue
            except EditError as error:
                if isinstance(error, FallsApart):
                    where = [text_id("face", f) for f in self.faces]
                    told = told or EditError(f"{self.doing}: {error.reason}", where, field="distance")
                elif rung == self._by_plain_matter:
                    told = error
        nearest = self._largest(flat)
        if told is None:
            raise refusal(self.work, self.body, self.doing, failure, "distance", nearest)
        told.nearest = told.nearest or nearest
        raise told

    def _by_plain_matter(self, flat: bool) -> Snapshot:
        if not flat:
            raise LocalFailure("only flat faces leave a prism", [])
        return self._by_matter(stepped=False)

    def _by_cells(self, flat: bool) -> Snapshot:
        return push_by_cells(self.work, self.snapshot, self.body, dict.fromkeys(self.faces, self.distance))

    def _as_round(self, flat: bool) -> Snapshot:
        """Rounds picked without what they touch get another radius."""
        fabric = self.solid.fabric
        radii = {}
        for face in (self.body.faces.index(f) for f in self.faces):
            item = round_of(fabric, face)
            if item is None:
                raise LocalFailure("it is no round", [face])
            radii[face] = pushed_radius(fabric, item, self.distance)
        return reround(self.work, self.snapshot, self.body, radii)

    def _with_rounds_aside(self, flat: bool) -> Snapshot:
        """The rounds beside are taken away, the faces pushed, and the edges rounded again; if that fails, with those
        beside the face that stopped the local way, too: it may vanish between rounds."""
        picked = {self.body.faces.index(f) for f in self.faces}
        aside = rounds_beside(self.solid.fabric, picked)
        try:
            return self._pushed_sharp(aside, flat)
        except FAILURES:
            wider = rounds_beside(self.solid.fabric, picked, self.stopped)
            if wider.faces == aside.faces:
                raise
            return self._pushed_sharp(wider, flat)

    def _pushed_sharp(self, aside: Aside, flat: bool) -> Snapshot:
        def push(sharp: Snapshot) -> Snapshot:
            step = _BodyPush(self.work, sharp, self.body.id, self.faces, self.distance, self.asked)
            try:
                return step._locally()
            except LocalFailure:
                return step._by_cells(flat)

        after = with_rounds_aside(self.work, self.snapshot, self.body, aside, push)
        self.followed = Followed(len(aside.rounds))
        return after

    def _by_matter(self, stepped: bool) -> Snapshot:
        joining = self.asked.touching == "joining"
        asked = Asked(self.distance, self.doing, stepped, joining)
        step = MatterPush(self.work, self.snapshot, self.body.id, self.faces, asked)
        after = step.run()
        self.warnings += step.warnings
        self.joined |= step.joined
        return after

    def _largest(self, flat: bool) -> str | None:
        """By the same ladder, within a few seconds."""
        if not self.work.wants_nearest:
            return None
        places = [self.body.faces.index(f) for f in self.faces]

        def works(distance: float) -> bool:
            try:
                reshape(self.solid.fabric, {f: Offset(distance) for f in places}, chamfers=self.follows)
            except NoReading:
                return False
            except LocalFailure:
                return (flat and self._matter_works(distance)) or self._cells_work(distance)
            return True

        found = largest_that_works(self.distance, works)
        return None if found is None else editable_length(found, self.snapshot.units)

    def _cells_work(self, distance: float) -> bool:
        try:
            push_by_cells(self.work, self.snapshot, self.body, dict.fromkeys(self.faces, distance))
        except (LocalFailure, EditError):
            return False
        except KERNEL_FAILURES:
            return False
        return True

    def _matter_works(self, distance: float) -> bool:
        asked = Asked(distance, self.doing, joining=self.asked.touching == "joining")
        try:
            MatterPush(self.work, self.snapshot, self.body.id, self.faces, asked).run()
        except EditError:
            return False
        return True

    def _near_others(self) -> bool:
        """Whether the way of the faces comes near another solid, which added matter may join."""
        if self.distance < 0:
            return False
        fabric = self.solid.fabric
        here = matrix_of(self.snapshot, self.body)
        rows = [fabric.boxes[self.body.faces.index(f)] for f in self.faces]
        reach = abs(self.distance) + TOUCH
        ours = [_world_box(here, row[:3] - reach, row[3:] + reach) for row in rows]
        for other in self.snapshot.bodies.values():
            if other.id == self.body.id or other.kind != "solid":
                continue
            low, high = rough_box(self.work.geometry.solid(other.shape).shape)
            theirs = _world_box(matrix_of(self.snapshot, other), low, high)
            if any(all(a[0][k] <= theirs[1][k] and theirs[0][k] <= a[1][k] for k in range(3)) for a in ours):
                return True
        return False


def _world_box(matrix: placement.Matrix, low: Sequence[float], high: Sequence[float]) -> tuple:
    ends = (low, high)
    corners = [placement.point(matrix, (x[0], y[1], z[2])) for x in ends for y in ends for z in ends]
    return tuple(min(c[k] for c in corners) for k in range(3)), tuple(max(c[k] for c in corners) for k in range(3))
