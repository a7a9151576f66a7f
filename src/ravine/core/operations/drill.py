"""Drill holes to standard: clearance, tapped, counterbored, countersunk, or of any diameter."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.boolean import combine
from ..kernel.queries import edge_facts, vertex_point
from ..kernel.shapes import Shape
from ..kernel.volumes import volume_properties
from ..model.holes import SCREWS, Screw
from ..model.references import Reference
from ..model.snapshot import Body
from ..rigid import vec_of
from .booleans import combined
from .face_spot import Spot, spot_on, steps_to
from .facts import change_facts
from .work import Fact, Handle, Operation, Outcome, Work

TIP = math.radians(118) / 2  # half the angle of a twist drill's point
OVER = 1.0  # mm by which tools stand out of the face


@dataclass(frozen=True, kw_only=True)
class Drill(Operation):
    """Cuts a standard hole square to a flat face."""

    face: tuple[Reference, ...]
    kind: str = "clearance"
    screw: str = "M6"
    fit: str = "medium"
    diameter: float | None = None
    across: float = 0.0
    up: float = 0.0
    start: tuple[Reference, ...] | None = None
    depth: float | None = None

    def handle(self, work: Work) -> Handle | None:
        _, spot = self._spot(work)
        matrix = self.face[0].matrix
        start = spot.origin - self.across * spot.across - self.up * spot.up
        across, up = (matrix.direction(vec_of(way)) for way in (spot.across, spot.up))
        return Handle("across", matrix.point(start.tolist()), across, beside=(("up", up),))

    def from_start(self, work: Work, place: Sequence[float]) -> tuple[float, float]:
        """Across and up to a place (mm in the model), whole steps of about a hundredth of the body."""
        _, spot = self._spot(work)
        return steps_to(work, self.face[0], spot, place)

    def do(self, work: Work) -> Outcome:
        body, spot = self._spot(work)
        screw = SCREWS[self.screw]
        diameter = self._diameter(screw)
        tools = self._tools(work, body, spot, screw, diameter)
        solid = work.geometry.solid(body.shape)
        above = combine("common", solid.shape, [self._clearance(spot, diameter)], merge=False)[0]
        if volume_properties(above).amount > 1e-6:
            raise CannotDo("matter stands on the face at that place", self.face, field="across")
        after = combined(work, work.snapshot, body, "subtract", tools, self.face, "across")
        gone = solid.volume_mm3 - work.geometry.solid(after.body(body.id).shape).volume_mm3
        if gone < 1e-6:
            raise CannotDo("there is no matter at that place", self.face, field="across")
        facts = (Fact("diameter", "diameter", diameter, "length"), *change_facts(work, after, {body.id}))
        if self.kind == "tapped":
            facts += (Fact("thread", "thread", f"{screw.name} with a pitch of {screw.pitch:.4g} mm"),)
        return Outcome(after, facts)

    @staticmethod
    def _clearance(spot: Spot, diameter: float) -> Shape:
        """What has to be free above the face for a drill to come down."""
        start = spot.origin - OVER * spot.inward
        return build.cylinder(diameter / 2, OVER, start.tolist(), spot.inward.tolist())

    def _diameter(self, screw: Screw) -> float:
        if self.diameter is not None:
            return self.diameter
        if self.kind == "plain":
            raise EditError("a plain hole needs a diameter", field="diameter")
        if self.kind == "tapped":
            return screw.tap_drill
        return screw.clearance[("close", "medium", "free").index(self.fit)]

    def _tools(self, work: Work, body: Body, spot: Spot, screw: Screw, diameter: float) -> list[Shape]:
        outside = spot.origin - OVER * spot.inward
        far = work.geometry.solid(body.shape).rough_box.diagonal + 2 * OVER

        def pin(radius: float, length: float) -> Shape:
            return build.cylinder(radius, length + OVER, outside.tolist(), spot.inward.tolist())

        tools = [pin(diameter / 2, far if self.depth is None else self.depth)]
        if self.depth is not None:
            bottom = spot.origin + self.depth * spot.inward
            point = build.cone(diameter / 2, 0.0, diameter / 2 / math.tan(TIP), bottom.tolist(), spot.inward.tolist())
            tools.append(point)
        if self.kind == "counterbored":
            if screw.counterbore is None:
                raise EditError(f"no counterbore is standard for {screw.name}; from M3 up there is", field="screw",
                                nearest="M3")  # fmt: skip
            width, sunk = screw.counterbore
            if self.depth is not None and self.depth <= sunk:
                raise EditError("the hole ends within its counterbore; make it deeper", field="depth")
            tools.append(pin(width / 2, sunk))
        if self.kind == "countersunk":
            if screw.countersink is None:
                raise EditError(f"no countersink is standard for {screw.name}; up to M10 there is", field="screw",
                                nearest="M10")  # fmt: skip
            width, degrees = screw.countersink
            slope = math.tan(math.radians(degrees) / 2)
            wide = width / 2 + OVER * slope  # the cone stands out of the face, too
            tools.append(build.cone(wide, 0.0, wide / slope, outside.tolist(), spot.inward.tolist()))
        return tools

    def _spot(self, work: Work) -> tuple[Body, Spot]:
        start = None if self.start is None else self._start(work)
        return self.face[0].owner[0], spot_on(work, self.face[0], self.across, self.up, start)

    def _start(self, work: Work) -> Sequence[float]:
        """Model coordinates."""
        assert self.start is not None
        kind = self.start[0].kind
        body, index = self.start[0].owner
        matrix = self.start[0].matrix
        solid = work.geometry.solid(body.shape)
        if kind == "vertex":
            return matrix.point(vertex_point(solid.index.get("vertex", index)))
        facts = edge_facts(solid.index.get("edge", index))
        return matrix.point(facts.axis[0] if facts.axis else facts.middle)
