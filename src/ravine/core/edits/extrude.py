"""Pull areas of a sketch into solids."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.draft import drafted
from ..kernel.shapes import Shape
from ..units import format_length
from .base import Edit, Handle, Outcome, Work, edit, gap
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap
from .grown import WAY, profile_of, put, united
from .targets import distance_to

STEEPEST = math.radians(80)
FLATTEST = math.radians(0.01)


@edit
class Extrude(Edit):
    name = "extrude"
    title = "Extrude"
    sentence = "Extrude {areas} by {distance} or until {until} , {sides}, tapered by {taper}, {way}"
    past = "Extruded {areas} by {distance}"
    help = (
        "Pulls closed areas square to their sketch: by a distance (negative goes below the sketch), or until a picked "
        "face, edge or corner; to one side or evenly to both.  With a taper the walls lean inwards as they go.  The "
        "matter joins what it touches, makes a part of its own, or is cut out."
    )
    offered_for = "area"
    rank = 7
    drawing = "extrude"

    areas: tuple[str, ...] = gap(PickGap("the areas", "Closed areas of one sketch.", element="area"))
    distance: float | None = gap(LengthGap("the distance", "Along the sketch's normal.", nonzero=True, default=None,
                                           instead="until"))  # fmt: skip
    until: tuple[str, ...] | None = gap(
        PickGap("until", "A flat face, edge or corner that ends it.", element="face", also=("edge", "vertex", "facet"),
                maximum=1, changes=False, default=None, empty="anything")
    )  # fmt: skip
    sides: str = gap(ChoiceGap("the sides", "One side, or half of it to each.", default="one",
                               options={"one": "to one side", "both": "half to each side"}))  # fmt: skip
    taper: float = gap(AngleGap("the taper", "Walls lean inwards by this much; negative outwards.", default=0.0))
    way: str = gap(WAY)

    def told(self, context: Context) -> str:
        words = f"Extruded {self.word('areas', context)} "
        words += f"until {self.word('until', context)}" if self.until else f"by {self.word('distance', context)}"
        if self.taper:
            words += f", tapered by {self.word('taper', context)}"
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def handle(self, work: Work) -> Handle | None:
        profile = profile_of(work, self.areas)
        plane = profile.sketch.plane
        return Handle("distance", plane.place(profile.areas[0].inside), plane.normal)

    def apply(self, work: Work) -> Outcome:
        profile = profile_of(work, self.areas)
        distance = self._distance(work, profile.sketch.plane)
        doing = f"Extruding {self.word('areas', work.context())} by {format_length(distance, work.snapshot.units)}"
        if abs(self.taper) > STEEPEST:
            raise EditError("a taper goes up to 80°", nearest="80°", field="taper")
        if 0 < abs(self.taper) < FLATTEST:
            raise EditError("so small a taper makes no difference the kernel knows; 0.01° does", nearest="0.01°",
                            field="taper")  # fmt: skip
        normal = np.array(profile.sketch.plane.normal)
        work.progress(0.2, "pulling the areas")
        tools = [self._tool(face, normal, distance, doing) for face in profile.faces]
        work.progress(0.5, "putting it to the rest")
        return put(work, united(tools, doing), self.way, doing, "Block")

    def _tool(self, face: Shape, normal: np.ndarray, distance: float, doing: str) -> Shape:
        start = -distance / 2 if self.sides == "both" else 0.0
        if start:
            x, y, z = (start * normal).tolist()
            face = build.moved(face, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z])
        prism = build.extrude(face, (distance * normal).tolist())
        return drafted(prism, face, (normal * np.sign(distance)).tolist(), self.taper, doing) if self.taper else prism

    def _distance(self, work: Work, plane: object) -> float:
        if self.until:
            found = distance_to(work, np.array(plane.origin), np.array(plane.normal), self.until[0])  # type: ignore[attr-defined]
            if abs(found) < 1e-6:
                raise EditError("the sketch already lies there", self.until, field="until")
            return found * (2 if self.sides == "both" else 1)
        if self.distance is None:
            raise EditError("the distance is still empty; give one, or pick what to extrude until", field="distance")
        return self.distance
