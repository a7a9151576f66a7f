"""Pull areas of a sketch into solids."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.draft import drafted
from ..kernel.shapes import Shape
from ..model.references import Reference
from ..rigid import Rigid
from ..sketch.entities import Plane
from .new_material import profile_of, put, united
from .targets import distance_to
from .work import Handle, Operation, Outcome, Work

STEEPEST = math.radians(80)
FLATTEST = math.radians(0.01)


@dataclass(frozen=True, kw_only=True)
class Extrude(Operation):
    """Pulls closed areas square to their sketch."""

    areas: tuple[Reference, ...]
    distance: float | None = None
    until: tuple[Reference, ...] | None = None
    sides: str = "one"
    taper: float = 0.0
    way: str = "joining"

    def handle(self, work: Work) -> Handle | None:
        profile = profile_of(work, self.areas)
        plane = profile.sketch.plane
        return Handle("distance", plane.place(profile.areas[0].inside), plane.normal)

    def do(self, work: Work) -> Outcome:
        profile = profile_of(work, self.areas)
        distance = self._distance(work, profile.sketch.plane)
        if abs(self.taper) > STEEPEST:
            raise EditError("a taper goes up to 80°", nearest="80°", field="taper")
        if 0 < abs(self.taper) < FLATTEST:
            raise EditError("so small a taper makes no difference the kernel knows; 0.01° does", nearest="0.01°",
                            field="taper")  # fmt: skip
        normal = np.array(profile.sketch.plane.normal)
        work.progress(0.2, "pulling the areas")
        tools = [self._tool(face, normal, distance) for face in profile.faces]
        work.progress(0.5, "putting it to the rest")
        return put(work, united(tools), self.way, "Block")

    def _tool(self, face: Shape, normal: np.ndarray, distance: float) -> Shape:
        start = -distance / 2 if self.sides == "both" else 0.0
        if start:
            face = build.moved(face, Rigid.slide(start * normal))
        prism = build.extrude(face, (distance * normal).tolist())
        return drafted(prism, face, (normal * np.sign(distance)).tolist(), self.taper) if self.taper else prism

    def _distance(self, work: Work, plane: Plane) -> float:
        if self.until:
            found = distance_to(work, np.array(plane.origin), np.array(plane.normal), self.until[0])
            if abs(found) < 1e-6:
                raise EditError("the sketch already lies there", self.until, field="until")
            return found * (2 if self.sides == "both" else 1)
        if self.distance is None:
            raise EditError("the distance is still empty; give one, or pick what to extrude until", field="distance")
        return self.distance
