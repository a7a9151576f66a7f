"""Faces and whole features moved so that dimensions get other values, all at once, while held ones keep theirs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..dimensions.motions import Mover, Wish, solve
from ..dimensions.reading import Anchor, read_dimension
from ..errors import CannotDo, EditError
from ..features.company import company_of, in_line
from ..features.recogniser import features_of
from ..local.plan import Offset, Step
from ..local.surfaces import Floats
from ..model.dimension import ANGLE, ARC, ROUND, BodyDimension
from ..model.references import Reference, part_of
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid, vec_of
from ..tolerances import ONE_DIRECTION
from . import resize, tilt
from .feature_size import feature_at
from .followers import Followed
from .ladder import NothingWorked, first_that_works
from .move_faces import moved_feature
from .reshaping import into_body, refusal, reshape_step
from .work import Work

SHARES = {"second": 0.0, "first": 1.0, "both": 0.5}
STILL = 1e-9  # mm


@dataclass(frozen=True)
class Target:
    """A dimension and the value (mm) it is to have."""

    item: BodyDimension
    value: float


@dataclass(frozen=True)
class Driven:
    """bodies: that changed; moved: how many things did."""

    snapshot: Snapshot
    followed: Followed
    bodies: set[int]
    moved: int


@dataclass(frozen=True)
class Driving:
    """side: which end of the first of them moves, None where either may; in_line: whether holes
    on one axis go together; riders: further faces that go with its second
    end."""

    work: Work
    side: str | None = "second"
    in_line: bool = True
    riders: tuple[Reference, ...] = ()

    def do(self, snapshot: Snapshot, targets: Sequence[Target], held: Sequence[BodyDimension]) -> Driven:
        """Diameters first, each as a size of its face; then all others together.  Raises EditError."""
        start, bodies, count, followed = snapshot, set(), 0, Followed()
        keeping = [Target(d, read_dimension(snapshot, self.work.geometry, d).value) for d in held]
        for target in targets:
            if target.item.way in ROUND:
                snapshot = self._round(snapshot, target)
                bodies |= {b for b in snapshot.bodies if snapshot.bodies[b] is not start.bodies.get(b)}
                count += 1
            elif target.item.way == ANGLE:
                snapshot = self._turned(snapshot, target)
                bodies |= {b for b in snapshot.bodies if snapshot.bodies[b] is not start.bodies.get(b)}
                count += 1
        straight = [t for t in targets if t.item.way not in (*ROUND, ANGLE)]
        if straight:
            movers: dict[Mover, list[Anchor]] = {}
            driven = [self._wish(snapshot, t, movers) for t in straight]
            staying = [self._wish(snapshot, t, movers) for t in keeping if t.item.way not in (*ROUND, ANGLE)]
            shares = solve(driven, staying, None if self.side is None else SHARES[self.side])
            moved = {m: v for m, v in shares.items() if float(np.abs(v).max()) > STILL}
            snapshot, followed, more = self._carried_out(snapshot, moved, movers, driven[0].second)
            bodies, count = bodies | more, count + len(moved)
        self._check(snapshot, [*targets, *keeping])
        return Driven(snapshot, followed, bodies, count)

    def _round(self, snapshot: Snapshot, target: Target) -> Snapshot:
        reading = read_dimension(snapshot, self.work.geometry, target.item)
        (anchor,) = reading.anchors
        face = anchor.reference
        if face.kind == "edge":
            body, index = face.owner
            topology = self.work.geometry.solid(body.shape).topology
            round_ = [f for f in topology.faces_of(index) if topology.surface(f).kind == "cylinder"]
            if not round_:
                raise EditError(f"{face} is the edge of no cylinder that could grow", [face], field="dimension")
            face = part_of(face, "face", round_[0])
        size = target.value * (2 if target.item.way == "radius" else 1)
        if target.item.way == ARC:  # the angle stays
            assert anchor.radius is not None
            size = 2 * anchor.radius * target.value / reading.value
        return resize.Resize(faces=(face,), size=size).do(replace(self.work, snapshot=snapshot)).snapshot

    def _turned(self, snapshot: Snapshot, target: Target) -> Snapshot:
        """One face about the line in which it meets the other, or both by half."""
        share = SHARES[self.side or "second"]
        for which, part in ((1, 1 - share), (0, share)):
            reading = read_dimension(snapshot, self.work.geometry, target.item)
            change = (target.value - reading.value) * (1.0 if which == 0 else part)
            if part == 0 or abs(change) < STILL:
                continue
            faces = [a.reference for a in reading.anchors]
            work = replace(self.work, snapshot=snapshot)
            turn = tilt.Tilt(faces=(faces[which],), angle=change, axis=(faces[1 - which],))
            handle = turn.handle(work)
            assert handle is not None
            grows = float(np.array(handle.direction) @ reading.way) * (1 if which else -1)
            try:
                snapshot = replace(turn, angle=change if grows > 0 else -change).do(work).snapshot
            except CannotDo as error:
                error.nearest = None  # that is of the turn, not of the angle
                raise
        return snapshot

    # --- who moves -------------------------------------------------------------------------------------------------

    def _wish(self, snapshot: Snapshot, target: Target, movers: dict[Mover, list[Anchor]]) -> Wish:
        reading = read_dimension(snapshot, self.work.geometry, target.item)
        first, second = (self._mover(anchor, reading.way) for anchor in reading.anchors)
        for mover, anchor in zip((first, second), reading.anchors, strict=True):
            movers.setdefault(mover, []).append(anchor)
        return Wish(target.item.name, first, second, reading.way, target.value - reading.value)

    def _mover(self, anchor: Anchor, way: Floats) -> Mover:
        """A flat face with those on its plane goes square to itself; a round one takes its feature anywhere; an edge or
        corner goes with the face beside it that lies square to the dimension."""
        body, index = anchor.reference.owner
        topology = self.work.geometry.solid(body.shape).topology
        if anchor.reference.kind != "face":
            index = self._face_beside(anchor, way)
        if topology.surface(index).kind == "plane":
            _, normal = topology.middle(index)
            return Mover((body.id, index), vec_of(np.array(anchor.reference.matrix.direction(normal))))
        rows = features_of(topology)
        number = feature_at(rows, index)
        if number is None or rows[number].kind in ("fillet", "chamfer"):
            return Mover((body.id, index))
        line = [rows[number], *(in_line(rows, number) if self.in_line else ())]
        return Mover((body.id, *sorted({f for row in line for f in company_of(topology, row.faces)})))

    def _face_beside(self, anchor: Anchor, way: Floats) -> int:
        body, index = anchor.reference.owner
        topology = self.work.geometry.solid(body.shape).topology
        faces = list(topology.faces_of(index) if anchor.reference.kind == "edge" else topology.faces_at(index))
        if anchor.radius is not None:
            return next((f for f in faces if topology.surface(f).kind in ("cylinder", "cone")), faces[0])
        square = [f for f in faces if topology.surface(f).kind == "plane" and self._along(anchor, f, way)]
        if not square:
            what = "an edge" if anchor.reference.kind == "edge" else "a corner"
            raise EditError(f"{anchor.reference} is {what} beside which no flat face lies square to the dimension: "
                            f"measure to a face", [anchor.reference], field="dimension")  # fmt: skip
        return square[0]

    def _along(self, anchor: Anchor, face: int, way: Floats) -> bool:
        body, _ = anchor.reference.owner
        _, normal = self.work.geometry.solid(body.shape).topology.middle(face)
        return 1 - abs(float(np.array(anchor.reference.matrix.direction(normal)) @ way)) < ONE_DIRECTION

    # --- moving ----------------------------------------------------------------------------------------------------

    def _carried_out(
        self,
        snapshot: Snapshot,
        moved: Mapping[Mover, Floats],
        movers: Mapping[Mover, Sequence[Anchor]],
        second: Mover | None,
    ) -> tuple[Snapshot, Followed, set[int]]:
        start, followed = snapshot, Followed()
        by_body: dict[int, dict[int, Floats]] = {}
        flat: set[tuple[int, int]] = set()
        for mover, by in moved.items():
            body, *faces = mover.key
            rows = by_body.setdefault(body, {})
            if mover.normal is not None:
                flat.add((body, faces[0]))
            for face in self._riding(start, body, faces, mover):
                rows[face] = by
            if mover == second:
                for rider in self.riders:
                    other, index = rider.owner
                    by_body.setdefault(other.id, {})[index] = by
        for number, rows in by_body.items():
            here = self._matrix(movers, number)
            snapshot, came = self._reshaped(snapshot, snapshot.body(number), rows, here)
            followed += came
        return snapshot, followed, set(by_body)

    def _matrix(self, movers: Mapping[Mover, Sequence[Anchor]], body: int) -> Rigid:
        return next(a.reference.matrix for m, rows in movers.items() if m.key[0] == body for a in rows)

    def _riding(self, snapshot: Snapshot, body: int, faces: Sequence[int], mover: Mover) -> set[int]:
        """With the features that stand on nothing else; those of one plane go together."""
        topology = self.work.geometry.solid(snapshot.body(body).shape).topology
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
        self, snapshot: Snapshot, body: Body, rows: Mapping[int, Floats], here: Rigid
    ) -> tuple[Snapshot, Followed]:
        """In one step of the local engine; else face by face."""
        topology = self.work.geometry.solid(body.shape).topology
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
            after, result = reshape_step(self.work, snapshot, body, steps)
            return after, Followed.of(result)

        def in_turn() -> tuple[Snapshot, Followed]:
            return self._in_turn(snapshot, body, steps)

        try:
            return first_that_works(self.work, "drive", [("at once", at_once), ("in turn", in_turn)])
        except NothingWorked as nothing:
            raise refusal(self.work, body, nothing.first, "value") from None

    def _in_turn(self, snapshot: Snapshot, body: Body, steps: Mapping[int, Step]) -> tuple[Snapshot, Followed]:
        """What goes parallel to itself by cells, what slides replanted."""
        followed = Followed()
        offsets = {f: s.distance for f, s in steps.items() if isinstance(s, Offset)}
        if offsets:
            snapshot, followed = resize.by_cells(self.work, snapshot, body, offsets)[1]()
        slides: dict[Rigid, list[int]] = {}
        for face, step in steps.items():
            if isinstance(step, Rigid):
                slides.setdefault(step, []).append(face)
        for motion, faces in slides.items():
            now = snapshot.body(body.id)
            places = {now.faces.index(f) for f in faces if f in now.faces}
            if places:
                snapshot, came = moved_feature(self.work, snapshot, now, places, motion)
                followed += came
        return snapshot, followed

    def _check(self, after: Snapshot, wanted: Sequence[Target]) -> None:
        """Nothing is taken for done that does not measure so."""
        for target in wanted:
            found = read_dimension(after, self.work.geometry, target.item).value
            if abs(found - target.value) > 1e-6 * max(1.0, abs(target.value)):
                raise CannotDo(f"{target.item.name} came out as another size than asked for")
