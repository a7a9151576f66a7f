"""Turn areas of a sketch about an axis into solids."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..local.surfaces import Floats
from ..model.snapshot import split_id
from ..sketch.entities import Sketch
from ..units import format_angle
from .axes import picked_axis
from .base import Edit, Outcome, Work, edit, gap
from .gaps import AngleGap, Context, PickGap
from .grown import WAY, profile_of, put, united
from .shaping import vector


@edit
class Revolve(Edit):
    name = "revolve"
    title = "Revolve"
    sentence = "Revolve {areas} about {axis} by {angle} , {way}"
    past = "Revolved {areas} by {angle}"
    help = (
        "Turns closed areas about a line of the sketch, an edge or the axis of a round face.  The axis lies in the "
        "plane of the sketch and does not run through the areas."
    )
    offered_for = "area"
    rank = 8
    drawing = "revolve"

    areas: tuple[str, ...] = gap(PickGap("the areas", "Closed areas of one sketch.", element="area"))
    axis: tuple[str, ...] = gap(PickGap("the axis", "A line of the sketch, an edge or a round face.", element="curve",
                                        also=("edge", "face"), maximum=1, changes=False, empty="a line"))  # fmt: skip
    angle: float = gap(AngleGap("the angle", "A full turn is 360°.", default=2 * math.pi))
    way: str = gap(WAY)

    def told(self, context: Context) -> str:
        full = abs(abs(self.angle) - 2 * math.pi) < 1e-9
        words = f"Revolved {self.word('areas', context)}" + ("" if full else f" by {self.word('angle', context)}")
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def apply(self, work: Work) -> Outcome:
        if not 1e-6 < abs(self.angle) < 2 * math.pi + 1e-9:
            raise EditError("the angle lies above zero and goes up to 360°", nearest="360°", field="angle")
        profile = profile_of(work, self.areas)
        doing = f"Revolving {self.word('areas', work.context())} by {format_angle(self.angle)}"
        point, way = axis_line(work, self.axis[0])
        self._check(profile.sketch, [loop for a in profile.areas for loop in a.lines], point, way, doing)
        work.progress(0.2, "turning the areas")
        tools = [build.revolve(f, point.tolist(), way.tolist(), self.angle) for f in profile.faces]
        work.progress(0.5, "putting it to the rest")
        return put(work, united(tools, doing), self.way, doing, "Turned part")

    def _check(self, sketch: Sketch, loops: list[Floats], point: Floats, way: Floats, doing: str) -> None:
        normal = np.array(sketch.plane.normal)
        if abs(float(way @ normal)) > 1e-6 or abs(float((point - np.array(sketch.plane.origin)) @ normal)) > 1e-6:
            raise EditError(f"{doing}: the axis does not lie in the plane of the sketch", self.axis, field="axis")
        start = np.array(sketch.plane.flat(point.tolist()))
        along = np.array(sketch.plane.flat((point + way).tolist())) - start
        places = np.concatenate(loops) - start
        off = along[0] * places[:, 1] - along[1] * places[:, 0]
        if off.min() < -1e-6 and off.max() > 1e-6:
            raise EditError(f"{doing}: the axis runs through the area, so the solid would cross itself", self.axis,
                            field="axis")  # fmt: skip


def axis_line(work: Work, ident: str) -> tuple[Floats, Floats]:
    """Point and unit direction, model coordinates, of a line of a sketch, an edge or a round face."""
    kind, number = split_id(ident)
    if kind != "curve":
        found = picked_axis(work, ident)
        if found.direction is None:
            raise EditError("a corner gives no axis", [ident], field="axis")
        return found.point, found.direction
    sketch = work.snapshot.sketch_with("curve", number)
    curve = sketch.curve(number)
    if curve.kind != "line":
        raise EditError(f"an axis is a straight line; c{number} is a {curve.kind}", [ident], field="axis")
    a, b = (vector(sketch.plane.place(p)) for p in sketch.places(curve))
    return a, (b - a) / np.linalg.norm(b - a)
