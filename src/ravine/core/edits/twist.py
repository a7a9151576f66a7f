"""Twist a prism by turning its end face: its walls wind from the foot to the turned end."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.queries import face_facts
from ..kernel.shapes import Shape, ShapeIndex
from ..kernel.twist import twisted
from ..kernel.volumes import volume_properties
from ..local.fabric import Fabric
from ..local.failure import LocalFailure
from ..local.surfaces import Floats, Motion
from ..model import placement
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, split_id
from .axes import picked_axis
from .base import Edit, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import combined
from .gaps import AngleGap, PickGap
from .shaping import matrix_of, refusal, triple, vector

MOST = math.radians(3600)


@edit
class Twist(Edit):
    name = "twist"
    title = "Twist"
    sentence = "Twist {face} by {angle} about {axis}"
    past = "Twisted {face} by {angle}"
    help = (
        "Turns the end face of a prism, a boss or a whole bar, while its foot stays: the walls between wind evenly. "
        "The section and so the volume stay the same."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 22
    drawing = "twist"

    face: tuple[str, ...] = gap(
        PickGap("the end face", "A flat face with walls square to it.", element="face", maximum=1, kinds=("plane",))
    )
    angle: float = gap(AngleGap("the angle", "By which the end turns, right-handed seen against its normal."))
    axis: tuple[str, ...] | None = gap(
        PickGap("the axis", "An edge or round face square to the end face.", element="edge", also=("face",), maximum=1,
                changes=False, default=None, empty="its own middle")
    )  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and pick.face_kinds == {"plane"}

    def handle(self, work: Work) -> Handle | None:
        body, index = work.snapshot.owner_of("face", split_id(self.face[0])[1])
        facts = face_facts(work.geometry.solid(body.shape).index.get("face", index))
        matrix = matrix_of(work.snapshot, body)
        point, normal = placement.point(matrix, facts.centroid), placement.direction(matrix, facts.normal)
        arm = np.cross(vector(normal), np.eye(3)[int(np.abs(vector(normal)).argmin())])
        size = math.sqrt(facts.area) / 2
        return Handle("angle", point, normal, arm=triple(size * arm / np.linalg.norm(arm)))

    def apply(self, work: Work) -> Outcome:
        if abs(self.angle) < 1e-9:
            raise EditError("the angle is zero, so nothing would change", field="angle")
        if abs(self.angle) > MOST:
            raise EditError("more than ten turns wind too tightly", field="angle", nearest="3600°")
        body, index = work.snapshot.owner_of("face", split_id(self.face[0])[1])
        after = self._twisted(work, body, index)
        return Outcome(after, change_facts(work, after, {body.id}))

    def _twisted(self, work: Work, body: Body, index: int) -> Snapshot:
        doing = f"Twisting {self.word('face', work.context())}"
        solid = work.geometry.solid(body.shape)
        fabric, top = solid.fabric, solid.index.get("face", index)
        facts = face_facts(top)
        normal = vector(facts.normal)
        try:
            height = _depth(fabric, index, normal)
        except LocalFailure as failure:
            raise refusal(work, body, doing, failure, "face") from None
        foot = build.moved(top, [float(v) for v in Motion.slide(-height * normal).matrix.reshape(-1)])
        origin = self._origin(work, body, normal, facts.centroid)
        wound = twisted(foot, (height * normal).tolist(), origin, self.angle)
        straight = build.extrude(top, (-height * normal).tolist())
        same = _same_planes(fabric, body, wound)
        if abs(abs(volume_properties(straight).amount) - solid.volume_mm3) > 1e-6 * solid.volume_mm3:
            cut = combined(work, work.snapshot, body, "subtract", [straight], doing, self.face, "face")
            return combined(work, cut, cut.body(body.id), "unite", [wound], doing, self.face, "angle", same)
        found = None if work.preview else fault(wound)
        if found:
            raise EditError(f"{doing}: {found}", self.face, field="angle")
        ids = carry_ids([], same, lambda shape: [shape], ShapeIndex(wound))
        return reshape_body(work.snapshot, work.geometry, body, Solid(wound), ids)

    def _origin(self, work: Work, body: Body, normal: Floats, middle: Sequence[float]) -> Sequence[float]:
        """A point of the axis in the body's own coordinates."""
        if not self.axis:
            return middle
        found = picked_axis(work, self.axis[0])
        inside = placement.inverse(matrix_of(work.snapshot, body))
        if found.direction is None or abs(
            float(vector(placement.direction(inside, found.direction.tolist())) @ normal)
        ) < 1 - 1e-9:  # fmt: skip
            raise EditError("the axis does not stand square on the end face", self.axis, field="axis")
        return placement.point(inside, found.point.tolist())


def _depth(fabric: Fabric, face: int, normal: Floats) -> float:
    """How far all walls of an end face go down from it, mm."""
    level = float(np.array(fabric.middle(face)[0]) @ normal)
    slide = Motion.slide(normal)
    depths = []
    for wall in fabric.neighbours(face):
        if not fabric.surface(wall).keeps(slide) and not _straight(fabric, wall, normal):
            raise LocalFailure("a wall does not stand square on the end face", [wall])
        points = np.concatenate([fabric.samples(e, 9) for e in fabric.edges_of(wall)])
        depths.append(level - float((points @ normal).min()))
    if not depths or max(depths) - min(depths) > 1e-6:
        raise LocalFailure("its walls do not go down equally far", fabric.neighbours(face)[:1] or [face])
    return depths[0]


def _straight(fabric: Fabric, wall: int, normal: Floats) -> bool:
    """Whether a freeform wall runs along the normal everywhere it is looked at."""
    points = np.concatenate([fabric.samples(e, 9) for e in fabric.edges_of(wall)])
    return bool(np.abs(fabric.outward(wall, points) @ normal).max() < 1e-9)


def _same_planes(fabric: Fabric, body: Body, wound: Shape) -> list[tuple[str, int, Shape]]:
    """The ends of the twisted prism that lie on planes of the body carry on the ids of those faces."""
    index = ShapeIndex(wound)
    there = Fabric(index)
    found = []
    for i in range(index.count("face")):
        if there.surface(i).kind != "plane":
            continue
        for old, number in enumerate(body.faces):
            if fabric.surface(old).same(there.surface(i), fabric.extent(old)) and fabric.sign(old) * float(
                fabric.surface(old).axial.z @ there.surface(i).axial.z
            ) * there.sign(i) > 0:  # fmt: skip
                found.append(("face", number, index.get("face", i)))
    return found
