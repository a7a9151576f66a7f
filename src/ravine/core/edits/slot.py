"""Pull a round hole sideways into a slot; a round boss becomes an oblong one."""

from __future__ import annotations

import numpy as np

from ..kernel import build
from ..kernel.shapes import Shape, placed
from ..local.fabric import Fabric
from ..local.failure import LocalFailure
from ..local.features import Lifted, lift_out
from ..local.surfaces import Floats, Motion
from ..model.snapshot import Body, Snapshot
from .axes import ALONG, AXIS, direction_of, face_middle
from .base import Edit, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import combined, reach
from .gaps import Context, LengthGap, PickGap
from .shaping import faces_by_body, indices, into_body, refusal, triple


@edit
class Slot(Edit):
    name = "slot"
    title = "Pull into a slot"
    sentence = "Pull {faces} into a slot along {along} of {axis} over {distance}"
    past = "Pulled {faces} into a slot over {distance}"
    help = (
        "Draws the axis of a round hole sideways: between the old and the new place a slot opens, steps of the hole "
        "included.  A round boss becomes oblong.  The distance is from centre to centre."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 17
    drawing = "slot"

    faces: tuple[str, ...] = gap(PickGap("the holes", "Walls of round holes or bosses.", element="face",
                                         kinds=("cylinder",)))  # fmt: skip
    distance: float = gap(LengthGap("the distance", "From centre to centre; negative goes back.", nonzero=True))
    along: str = gap(ALONG)
    axis: tuple[str, ...] | None = gap(AXIS)

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and not pick.mesh and pick.face_kinds == {"cylinder"}

    @classmethod
    def suggest(cls, work: Work, picked: tuple[str, ...]) -> dict:
        """Along the first axis of the model that lies across the hole's own."""
        own = direction_of(work, "normal", None, picked[0])
        return {"faces": list(picked), "along": "x" if abs(own[0]) < 0.5 else "y"}

    def told(self, context: Context) -> str:
        along = self.word("axis" if self.axis else "along", context)
        return f"Pulled {self.word('faces', context)} into a slot along {along} over {self.word('distance', context)}"

    def handle(self, work: Work) -> Handle | None:
        direction = direction_of(work, self.along, self.axis, self.faces[0])
        return Handle("distance", triple(face_middle(work, self.faces[0])[0]), triple(direction))

    def apply(self, work: Work) -> Outcome:
        step = Motion.slide(self.distance * direction_of(work, self.along, self.axis, self.faces[0]))
        snapshot = work.snapshot
        by_body = faces_by_body(snapshot, self.faces)
        for number, chosen in by_body.items():
            for face in chosen:
                body = snapshot.body(number)
                if face in body.faces:
                    snapshot = self._pull(work, snapshot, body, face, into_body(snapshot, body, step).shift)
        return Outcome(snapshot, change_facts(work, snapshot, set(by_body)))

    def _pull(self, work: Work, snapshot: Snapshot, body: Body, face: int, step: Floats) -> Snapshot:
        solid = work.geometry.solid(body.shape)
        doing = f"Pulling {self.word('faces', work.context())} into a slot"
        faces = reach(solid, indices(body, [face]), "feature")
        try:
            feature = lift_out(solid.fabric, faces)
            tools = _swept(solid.fabric, faces, feature, step)
        except LocalFailure as failure:
            raise refusal(work, body, doing, failure, "faces") from None
        kind = "unite" if feature.matter else "subtract"
        return combined(work, snapshot, body, kind, tools, doing, self.faces, "distance")


def _swept(fabric: Fabric, faces: set[int], feature: Lifted, step: Floats) -> list[Shape]:
    """The feature at its new place, and for each of its round walls the block between the places."""
    length = float(np.linalg.norm(step))
    tools = [placed(feature.shape, [float(v) for v in Motion.slide(step).matrix.reshape(-1)])]
    for face in faces:
        surface = fabric.surface(face)
        if surface.kind == "plane":
            continue
        if surface.kind != "cylinder":
            raise LocalFailure("only round walls and flat steps can be drawn into a slot", [face])
        frame = surface.axial
        if abs(float(frame.z @ step)) > 1e-9 * length:
            raise LocalFailure("the way does not run across the axis; pick another direction", [face])
        points = np.concatenate([fabric.samples(e, 9) for e in fabric.edges_of(face)])
        heights = (points - frame.origin) @ frame.z
        x = step / length
        y = np.cross(frame.z, x)
        corner = frame.origin + heights.min() * frame.z - surface.radius * y
        block = build.box(length, 2 * surface.radius, float(np.ptp(heights)))
        tools.append(placed(block, np.column_stack([x, y, frame.z, corner]).reshape(-1).tolist()))
    return tools
