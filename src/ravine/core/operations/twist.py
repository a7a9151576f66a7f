"""Twist a prism by turning its end face: its walls wind from the foot to the turned end."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.queries import face_facts
from ..kernel.shapes import Shape, ShapeIndex
from ..kernel.twist import twisted
from ..kernel.volumes import volume_properties
from ..local.failure import LocalFailure
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid, vec_of
from .axes import picked_axis
from .booleans import combined
from .facts import change_facts
from .reshaping import refusal, vector
from .work import Handle, Operation, Outcome, Work

MOST = math.radians(3600)


@dataclass(frozen=True, kw_only=True)
class Twist(Operation):
    """Turns the end face of a prism, a boss or a whole bar, while its foot stays."""

    face: tuple[Reference, ...]
    angle: float
    axis: tuple[Reference, ...] | None = None

    def handle(self, work: Work) -> Handle | None:
        body, index = self.face[0].owner
        facts = face_facts(work.geometry.solid(body.shape).index.get("face", index))
        matrix = self.face[0].matrix
        point, normal = matrix.point(facts.centroid), matrix.direction(facts.normal)
        arm = np.cross(vector(normal), np.eye(3)[int(np.abs(vector(normal)).argmin())])
        size = math.sqrt(facts.area) / 2
        return Handle("angle", point, normal, arm=vec_of(size * arm / np.linalg.norm(arm)))

    def do(self, work: Work) -> Outcome:
        if abs(self.angle) < 1e-9:
            raise EditError("the angle is zero, so nothing would change", field="angle")
        if abs(self.angle) > MOST:
            raise EditError("more than ten turns wind too tightly", field="angle", nearest="3600°")
        body, index = self.face[0].owner
        after = self._twisted(work, body, index)
        return Outcome(after, change_facts(work, after, {body.id}))

    def _twisted(self, work: Work, body: Body, index: int) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        topology, top = solid.topology, solid.index.get("face", index)
        facts = face_facts(top)
        normal = vector(facts.normal)
        try:
            height = _depth(topology, index, normal)
        except LocalFailure as failure:
            raise refusal(work, body, failure, "face") from None
        foot = build.moved(top, Rigid.slide(-height * normal))
        origin = self._origin(work, body, normal, facts.centroid)
        wound = twisted(foot, (height * normal).tolist(), origin, self.angle)
        straight = build.extrude(top, (-height * normal).tolist())
        same = _same_planes(topology, body, wound)
        if abs(abs(volume_properties(straight).amount) - solid.volume_mm3) > 1e-6 * solid.volume_mm3:
            cut = combined(work, work.snapshot, body, "subtract", [straight], self.face, "face")
            return combined(work, cut, cut.body(body.id), "unite", [wound], self.face, "angle", same)
        found = None if not work.mode.checks else fault(wound)
        if found:
            raise CannotDo(f"{found}", self.face, field="angle")
        ids = carry_ids([], same, lambda shape: [shape], ShapeIndex(wound))
        return reshape_body(work.snapshot, work.geometry, body, Solid(wound), ids)

    def _origin(self, work: Work, body: Body, normal: Floats, middle: Sequence[float]) -> Sequence[float]:
        """A point of the axis in the body's own coordinates."""
        if not self.axis:
            return middle
        found = picked_axis(work, self.axis[0])
        inside = self.face[0].matrix.inverse
        if found.direction is None or abs(
            float(vector(inside.direction(found.direction.tolist())) @ normal)
        ) < 1 - 1e-9:  # fmt: skip
            raise EditError("the axis does not stand square on the end face", self.axis, field="axis")
        return inside.point(found.point.tolist())


def _depth(topology: SolidTopology, face: int, normal: Floats) -> float:
    """How far all walls of an end face go down from it, mm."""
    level = float(np.array(topology.middle(face)[0]) @ normal)
    slide = Rigid.slide(normal)
    depths = []
    for wall in topology.neighbours(face):
        if not topology.surface(wall).keeps(slide) and not _straight(topology, wall, normal):
            raise LocalFailure("a wall does not stand square on the end face", [wall])
        points = np.concatenate([topology.samples(e, 9) for e in topology.edges_of(wall)])
        depths.append(level - float((points @ normal).min()))
    if not depths or max(depths) - min(depths) > 1e-6:
        raise LocalFailure("its walls do not go down equally far", topology.neighbours(face)[:1] or [face])
    return depths[0]


def _straight(topology: SolidTopology, wall: int, normal: Floats) -> bool:
    """Whether a freeform wall runs along the normal everywhere it is looked at."""
    points = np.concatenate([topology.samples(e, 9) for e in topology.edges_of(wall)])
    return bool(np.abs(topology.outward(wall, points) @ normal).max() < 1e-9)


def _same_planes(topology: SolidTopology, body: Body, wound: Shape) -> list[tuple[str, int, Shape]]:
    """The ends of the twisted prism that lie on planes of the body carry on the ids of those faces."""
    index = ShapeIndex(wound)
    there = SolidTopology(index)
    found = []
    for i in range(index.count("face")):
        if there.surface(i).kind != "plane":
            continue
        for old, number in enumerate(body.faces):
            if topology.surface(old).same(there.surface(i), topology.extent(old)) and topology.sign(old) * float(
                topology.surface(old).axial.z @ there.surface(i).axial.z
            ) * there.sign(i) > 0:  # fmt: skip
                found.append(("face", number, index.get("face", i)))
    return found
