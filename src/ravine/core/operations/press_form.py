"""Forms pressed out of a wall of a sheet: dimples, beads, collars round a hole.

A small set of our own.  Walls of dimples and beads lean by the slope; the sheet keeps its thickness measured square to
the wall it is pressed from.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..model.references import Reference
from ..sheet.outlines import Outlines
from ..sheet.pairing import nearest_below
from .booleans import combined
from .face_spot import Spot, spot_on, steps_to
from .facts import change_facts
from .work import Handle, Operation, Outcome, Work

SLOPE = math.radians(35)  # off the direction of pressing
LEAST = 0.4  # of the foot's width that has to be left on top


@dataclass(frozen=True, kw_only=True)
class PressForm(Operation):
    """face: of the wall, on the side that it stands out of; kind: dimple, bead or collar; size: diameter or width at
    its foot (of a collar that of its hole), height: above the wall, length: of a bead over all, mm; turn: rad."""

    face: tuple[Reference, ...]
    kind: str = "dimple"
    size: float = 16.0
    height: float = 3.0
    length: float = 50.0
    turn: float = 0.0
    across: float = 0.0
    up: float = 0.0

    def do(self, work: Work) -> Outcome:
        body, index = self.face[0].owner
        outlines = Outlines(work.geometry.solid(body.shape).topology)
        planes = [f for f in outlines.developable() if outlines.topology.surface(f).kind == "plane"]
        below = nearest_below(outlines, index, planes)
        if below is None:
            raise EditError("no other side lies behind this face, so it is no wall of a sheet", self.face, field="face")
        outer, inner = self._shapes(self._spot(work), below.depth)
        snapshot = combined(work, work.snapshot, body, "unite", [outer], self.face, "size")
        snapshot = combined(work, snapshot, snapshot.body(body.id), "subtract", [inner], self.face, "size")
        return Outcome(snapshot, change_facts(work, snapshot, {body.id}))

    def _spot(self, work: Work) -> Spot:
        return spot_on(work, self.face[0], self.across, self.up)

    def from_start(self, work: Work, place: tuple[float, float, float]) -> tuple[float, float]:
        return steps_to(work, self.face[0], spot_on(work, self.face[0], 0.0, 0.0), place)

    def handle(self, work: Work) -> Handle | None:
        spot, matrix = self._spot(work), self.face[0].matrix
        return Handle("height", matrix.point(spot.origin), matrix.direction(-spot.inward))

    def _shapes(self, spot: Spot, t: float) -> tuple[Shape, Shape]:
        """What is added over the wall, and what is taken from below."""
        out = -spot.inward
        if self.kind == "collar":
            ring = build.cylinder(
                self.size / 2 + t, self.height + t / 2, _point(spot.origin - t / 2 * out), _point(out)
            )
            bore = build.cylinder(self.size / 2, self.height + 2 * t, _point(spot.origin - 1.5 * t * out), _point(out))
            return ring, bore
        lean = self.height * math.tan(SLOPE)
        if self.size - 2 * lean < LEAST * self.size:
            most = f"{(1 - LEAST) * self.size / 2 / math.tan(SLOPE):.4g} mm"
            raise EditError("a form that high has no top left", self.face, field="height", nearest=most)
        if self.kind == "bead" and self.length <= self.size:
            raise EditError("a bead is longer than wide", field="length", nearest=f"{2 * self.size:.4g} mm")
        down = spot.origin - t * out
        return self._mound(spot, spot.origin, lean), self._mound(spot, down, lean)

    def _mound(self, spot: Spot, foot: Floats, lean: float) -> Shape:
        out, low = -spot.inward, self.size / 2
        if self.kind == "dimple":
            return build.cone(low, low - lean, self.height, _point(foot), _point(out))
        c, s = math.cos(self.turn), math.sin(self.turn)
        along, side = c * spot.across + s * spot.up, -s * spot.across + c * spot.up
        half = self.length / 2 - low
        rings = [self._ring(foot, along, side, half, low),
                 self._ring(foot + self.height * out, along, side, half, low - lean)]  # fmt: skip
        return build.loft(rings, ruled=True)

    @staticmethod
    def _ring(middle: Floats, along: Floats, side: Floats, half: float, r: float) -> Shape:
        corners = [middle + u * half * along + v * r * side for u, v in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        ends = [None, middle + (half + r) * along, None, middle - (half + r) * along]
        return build.outline([_point(p) for p in corners], [None if e is None else _point(e) for e in ends])


def _point(v: Floats) -> tuple[float, float, float]:
    x, y, z = np.asarray(v).tolist()
    return x, y, z
