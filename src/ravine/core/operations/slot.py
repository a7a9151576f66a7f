"""Pull a round hole sideways into a slot; a round boss becomes an oblong one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kernel import build
from ..kernel.shapes import Shape, placed
from ..local.failure import LocalFailure
from ..local.features import Lifted, lift_out
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot
from ..rigid import Rigid, vec_of
from .axes import direction_of, face_middle
from .booleans import combined
from .facts import change_facts
from .planting import reach
from .reshaping import faces_by_body, indices, into_body, place_of, refusal
from .work import Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Slot(Operation):
    """Draws the axis of a round hole sideways."""

    faces: tuple[Reference, ...]
    distance: float
    along: str = "z"
    axis: tuple[Reference, ...] | None = None

    def handle(self, work: Work) -> Handle | None:
        direction = direction_of(work, self.along, self.axis, self.faces[0])
        return Handle("distance", vec_of(face_middle(work, self.faces[0])[0]), vec_of(direction))

    def do(self, work: Work) -> Outcome:
        step = Rigid.slide(self.distance * direction_of(work, self.along, self.axis, self.faces[0]))
        snapshot = work.snapshot
        by_body = faces_by_body(snapshot, self.faces)
        for number, chosen in by_body.items():
            for face in chosen:
                body = snapshot.body(number)
                if face in body.faces:
                    snapshot = self._pull(work, snapshot, body, face, into_body(place_of(self.faces, body), step).shift)
        return Outcome(snapshot, change_facts(work, snapshot, set(by_body)))

    def _pull(self, work: Work, snapshot: Snapshot, body: Body, face: int, step: Floats) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        faces = reach(solid, indices(body, [face]), "feature")
        try:
            feature = lift_out(solid.topology, faces)
            tools = _swept(solid.topology, faces, feature, step)
        except LocalFailure as failure:
            raise refusal(work, body, failure, "faces") from None
        kind = "unite" if feature.matter else "subtract"
        return combined(work, snapshot, body, kind, tools, self.faces, "distance")


def _swept(topology: SolidTopology, faces: set[int], feature: Lifted, step: Floats) -> list[Shape]:
    """The feature at its new place, and for each of its round walls the block between the places."""
    length = float(np.linalg.norm(step))
    tools = [placed(feature.shape, Rigid.slide(step))]
    for face in faces:
        surface = topology.surface(face)
        if surface.kind == "plane":
            continue
        if surface.kind != "cylinder":
            raise LocalFailure("only round walls and flat steps can be drawn into a slot", [face])
        frame = surface.axial
        if abs(float(frame.z @ step)) > 1e-9 * length:
            raise LocalFailure("the way does not run across the axis; pick another direction", [face])
        points = np.concatenate([topology.samples(e, 9) for e in topology.edges_of(face)])
        heights = (points - frame.origin) @ frame.z
        x = step / length
        y = np.cross(frame.z, x)
        corner = frame.origin + heights.min() * frame.z - surface.radius * y
        block = build.box(length, 2 * surface.radius, float(np.ptp(heights)))
        tools.append(placed(block, np.column_stack([x, y, frame.z, corner]).reshape(-1).tolist()))
    return tools
