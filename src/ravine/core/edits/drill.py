"""Drill holes to standard: clearance, tapped, counterbored, countersunk, or of any diameter."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.boolean import combine
from ..kernel.queries import edge_facts, face_facts, vertex_point
from ..kernel.shapes import Shape
from ..kernel.volumes import volume_properties
from ..local.surfaces import Floats
from ..model import placement
from ..model.holes import SCREWS, Screw
from ..model.snapshot import Body, split_id
from .base import Edit, Fact, Handle, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .features import combined
from .gaps import ChoiceGap, Context, LengthGap, PickGap
from .shaping import matrix_of, triple, vector

TIP = math.radians(118) / 2  # half the angle of a twist drill's point
OVER = 1.0  # mm by which tools stand out of the face


@dataclass(frozen=True)
class _Spot:
    """In the body's own coordinates: the place on the face, into the matter, and two directions along the face."""

    origin: Floats
    inward: Floats
    across: Floats
    up: Floats


@edit
class Drill(Edit):
    name = "drill"
    title = "Drill a hole"
    sentence = (
        "Drill a {kind} hole for {screw} in {fit} fit, diameter {diameter}, into {face} at {across} across and {up} up "
        "from {start}, depth {depth}"
    )
    past = "Drilled a {kind} hole into {face}"
    help = (
        "Cuts a standard hole square to a flat face: clearance by ISO 273, tapping drill, counterbore for socket "
        "screws, countersink, in metric and inch sizes.  Without a depth it goes through; a blind one ends in a "
        "drill point.  Start from the middle of the face, a corner, or the centre of a round edge."
    )
    offered_for = "face"
    stages = ("Shape",)
    rank = 24
    drawing = "drill"

    face: tuple[str, ...] = gap(PickGap("the face", "A flat face.", element="face", maximum=1, kinds=("plane",)))
    kind: str = gap(
        ChoiceGap("the kind", "What the hole is for.", default="clearance",
                  options={"clearance": "clearance", "tapped": "tapped", "counterbored": "counterbored",
                           "countersunk": "countersunk", "plain": "plain"})
    )  # fmt: skip
    screw: str = gap(ChoiceGap("the screw", "Size of its thread.", default="M6", options={s: s for s in SCREWS}))
    fit: str = gap(ChoiceGap("the fit", "How much room the screw has.", default="medium",
                             options={"close": "close", "medium": "medium", "free": "free"}))  # fmt: skip
    diameter: float | None = gap(
        LengthGap(
            "the diameter",
            "Of a plain hole, or instead of the standard one.",
            minimum=1e-2,
            default=None,
            blank="standard",
        )
    )
    across: float = gap(LengthGap("the place across", "Along the face; along X where that can be.", default=0.0))
    up: float = gap(LengthGap("the place up", "Along the face, square to across.", default=0.0))
    start: tuple[str, ...] | None = gap(
        PickGap("the start", "A corner, or an edge: the centre of a round one, the middle of a straight one.",
                element="vertex", also=("edge",), maximum=1, changes=False, default=None, empty="its middle")
    )  # fmt: skip
    depth: float | None = gap(
        LengthGap("the depth", "Of the full diameter; empty for through.", minimum=1e-2, default=None, blank="through")
    )

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return super().offers(pick) and pick.count == 1 and pick.face_kinds == {"plane"}

    def told(self, context: Context) -> str:
        if self.kind == "plain":
            size = f"plain hole of {self.word('diameter', context)}"
        else:
            size = f"{self.kind} hole for {self.screw}"
        ends = f"{self.word('depth', context)} deep" if self.depth is not None else "through"
        article = "an" if size[0] in "aeiou" else "a"
        return f"Drilled {article} {size} into {self.word('face', context)}, {ends}"

    def handle(self, work: Work) -> Handle | None:
        body, spot = self._spot(work)
        matrix = matrix_of(work.snapshot, body)
        start = spot.origin - self.across * spot.across
        return Handle(
            "across", placement.point(matrix, start.tolist()), placement.direction(matrix, triple(spot.across))
        )

    def apply(self, work: Work) -> Outcome:
        body, spot = self._spot(work)
        screw = SCREWS[self.screw]
        diameter = self._diameter(screw)
        tools = self._tools(work, body, spot, screw, diameter)
        doing = f"Drilling into {self.word('face', work.context())}"
        solid = work.geometry.solid(body.shape)
        above = combine("common", solid.shape, [self._clearance(spot, diameter)], merge=False)[0]
        if volume_properties(above).amount > 1e-6:
            raise EditError(f"{doing}: matter stands on the face at that place", self.face, field="across")
        after = combined(work, work.snapshot, body, "subtract", tools, doing, self.face, "across")
        gone = solid.volume_mm3 - work.geometry.solid(after.body(body.id).shape).volume_mm3
        if gone < 1e-6:
            raise EditError(f"{doing}: there is no matter at that place", self.face, field="across")
        facts = (Fact("diameter", "diameter", diameter, "length"), *change_facts(work, after, {body.id}))
        if self.kind == "tapped":
            facts += (Fact("thread", "thread", f"{screw.name} with a pitch of {screw.pitch:.4g} mm"),)
        return Outcome(after, facts)

    @staticmethod
    def _clearance(spot: _Spot, diameter: float) -> Shape:
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

    def _tools(self, work: Work, body: Body, spot: _Spot, screw: Screw, diameter: float) -> list[Shape]:
        outside = spot.origin - OVER * spot.inward
        low, high = work.geometry.solid(body.shape).rough_box
        far = math.dist(low, high) + 2 * OVER

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

    def _spot(self, work: Work) -> tuple[Body, _Spot]:
        body, index = work.snapshot.owner_of("face", split_id(self.face[0])[1])
        facts = face_facts(work.geometry.solid(body.shape).index.get("face", index))
        inside = placement.inverse(matrix_of(work.snapshot, body))
        normal = vector(facts.normal)
        wish = vector(placement.direction(inside, (1.0, 0.0, 0.0)))
        if abs(float(wish @ normal)) > 0.9:
            wish = vector(placement.direction(inside, (0.0, 1.0, 0.0)))
        across = wish - (wish @ normal) * normal
        across = across / np.linalg.norm(across)
        up = np.cross(normal, across)
        start = vector(facts.centroid)
        if self.start:
            start = vector(placement.point(inside, self._start(work)))
            start = start - ((start - vector(facts.centroid)) @ normal) * normal
        return body, _Spot(start + self.across * across + self.up * up, -normal, across, up)

    def _start(self, work: Work) -> Sequence[float]:
        """Model coordinates."""
        assert self.start is not None
        kind, number = split_id(self.start[0])
        body, index = work.snapshot.owner_of(kind, number)
        matrix = matrix_of(work.snapshot, body)
        solid = work.geometry.solid(body.shape)
        if kind == "vertex":
            return placement.point(matrix, vertex_point(solid.index.get("vertex", index)))
        facts = edge_facts(solid.index.get("edge", index))
        return placement.point(matrix, facts.axis[0] if facts.axis else facts.middle)
