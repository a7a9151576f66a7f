"""Drive a dimension to another value: faces and whole features move, held dimensions keep theirs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..dimensions.motions import Mover, Wish, solve
from ..dimensions.reading import Anchor, Reading, read_dimension
from ..errors import CannotDo, EditError
from ..features.recogniser import features_of
from ..local.plan import Offset, Step
from ..local.surfaces import Floats
from ..model.dimension import BodyDimension
from ..model.references import Reference, part_of
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid, vec_of
from . import resize
from .dimensioning import find_dimension, title_of
from .facts import change_facts
from .feature_size import feature_at
from .followers import Followed
from .ladder import NothingWorked, first_that_works
from .move_faces import moved_feature
from .reshaping import into_body, refusal, reshape_step
from .work import Fact, Handle, Mode, Operation, Outcome, Work

SHARES = {"second": 0.0, "first": 1.0, "both": 0.5}
STILL = 1e-9  # mm


@dataclass(frozen=True, kw_only=True)
class Drive(Operation):
    """dimension: its id or name; value: mm; side: which end moves; held: dimensions that keep their values; riders:
    further faces that go with the second end."""

    dimension: str
    value: float
    side: str = "second"
    held: tuple[str, ...] | None = None
    riders: tuple[Reference, ...] | None = None

    def handle(self, work: Work) -> Handle:
        """Its wire runs from the end that stays; one that grows to both sides is pulled at its second."""
        reading = read_dimension(work.snapshot, work.geometry, find_dimension(work.snapshot, self.dimension))
        start, way = (reading.ends[1], -reading.way) if self.side == "first" else (reading.ends[0], reading.way)
        return Handle("value", vec_of(start), vec_of(way))

    def do(self, work: Work) -> Outcome:
        item = find_dimension(work.snapshot, self.dimension)
        reading = read_dimension(work.snapshot, work.geometry, item)
        change = self.value - reading.value
        if abs(change) < STILL:
            if work.mode is not Mode.COMMIT:
                return Outcome(work.snapshot)  # as the line opens: nothing is wrong with it yet
            raise EditError(f"{title_of(item)} has this value already", field="value")
        if item.way == "diameter":
            return self._round(work, reading)
        movers: dict[Mover, list[Anchor]] = {}
        wishes = [self._wish(work, d, movers) for d in (item, *self._held(work, item))]
        driven = Wish(wishes[0].name, wishes[0].first, wishes[0].second, wishes[0].way, change)
        shares = solve(driven, wishes[1:], SHARES[self.side])
        moved = {m: v for m, v in shares.items() if float(np.abs(v).max()) > STILL}
        snapshot, followed, bodies = self._carried_out(work, moved, movers, driven.second)
        self._check(work, snapshot, item)
        return Outcome(
            snapshot,
            (*change_facts(work, snapshot, bodies), Fact("moves", "moving", _told(len(moved))), *followed.facts),
        )

    def _held(self, work: Work, item: BodyDimension) -> list[BodyDimension]:
        found = [find_dimension(work.snapshot, text) for text in self.held or ()]
        if item in found:
            raise EditError(f"{title_of(item)} is the one that is driven; it cannot be held as well", field="held")
        return [d for d in found if d.way != "diameter"]

    def _round(self, work: Work, reading: Reading) -> Outcome:
        """A diameter is a size of its face."""
        (anchor,) = reading.anchors
        face = anchor.reference
        if face.kind == "edge":
            body, index = face.owner
            topology = work.geometry.solid(body.shape).topology
            round_ = [f for f in topology.faces_of(index) if topology.surface(f).kind == "cylinder"]
            if not round_:
                raise EditError(f"{face} is the edge of no cylinder that could grow", [face], field="dimension")
            face = part_of(face, "face", round_[0])
        return resize.Resize(faces=(face,), size=self.value).do(work)

    # --- who moves -------------------------------------------------------------------------------------------------

    def _wish(self, work: Work, item: BodyDimension, movers: dict[Mover, list[Anchor]]) -> Wish:
        reading = read_dimension(work.snapshot, work.geometry, item)
        first, second = (self._mover(work, anchor) for anchor in reading.anchors)
        for mover, anchor in zip((first, second), reading.anchors, strict=True):
            movers.setdefault(mover, []).append(anchor)
        return Wish(title_of(item), first, second, reading.way, 0.0)

    def _mover(self, work: Work, anchor: Anchor) -> Mover:
        """A flat face with those on its plane goes square to itself; a round one takes its feature anywhere."""
        body, index = anchor.reference.owner
        topology = work.geometry.solid(body.shape).topology
        if anchor.reference.kind == "vertex":
            raise EditError(f"{anchor.reference} is a corner: drive a dimension to the faces that meet there",
                            [anchor.reference], field="dimension")  # fmt: skip
        if anchor.reference.kind == "edge":
            index = self._face_beside(work, anchor)
        if topology.surface(index).kind == "plane":
            _, normal = topology.middle(index)
            return Mover((body.id, index), vec_of(np.array(anchor.reference.matrix.direction(normal))))
        rows = features_of(topology)
        number = feature_at(rows, index)
        faces = (
            rows[number].faces if number is not None and rows[number].kind not in ("fillet", "chamfer") else (index,)
        )
        return Mover((body.id, *sorted(faces)))

    def _face_beside(self, work: Work, anchor: Anchor) -> int:
        body, index = anchor.reference.owner
        topology = work.geometry.solid(body.shape).topology
        if anchor.radius is None:
            raise EditError(f"{anchor.reference} is an edge: drive a dimension to one of the faces beside it",
                            [anchor.reference], field="dimension")  # fmt: skip
        faces = topology.faces_of(index)
        return next((f for f in faces if topology.surface(f).kind in ("cylinder", "cone")), faces[0])

    # --- moving ----------------------------------------------------------------------------------------------------

    def _carried_out(
        self, work: Work, moved: Mapping[Mover, Floats], movers: Mapping[Mover, Sequence[Anchor]], second: Mover | None
    ) -> tuple[Snapshot, Followed, set[int]]:
        snapshot, followed = work.snapshot, Followed()
        by_body: dict[int, dict[int, Floats]] = {}
        flat: set[tuple[int, int]] = set()
        for mover, by in moved.items():
            body, *faces = mover.key
            rows = by_body.setdefault(body, {})
            if mover.normal is not None:
                flat.add((body, faces[0]))
            for face in self._riding(work, body, faces, mover):
                rows[face] = by
            if mover == second:
                for rider in self.riders or ():
                    other, index = rider.owner
                    by_body.setdefault(other.id, {})[index] = by
        for number, rows in by_body.items():
            here = self._matrix(movers, number)
            snapshot, came = self._reshaped(work, snapshot, snapshot.body(number), rows, here)
            followed += came
        return snapshot, followed, set(by_body)

    def _matrix(self, movers: Mapping[Mover, Sequence[Anchor]], body: int) -> Rigid:
        return next(a.reference.matrix for m, rows in movers.items() if m.key[0] == body for a in rows)

    def _riding(self, work: Work, body: int, faces: Sequence[int], mover: Mover) -> set[int]:
        """With the features that stand on nothing else; those of one plane go together."""
        topology = work.geometry.solid(work.snapshot.body(body).shape).topology
        found = set(faces)
        if mover.normal is not None:
            found |= topology.one_surface(faces[0])
        for _ in range(4):
            more = {
                f for row in features_of(topology) if row.stands_on and set(row.stands_on) <= found for f in row.faces
            }
            if more <= found:
                break
            found |= more
        return found

    def _reshaped(
        self, work: Work, snapshot: Snapshot, body: Body, rows: Mapping[int, Floats], here: Rigid
    ) -> tuple[Snapshot, Followed]:
        """In one step of the local engine; else face by face."""
        topology = work.geometry.solid(body.shape).topology
        steps: dict[int, Step] = {}
        for face, by in rows.items():
            surface = topology.surface(face)
            own = into_body(here, Rigid.slide(by.tolist()))
            if surface.kind == "plane":
                _, normal = topology.middle(face)
                steps[body.faces[face]] = Offset(float(np.array(own.shift) @ np.array(normal)))
            else:
                steps[body.faces[face]] = own
        steps = {f: s for f, s in steps.items() if not (isinstance(s, Offset) and abs(s.distance) < STILL)}

        def at_once() -> tuple[Snapshot, Followed]:
            after, result = reshape_step(work, snapshot, body, steps)
            return after, Followed.of(result)

        def in_turn() -> tuple[Snapshot, Followed]:
            return self._in_turn(work, snapshot, body, steps)

        try:
            return first_that_works(work, "drive", [("at once", at_once), ("in turn", in_turn)])
        except NothingWorked as nothing:
            raise refusal(work, body, nothing.first, "value") from None

    def _in_turn(
        self, work: Work, snapshot: Snapshot, body: Body, steps: Mapping[int, Step]
    ) -> tuple[Snapshot, Followed]:
        """What goes parallel to itself by cells, what slides replanted."""
        followed = Followed()
        offsets = {f: s.distance for f, s in steps.items() if isinstance(s, Offset)}
        if offsets:
            snapshot, followed = resize.by_cells(work, snapshot, body, offsets)[1]()
        slides: dict[Rigid, list[int]] = {}
        for face, step in steps.items():
            if isinstance(step, Rigid):
                slides.setdefault(step, []).append(face)
        for motion, faces in slides.items():
            now = snapshot.body(body.id)
            places = {now.faces.index(f) for f in faces if f in now.faces}
            if places:
                snapshot, came = moved_feature(work, snapshot, now, places, motion)
                followed += came
        return snapshot, followed

    def _check(self, work: Work, after: Snapshot, item: BodyDimension) -> None:
        """Nothing is taken for done that does not measure so."""
        for text, wanted in ((item, self.value), *((find_dimension(work.snapshot, h), None) for h in self.held or ())):
            if wanted is None:
                wanted = read_dimension(work.snapshot, work.geometry, text).value
            found = read_dimension(after, work.geometry, text).value
            if abs(found - wanted) > 1e-6 * max(1.0, abs(wanted)):
                raise CannotDo(f"{title_of(text)} came out as another size than asked for")


def _told(count: int) -> str:
    return f"{count} thing{'s' if count != 1 else ''}"
