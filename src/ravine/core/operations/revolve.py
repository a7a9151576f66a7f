"""Turn areas of a sketch about an axis into solids."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..local.surfaces import Floats
from ..model.references import Reference
from ..sketch.entities import Sketch
from .axes import axis_line
from .new_material import profile_of, put, united
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Revolve(Operation):
    """Turns closed areas about a line of the sketch, an edge or the axis of a round face."""

    areas: tuple[Reference, ...]
    axis: tuple[Reference, ...]
    angle: float = 6.283185307179586
    way: str = "joining"

    def do(self, work: Work) -> Outcome:
        if not 1e-6 < abs(self.angle) < 2 * math.pi + 1e-9:
            raise EditError("the angle lies above zero and goes up to 360°", nearest="360°", field="angle")
        profile = profile_of(work, self.areas)
        point, way = axis_line(work, self.axis[0])
        self._check(profile.sketch, [loop for a in profile.areas for loop in a.lines], point, way)
        work.progress(0.2, "turning the areas")
        tools = [build.revolve(f, point.tolist(), way.tolist(), self.angle) for f in profile.faces]
        work.progress(0.5, "putting it to the rest")
        return put(work, united(tools), self.way, "Turned part")

    def _check(self, sketch: Sketch, loops: list[Floats], point: Floats, way: Floats) -> None:
        normal = np.array(sketch.plane.normal)
        if abs(float(way @ normal)) > 1e-6 or abs(float((point - np.array(sketch.plane.origin)) @ normal)) > 1e-6:
            raise CannotDo("the axis does not lie in the plane of the sketch", self.axis, field="axis")
        start = np.array(sketch.plane.flat(point.tolist()))
        along = np.array(sketch.plane.flat((point + way).tolist())) - start
        places = np.concatenate(loops) - start
        off = along[0] * places[:, 1] - along[1] * places[:, 0]
        if off.min() < -1e-6 and off.max() > 1e-6:
            raise CannotDo("the axis runs through the area, so the solid would cross itself", self.axis,
                            field="axis")  # fmt: skip
