"""Forms pressed out of a wall of a sheet: dimples, beads, collars round a hole, louvres, knock-outs.

A small set of our own.  Walls of dimples and beads lean by the slope; the sheet keeps its thickness measured square to
the wall it is pressed from.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

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
    """face: of the wall, on the side that it stands out of; kind: dimple, bead, collar, louvre or knock-out; size:
    diameter or width at its foot (of a collar that of its hole, of a louvre from its opening to its back), height:
    above the wall, length: of a bead or louvre over all, mm; turn: rad."""

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
        if self.kind == "knock-out":
            cuts = self._slots(self._spot(work), below.depth)
            snapshot = combined(work, work.snapshot, body, "subtract", cuts, self.face, "size")
            return Outcome(snapshot, change_facts(work, snapshot, {body.id}))
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
        if self.kind == "louvre":
            return self._louvre(spot, t, lean)
        if self.size - 2 * lean < LEAST * self.size:
            most = f"{(1 - LEAST) * self.size / 2 / math.tan(SLOPE):.4g} mm"
            raise EditError("a form that high has no top left", self.face, field="height", nearest=most)
        if self.kind == "bead" and self.length <= self.size:
            raise EditError("a bead is longer than wide", field="length", nearest=f"{2 * self.size:.4g} mm")
        down = spot.origin - t * out
        return self._mound(spot, spot.origin, lean), self._mound(spot, down, lean)

    def _louvre(self, spot: Spot, t: float, lean: float) -> tuple[Shape, Shape]:
        """Half a bead twice as wide, lanced open along its middle."""
        if self.height <= 1.2 * t:
            raise EditError("a louvre opens only above the thickness of its sheet", self.face, field="height",
                            nearest=f"{2 * t:.4g} mm")  # fmt: skip
        if self.size - lean < LEAST * self.size:
            most = f"{(1 - LEAST) * self.size / math.tan(SLOPE):.4g} mm"
            raise EditError("a form that high has no top left", self.face, field="height", nearest=most)
        if self.length <= 2 * self.size:
            raise EditError("a louvre is more than twice as long as deep", field="length",
                            nearest=f"{3 * self.size:.4g} mm")  # fmt: skip
        wide = replace(self, kind="bead", size=2 * self.size)
        out = -spot.inward
        halves = []
        for foot in (spot.origin, spot.origin - t * out):
            mound = wide._mound(spot, foot, lean)
            c, s = math.cos(self.turn), math.sin(self.turn)
            along, side = c * spot.across + s * spot.up, -s * spot.across + c * spot.up
            far = self.length
            corners = [
                foot + u * far * along - v * far * side - far * out for u, v in ((-1, 0), (1, 0), (1, 1), (-1, 1))
            ]
            cut = build.extrude(build.outline([_point(p) for p in corners]), _point(2 * far * out))
            halves.append(build.subtract(mound, cut))
        return halves[0], halves[1]

    def _slots(self, spot: Spot, t: float) -> list[Shape]:
        """A ring cut through but for two webs, which are as wide as the sheet is thick."""
        out, radius, kerf = -spot.inward, self.size / 2, min(max(0.3, t / 4), self.size / 8)
        web = 1.5 * t / radius
        if web > math.pi / 3:
            raise EditError(
                "the webs would take up most of the ring", self.face, field="size", nearest=f"{6 * t:.4g} mm"
            )
        found = []
        for first in (web / 2, math.pi + web / 2):
            last = first + math.pi - web
            half = (first + last) / 2

            def at(r: float, turn: float) -> tuple[float, float, float]:
                reach = math.cos(turn + self.turn) * spot.across + math.sin(turn + self.turn) * spot.up
                return _point(spot.origin + r * reach + t * out)

            ring = [at(radius, first), at(radius, last), at(radius - kerf, last), at(radius - kerf, first)]
            face = build.outline(ring, [at(radius, half), None, at(radius - kerf, half), None])
            found.append(build.extrude(face, _point(-3 * t * out)))
        return found

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
