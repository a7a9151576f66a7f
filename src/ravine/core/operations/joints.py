"""Joints between parts: made, changed, put to rest, dropped; and followed after every edit."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..assembly.assembled import Assembled, assembled, check_apart, settle
from ..assembly.equations import System
from ..assembly.frames import Frame, frame_of
from ..assembly.joint_rows import add_joint, likely_kind
from ..assembly.solver import HEAVY, STILL
from ..errors import CannotDo, EditError, UnknownId
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore
from ..model.joint import ANGLE, KINDS, LENGTH, Joint
from ..model.records import JOINTS
from ..model.references import Reference
from ..model.snapshot import Snapshot, split_id
from ..rigid import IDENTITY, Rigid
from .work import Fact, Operation, Outcome, Work

ASTRAY = 0.5  # of the product of two directions that are to run alike, below which a part is turned first
FACING = ("on",)  # kinds in which two flat faces look at one another, where nothing else is said


@dataclass(frozen=True, kw_only=True)
class Join(Operation):
    """of: a face, edge or corner of the part that moves, two of them for what is between; to: of the other part, two
    flat faces to be centred between, nothing to fix a part to the model; kind: of model.joint.KINDS, the likely one
    when left out; value: mm or rad, as it is now when left out; least, most: instead of a value."""

    of: tuple[Reference, ...]
    to: tuple[Reference, ...] = ()
    kind: str | None = None
    value: float | None = None
    least: float | None = None
    most: float | None = None
    flipped: bool = False
    called: str | None = None

    def do(self, work: Work) -> Outcome:
        rows = work.snapshot.kept(JOINTS)
        kind = self.kind or likely(work.geometry, self.of, self.to)
        if not self.to and kind != "fixed":
            raise EditError("pick what it is joined to as well; without it a part can only be fixed", field="to")
        name = self.called or next(n for k in range(1, 10**6) if (n := f"J{k}") not in {j.name for j in rows.values()})
        if name in {j.name for j in rows.values()}:
            raise EditError(f"there is a joint called {name} already", field="called")
        (number,), snapshot = work.snapshot.fresh(1)
        ends = (*self.of, *self.to)
        nodes = tuple(e.node for e in ends if e.node is not None)
        if len(nodes) < len(ends):
            raise EditError("what is joined has to stand somewhere in the model", ends)
        bodies = tuple(dict.fromkeys(e.owner[0].id if e.at >= 0 else (e.body.id if e.body else 0) for e in ends))
        of, to = tuple(e.placed for e in self.of), tuple(e.placed for e in self.to)
        joint = Joint(number, kind, of, to, nodes, bodies, name, least=self.least, most=self.most)
        check_apart(joint)
        joint, turn = self._read(work, joint)
        snapshot = snapshot.with_kept(JOINTS, {**rows, number: joint})
        return Outcome(_turned(work, snapshot, joint, turn), (Fact("joint", joint.name, KINDS[kind]),))

    def _read(self, work: Work, joint: Joint) -> tuple[Joint, Rigid]:
        """With its sense, side, value or pose as it stands, and the turn that brings directions about alike."""
        if joint.kind == "fixed":
            other = self.to[0].matrix if self.to else IDENTITY
            return replace(joint, pose=tuple(other.inverse @ self.of[0].matrix)), IDENTITY
        a, b = frame_of(work.geometry, self.of[0]), frame_of(work.geometry, self.to[0])
        alike = float(a.axes[2] @ b.axes[2])
        sense = 1 if alike >= 0 else -1
        if a.kind == b.kind == "plane" and joint.kind in FACING:
            sense = -1
        side = 1 if _outside(a, b) else -1
        if self.flipped:
            sense, side = -sense, -side
        value = self.value
        if value is None and (self.least, self.most) == (None, None) and joint.kind in (LENGTH, ANGLE):
            value = _as_it_is(joint.kind, a, b)
        joint = replace(joint, sense=sense, side=side, value=value if joint.kind in (LENGTH, ANGLE) else None)
        add_joint(System(), joint, self._frames(work), lambda _: 0)  # refuses ends that do not suit
        if a.kind != b.kind or a.kind == "point" or joint.kind == ANGLE or alike * sense > ASTRAY:
            return joint, IDENTITY
        return joint, _turn_between(a.axes[2], sense * b.axes[2], a.point)

    def _frames(self, work: Work) -> list[Frame]:
        return [frame_of(work.geometry, e) for e in (*self.of, *self.to)]


def likely(geometry: GeometryStore, of: Sequence[Reference], to: Sequence[Reference]) -> str:
    """The kind of joint that two picks are most likely for."""
    if not to or "node" in {e.kind for e in (*of, *to)}:
        return "fixed"
    return likely_kind(frame_of(geometry, of[0]), frame_of(geometry, to[0]), len(to))


def _outside(a: Frame, b: Frame) -> bool:
    if b.kind == "plane":
        return float((a.point - b.point) @ b.axes[2]) >= 0
    if a.kind == "plane":
        return float((b.point - a.point) @ a.axes[2]) >= 0
    off = a.point - b.point
    off = off - (off @ b.axes[2]) * b.axes[2]
    return float(np.linalg.norm(off)) >= max(a.radius or 0.0, b.radius or 0.0)


def _as_it_is(kind: str, a: Frame, b: Frame) -> float:
    if kind == ANGLE:
        alike = float(np.clip(a.axes[2] @ b.axes[2], -1, 1))
        return math.acos(alike) if a.kind == b.kind else math.asin(alike)
    off = a.point - b.point
    if b.kind == "plane" or a.kind == "plane":
        along = b.axes[2] if b.kind == "plane" else -a.axes[2]
        reach = float(off @ along)
        return reach if a.kind == b.kind else abs(reach)
    for frame in (a, b):
        if frame.kind == "axis":
            off = off - (off @ frame.axes[2]) * frame.axes[2]
    return float(np.linalg.norm(off))


def _turn_between(one: Floats, other: Floats, point: Floats) -> Rigid:
    """The least turn about a point that takes one direction to another."""
    axis = np.cross(one, other)
    size = float(np.linalg.norm(axis))
    if size < 1e-9:
        axis, size = np.cross(one, np.eye(3)[int(np.abs(one).argmin())]), 0.0
    return Rigid.about(point, axis, math.atan2(size, float(one @ other)))


def _turned(work: Work, snapshot: Snapshot, joint: Joint, turn: Rigid) -> Snapshot:
    """The part that moves, or the other where that one stands still."""
    if turn.same(IDENTITY):
        return snapshot
    found = assembled(snapshot, work.geometry, [joint])
    still = found.still()
    for leaf, motion in ((joint.nodes[0], turn), (joint.nodes[-1], turn.inverse)):
        carried = found.carried(leaf)
        if carried and carried[0] not in still:
            return moved_place(snapshot, found.units[carried[-1]], motion)
    return snapshot


def moved_place(snapshot: Snapshot, number: int, motion: Rigid) -> Snapshot:
    """A place in the tree, moved by a motion in the model."""
    matrix = next(m for n, m, _ in snapshot.walk() if n.id == number)
    return placed_at(snapshot, number, motion @ matrix)


def placed_at(snapshot: Snapshot, number: int, wanted: Rigid) -> Snapshot:
    """A place in the tree where it is wanted in the model."""
    matrices = {node.id: (matrix, path) for node, matrix, path in snapshot.walk()}
    path = matrices[number][1]
    above = matrices[path[-1]][0] if path else IDENTITY
    return snapshot.with_node(replace(snapshot.nodes[number], placement=(above.inverse @ wanted).squared))


@dataclass(frozen=True, kw_only=True)
class SetJoint(Operation):
    """Gives a joint another value, limits, or the other sense; or has it rest, or woken."""

    joint: str
    value: float | None = None
    least: float | None = None
    most: float | None = None
    flipped: bool = False
    asleep: bool | None = None

    def do(self, work: Work) -> Outcome:
        item = find_joint(work.snapshot, self.joint)
        bounded = (self.least, self.most) != (None, None)
        if (self.value is not None or bounded) and item.kind not in (LENGTH, ANGLE):
            raise EditError(f"{item.name} is {KINDS[item.kind]}, which has no value", field="value")
        if self.flipped and item.kind == "fixed":
            raise EditError(f"{item.name} is fixed, so it has no other way round", field="flipped")
        turn = -1 if self.flipped else 1
        new = replace(item, sense=turn * item.sense, side=turn * item.side)
        if self.value is not None or bounded:
            new = replace(new, value=self.value, least=self.least, most=self.most)
        if self.asleep is not None:
            new = replace(new, asleep=self.asleep)
        snapshot = work.snapshot.with_kept(JOINTS, {**work.snapshot.kept(JOINTS), item.id: new})
        if self.flipped:
            ends = assembled(work.snapshot, work.geometry, [replace(item, asleep=False)]).ends.get(item.id)
            if ends is not None and ends[0].kind == ends[-1].kind and ends[0].kind in ("plane", "axis"):
                other = new.sense * ends[-1].axes[2]
                snapshot = _turned(work, snapshot, new, _turn_between(ends[0].axes[2], other, ends[0].point))
        return Outcome(snapshot)


@dataclass(frozen=True, kw_only=True)
class DropJoint(Operation):
    """Forgets one; the parts stay where they are."""

    joint: str

    def do(self, work: Work) -> Outcome:
        gone = find_joint(work.snapshot, self.joint)
        rows = {n: j for n, j in work.snapshot.kept(JOINTS).items() if n != gone.id}
        return Outcome(work.snapshot.with_kept(JOINTS, rows))


def find_joint(snapshot: Snapshot, text: str) -> Joint:
    """By its id or name.  Raises UnknownId."""
    rows = snapshot.kept(JOINTS)
    named = next((j for j in rows.values() if j.name == text), None)
    if named is not None:
        return named
    known = ", ".join(j.name for j in rows.values()) or "none yet"
    try:
        kind, number = split_id(text)
    except UnknownId:
        kind, number = "", 0
    if kind != "joint" or number not in rows:
        raise UnknownId(f"there is no joint {text[:40]}; there is {known}", [text])
    return rows[number]


# --- followed after every edit -------------------------------------------------------------------------------------


@dataclass(frozen=True)
class FollowedJoints:
    """names: of places that followed; held: whether what the edit moved was held back; lost: of joints that are
    off, and by what."""

    snapshot: Snapshot
    names: tuple[str, ...] = ()
    held: bool = False
    lost: tuple[str, ...] = ()

    @property
    def facts(self) -> tuple[Fact, ...]:
        rows = [Fact("follows", "follows", ", ".join(self.names))] if self.names else []
        if self.held:
            rows.append(Fact("held", "held by its joints", "it went as far as they let it"))
        return tuple(rows)


def follow_joints(work: Work, before: Snapshot, after: Snapshot) -> FollowedJoints:
    """What the edit moved stays where that is possible and the rest follows; else it goes only as it is free.  Raises
    CannotDo, which names the joints concerned, where the edit moved or joined parts and they cannot be met."""
    rows = after.kept(JOINTS)
    if not rows or (after.nodes is before.nodes and after.bodies is before.bodies and rows == before.kept(JOINTS)):
        return FollowedJoints(after)
    found = assembled(after, work.geometry)
    off = {j for j, missed in found.missed().items() if missed > found.level}
    new = [j for j in found.joints.values() if before.kept(JOINTS).get(j.id) != j]
    if not off:
        return FollowedJoints(after)
    still = dict.fromkeys(found.still(), STILL)
    moved = _moved(found, before)
    stays = {*_reshaped(found, before), *(u for j in new for u in found.carried(j.nodes[-1] if j.to else None))}
    first = stays | (moved if not new else set())
    tries = [{**dict.fromkeys(first, level), **still} for level in ((STILL, HEAVY) if first else (1.0,))]
    for number, ease in enumerate(tries):
        done, missed = settle(found, ease)
        if not missed:
            held = number > 0 and bool(moved) and not new
            own = moved if not new else {u for j in new for u in found.carried(j.nodes[0])}
            return FollowedJoints(done, _names(found, done, own), held)
    words = _contradiction(found, tries[-1], missed)
    if after.nodes != before.nodes or new:
        raise CannotDo(words)
    return FollowedJoints(after, lost=(words,))


def _moved(found: Assembled, before: Snapshot) -> set[int]:
    """Numbers of units that stand elsewhere than before, or in which something joined does."""
    was = {node.id: matrix for node, matrix, _ in before.walk()}
    leaves = {f.leaf for ends in found.ends.values() for f in ends if f.leaf is not None}
    gone = [n for n in (*found.units, *leaves) if n in was and not was[n].same(found.matrices[n])]
    return {u for n in gone for u in found.carried(n)}


def _reshaped(found: Assembled, before: Snapshot) -> set[int]:
    """Numbers of units with a body that has changed."""
    bodies = {b for b, body in found.snapshot.bodies.items() if before.bodies.get(b) is not body}
    leaves = [n for n in found.paths if found.snapshot.nodes[n].body in bodies]
    return {u for leaf in leaves for u in found.carried(leaf)}


def _names(found: Assembled, after: Snapshot, moved: set[int]) -> tuple[str, ...]:
    """Of places that stand elsewhere than the edit left them, but for those that it moved itself."""
    own = {found.units[u] for u in moved}
    now = {node.id: matrix for node, matrix, _ in after.walk()}
    gone = [n for n in found.units if n not in own and not now[n].near(found.matrices[n], found.level)]
    return tuple(dict.fromkeys(after.nodes[n].name for n in gone))


def _contradiction(found: Assembled, ease: dict[int, float], missed: dict[int, float]) -> str:
    """Names each joint without which the rest could be met."""
    near = set[int]().union(*(joints for _, joints in found.parts_of() if joints & missed.keys()), missed.keys())
    against = []
    for number in sorted(near):
        rest = {j: joint for j, joint in found.joints.items() if j != number and j in near}
        if not settle(replace(found, joints=rest), ease)[1]:
            against.append(found.joints[number].name)
    names = against or [found.joints[j].name for j in missed]
    several = len(names) > 1
    return (
        f"{', '.join(names)} cannot {'all ' if several else ''}be met; "
        f"let {'one of them' if several else 'it'} rest or drop it"
    )
