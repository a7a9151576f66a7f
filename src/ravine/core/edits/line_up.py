"""Line up axes: two that should be one and nearly are become one."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats, Motion
from ..model import placement
from ..model.snapshot import Snapshot, split_id
from ..model.trimesh_body import TriangleMesh
from ..units import format_angle, format_length
from .axes import Axis, picked_axis
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import reach
from .gaps import ChoiceGap, Context, PickGap
from .move_faces import moved_feature
from .shaping import indices, into_body, matrix_of

ROUND = frozenset({"cylinder", "cone", "torus"})
ONE = 1e-9


@dataclass(frozen=True)
class Mismatch:
    """Of two axes: apart, mm, at the middle of the second face; lean, rad."""

    apart: float
    lean: float

    @property
    def none(self) -> bool:
        return self.apart < ONE and self.lean < ONE


def mismatch(first: Axis, second: Axis) -> Mismatch:
    """Axes have directions, not mere corners."""
    assert first.direction is not None
    assert second.direction is not None
    off = second.point - first.point
    off = off - (off @ first.direction) * first.direction
    lean = np.arctan2(
        np.linalg.norm(np.cross(first.direction, second.direction)), abs(first.direction @ second.direction)
    )
    return Mismatch(float(np.linalg.norm(off)), float(lean))


def onto(stays: Axis, moves: Axis) -> Motion:
    """The least motion, model coordinates, that lays one axis on another."""
    assert stays.direction is not None
    assert moves.direction is not None
    target = stays.direction * (np.sign(stays.direction @ moves.direction) or 1.0)
    across = np.cross(moves.direction, target)
    sine = float(np.linalg.norm(across))
    turn = Motion.slide(np.zeros(3))
    if sine > 1e-15:
        turn = Motion.about(moves.point, across, float(np.arctan2(sine, moves.direction @ target)))
    off: Floats = stays.point - moves.point
    return Motion(turn.turn, turn.shift + off - (off @ stays.direction) * stays.direction)


@edit
class LineUp(Edit):
    name = "line up"
    title = "Line up axes"
    sentence = "Line up the axes of {faces}, {stays} staying, {moving} moving"
    past = "Lined up the axes of {faces}"
    help = (
        "Makes two axes that should be one coincide: bores that a scan or an old file left a little apart.  One stays; "
        "the other's feature, or its whole part, is moved and turned by the least that closes the mismatch, which the "
        "line shows."
    )
    offered_for = "face"
    stages = ("Mend", "Shape")
    rank = 37
    drawing = "axes"

    faces: tuple[str, ...] = gap(PickGap("the faces", "Two round faces.", element="face", minimum=2, maximum=2,
                                         changes=False))  # fmt: skip
    stays: str = gap(ChoiceGap("which stays", "The one that is right.", default="first",
                               options={"first": "the first", "second": "the second"}))  # fmt: skip
    moving: str = gap(ChoiceGap("what moves", "The feature that the other face belongs to, or its whole part.",
                                default="feature", options={"feature": "its feature", "part": "its part"}))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "face" and pick.count == 2 and (pick.mesh or pick.face_kinds <= ROUND)

    def told(self, context: Context) -> str:
        return f"Lined up the axes of {self.word('faces', context)}, {self.word('stays', context)} staying"

    def apply(self, work: Work) -> Outcome:
        stays, moves = self.faces if self.stays == "first" else self.faces[::-1]
        here, there = _axis(work, stays), _axis(work, moves)
        found = mismatch(here, there)
        if found.none:
            raise EditError("the two axes are one already", self.faces)
        motion = onto(here, there)
        facts: tuple[Fact, ...] = (
            Fact("apart", "axes were apart", found.apart, "length"),
            Fact("lean", "and leaned", format_angle(found.lean)),
        )
        if self.moving == "part":
            return Outcome(self._part(work, stays, moves, motion), facts)
        body, _ = work.snapshot.owner_of("face", split_id(moves)[1])
        if body.locked:
            raise EditError(f"{body.name} is locked, so it stays; let the other face move", [moves], field="stays")
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh, whose features do not move; move its part, or make a solid of it",
                            [moves], field="moving")  # fmt: skip
        solid = work.geometry.solid(body.shape)
        chosen = reach(solid, indices(body, [split_id(moves)[1]]), "feature")
        own = into_body(work.snapshot, body, motion)
        doing = f"Lining up the axes, {format_length(found.apart, work.snapshot.units)} apart,"
        snapshot, followed = moved_feature(work, work.snapshot, body, chosen, own, doing)
        return Outcome(snapshot, (*facts, *change_facts(work, snapshot, {body.id}), *followed.facts))

    def _part(self, work: Work, stays: str, moves: str, motion: Motion) -> Snapshot:
        snapshot = work.snapshot
        body, _ = snapshot.owner_of("face", split_id(moves)[1])
        other, _ = snapshot.owner_of("face", split_id(stays)[1])
        if body.id == other.id:
            raise EditError("both axes belong to one part; move the feature", self.faces, field="moving")
        found = snapshot.occurrences(body.id)[0]
        above = placement.multiply(found.matrix, placement.inverse(found.node.placement))
        rows = tuple(float(v) for v in motion.matrix.reshape(-1))
        local = placement.multiply(placement.inverse(above), placement.multiply(rows, matrix_of(snapshot, body)))
        return snapshot.with_node(replace(found.node, placement=local))


def _axis(work: Work, face: str) -> Axis:
    body, index = work.snapshot.owner_of("face", split_id(face)[1])
    geometry = work.geometry.get(body.shape)
    surface = geometry.surface(index) if isinstance(geometry, TriangleMesh) else geometry.fabric.surface(index)
    if surface is None or surface.kind not in ROUND:
        raise EditError(f"{face} is not round about an axis; pick two round faces", [face])
    axis = picked_axis(work, face)
    assert axis.direction is not None
    box = geometry.face_box(index) if isinstance(geometry, TriangleMesh) else geometry.fabric.boxes[index]
    middle = placement.point(matrix_of(work.snapshot, body), ((box[:3] + box[3:]) / 2).tolist())
    along = float((np.array(middle) - axis.point) @ axis.direction)
    return Axis(axis.point + along * axis.direction, axis.direction)
