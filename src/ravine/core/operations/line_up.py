"""Line up axes: two that should be one and nearly are become one."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.references import Reference
from ..model.snapshot import Snapshot
from ..model.trimesh_body import TriangleMesh
from ..rigid import Rigid
from ..tolerances import ALIGNED
from ..units import format_angle
from .axes import Axis, picked_axis
from .facts import change_facts
from .move_faces import moved_feature
from .planting import reach
from .reshaping import indices, into_body
from .work import Fact, Operation, Outcome, Work

ROUND = frozenset({"cylinder", "cone", "torus"})


@dataclass(frozen=True)
class Mismatch:
    """Of two axes: apart, mm, at the middle of the second face; lean, rad."""

    apart: float
    lean: float

    @property
    def none(self) -> bool:
        return self.apart < ALIGNED and self.lean < ALIGNED


@dataclass(frozen=True, kw_only=True)
class LineUp(Operation):
    """Makes two axes that should be one coincide: bores that a scan or an old file left a little apart."""

    faces: tuple[Reference, ...]
    stays: str = "first"
    moving: str = "feature"

    def do(self, work: Work) -> Outcome:
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
        body, _ = moves.owner
        if body.locked:
            raise EditError(f"{body.name} is locked, so it stays; let the other face move", [moves], field="stays")
        if body.kind == "mesh":
            raise EditError(f"{body.name} is a mesh, whose features do not move; move its part, or make a solid of it",
                            [moves], field="moving")  # fmt: skip
        solid = work.geometry.solid(body.shape)
        chosen = reach(solid, indices(body, [moves.number]), "feature")
        own = into_body(moves.matrix, motion)
        snapshot, followed = moved_feature(work, work.snapshot, body, chosen, own)
        return Outcome(snapshot, (*facts, *change_facts(work, snapshot, {body.id}), *followed.facts))

    def _part(self, work: Work, stays: Reference, moves: Reference, motion: Rigid) -> Snapshot:
        snapshot = work.snapshot
        body, _ = moves.owner
        other, _ = stays.owner
        if body.id == other.id:
            raise EditError("both axes belong to one part; move the feature", self.faces, field="moving")
        found = next(o for o in snapshot.occurrences(body.id) if o.node.id == moves.node)
        above = found.matrix @ found.node.placement.inverse
        local = above.inverse @ (motion @ moves.matrix)
        return snapshot.with_node(replace(found.node, placement=local))


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


def onto(stays: Axis, moves: Axis) -> Rigid:
    """The least motion, model coordinates, that lays one axis on another."""
    assert stays.direction is not None
    assert moves.direction is not None
    target = stays.direction * (np.sign(stays.direction @ moves.direction) or 1.0)
    across = np.cross(moves.direction, target)
    sine = float(np.linalg.norm(across))
    turn = Rigid.slide(np.zeros(3))
    if sine > 1e-15:
        turn = Rigid.about(moves.point, across, float(np.arctan2(sine, moves.direction @ target)))
    off: Floats = stays.point - moves.point
    return Rigid.of(turn.turn, turn.shift + off - (off @ stays.direction) * stays.direction)


def _axis(work: Work, face: Reference) -> Axis:
    body, index = face.owner
    geometry = work.geometry.get(body.shape)
    surface = geometry.surface(index) if isinstance(geometry, TriangleMesh) else geometry.topology.surface(index)
    if surface is None or surface.kind not in ROUND:
        raise EditError(f"{face} is not round about an axis; pick two round faces", [face])
    axis = picked_axis(work, face)
    assert axis.direction is not None
    box = geometry.face_box(index) if isinstance(geometry, TriangleMesh) else geometry.topology.boxes[index]
    middle = face.matrix.point(((box[:3] + box[3:]) / 2).tolist())
    along = float((np.array(middle) - axis.point) @ axis.direction)
    return Axis(axis.point + along * axis.direction, axis.direction)
