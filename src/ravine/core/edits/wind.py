"""Wind areas of a sketch around an axis along a helix: threads, springs, worms."""

from __future__ import annotations

import math

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.boolean import single_solid
from ..kernel.shapes import Shape
from ..kernel.sweep import helix, wound
from ..local.surfaces import Floats
from ..model import placement
from ..model.profiles import face_of
from ..sketch.areas import Area
from ..sketch.entities import Plane
from ..units import format_length
from .base import Edit, Outcome, Work, edit, gap
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap
from .grown import WAY, profile_of, put, united
from .revolve import axis_line

STEEPEST = math.radians(45)
RUN_OUTS = (0.5, 0.8)  # turns by which a cut runs out of the matter: the second where the first is refused


@edit
class Wind(Edit):
    name = "wind"
    title = "Wind along a helix"
    sentence = "Wind {areas} about {axis} over {height} with a pitch of {pitch} , {hand}, tapered by {taper}, {way}"
    past = "Wound {areas} with a pitch of {pitch}"
    help = (
        "Takes closed areas around an axis in their sketch's plane along a helix, from where they are drawn: a thread, "
        "a spring, a worm.  A negative height winds the other way along the axis.  Where turns would run into one "
        "another the pitch has to be larger."
    )
    offered_for = "area"
    rank = 9
    drawing = "wind"

    areas: tuple[str, ...] = gap(PickGap("the areas", "Closed areas of one sketch.", element="area"))
    axis: tuple[str, ...] = gap(PickGap("the axis", "A line of the sketch, an edge or a round face.", element="curve",
                                        also=("edge", "face"), maximum=1, changes=False, empty="a line"))  # fmt: skip
    height: float = gap(LengthGap("the height", "Along the axis.", nonzero=True))
    pitch: float = gap(LengthGap("the pitch", "Climb of one turn.", minimum=1e-3))
    hand: str = gap(ChoiceGap("the hand", "Right-handed as most screws.", default="right",
                              options={"right": "right-handed", "left": "left-handed"}))  # fmt: skip
    taper: float = gap(AngleGap("the taper", "By how much the helix widens as it climbs.", default=0.0))
    way: str = gap(WAY)

    def told(self, context: Context) -> str:
        words = f"Wound {self.word('areas', context)} over {self.word('height', context)} with a pitch of "
        words += self.word("pitch", context) + (", left-handed" if self.hand == "left" else "")
        return words + {"joining": "", "apart": " as a part of its own", "cutting": ", cutting it out"}[self.way]

    def apply(self, work: Work) -> Outcome:
        profile = profile_of(work, self.areas)
        doing = f"Winding {self.word('areas', work.context())} over {format_length(self.height, work.snapshot.units)}"
        if abs(self.taper) > STEEPEST:
            raise EditError("a taper goes up to 45°", nearest="45°", field="taper")
        if abs(self.height) / self.pitch > 200:
            turns = f"{abs(self.height) / self.pitch:.0f} turns"
            raise EditError(f"{doing}: {turns} are too many; up to 200 fit", field="pitch",
                            nearest=format_length(abs(self.height) / 200, work.snapshot.units))  # fmt: skip
        point, axis = axis_line(work, self.axis[0])
        normal = np.array(profile.sketch.plane.normal)
        off = float((point - np.array(profile.sketch.plane.origin)) @ normal)
        if abs(float(axis @ normal)) > 1e-6 or abs(off) > 1e-6:
            raise EditError(f"{doing}: the axis does not lie in the plane of the sketch", self.axis, field="axis")
        if self.height < 0:
            axis = -axis  # the kernel cuts with what climbs
        for area in profile.areas:
            self._check_turns(profile.sketch.plane, area.lines[0], axis, doing, work)
        refused: EditError | None = None
        for share in RUN_OUTS if self.way == "cutting" else RUN_OUTS[:1]:
            work.progress(0.1, "winding")
            tools = [
                self._tool(work, profile.sketch.plane, a, point, axis, share * self.pitch, doing) for a in profile.areas
            ]
            work.progress(0.6, "putting it to the rest")
            try:
                return put(work, united(tools, doing), self.way, doing, "Winding")
            except EditError as error:
                refused = refused or error
        assert refused is not None
        raise refused

    def _tool(
        self, work: Work, plane: Plane, area: Area, point: Floats, axis: Floats, run_out: float, doing: str
    ) -> Shape:
        start, height = np.array(plane.place(area.inside)), abs(self.height)
        face = face_of(plane, area)
        if self.way == "cutting" and not self.taper:
            skipped, height = self._needed(work, float(start @ axis), axis, run_out, doing)
            shift = skipped * axis
            x, y, z = shift.tolist()
            face = build.moved(face, [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z])
            start = start + shift
        spine = helix(
            start.tolist(), point.tolist(), axis.tolist(), self.pitch, height, self.taper, self.hand == "right"
        )
        return single_solid(wound(face, spine, axis.tolist(), doing))

    def _needed(self, work: Work, start: float, axis: Floats, reach: float, doing: str) -> tuple[float, float]:
        """Whole turns to leave out at the start, and the height that is left, as far as there is matter: turns in the
        air cut nothing, and the kernel loses the cut over them."""
        ends: list[float] = []
        for place in work.snapshot.occurrences():
            if place.body.kind == "solid" and not place.body.locked:
                low, high = work.geometry.solid(place.body.shape).rough_box
                ends += [
                    float(np.array(placement.point(place.matrix, (x, y, z))) @ axis)
                    for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])
                ]  # fmt: skip
        if not ends:
            raise EditError(f"{doing}: there is no matter in its way", field="way")
        skipped = max(0.0, math.floor((min(ends) - reach - start) / self.pitch)) * self.pitch
        height = min(abs(self.height), max(ends) + reach - start) - skipped
        if height <= 0:
            raise EditError(f"{doing}: there is no matter in its way", field="way")
        return skipped, height

    def _check_turns(self, plane: Plane, outline: Floats, axis: Floats, doing: str, work: Work) -> None:
        """An outline taller than the pitch would run into the next turn."""
        places = np.array([plane.place((x, y)) for x, y in outline.tolist()])
        tall = float(np.ptp(places @ axis))
        if abs(self.height) > self.pitch * 0.999 and tall > self.pitch - 1e-9:
            raise EditError(f"{doing}: the area is {tall:.4g} mm tall, so its turns would run into one another",
                            field="pitch", nearest=format_length(tall * 1.01, work.snapshot.units))  # fmt: skip
