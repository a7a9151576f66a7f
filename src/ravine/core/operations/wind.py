"""Wind areas of a sketch around an axis along a helix: threads, springs, worms."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.boolean import single_solid
from ..kernel.shapes import Shape
from ..kernel.sweep import helix, wound
from ..local.surfaces import Floats
from ..model.profiles import face_of
from ..model.references import Reference
from ..rigid import Rigid
from ..sketch.entities import Plane
from ..sketch.regions import Region
from ..units import format_length
from .axes import axis_line
from .ladder import climbed
from .new_material import Profile, profile_of, put, united
from .work import Operation, Outcome, Work

STEEPEST = math.radians(45)
RUN_OUTS = (0.5, 0.8)  # turns by which a cut runs out of the matter: the second where the first is refused


@dataclass(frozen=True, kw_only=True)
class Wind(Operation):
    """Takes closed areas around an axis in their sketch's plane along a helix, from where they are drawn."""

    areas: tuple[Reference, ...]
    axis: tuple[Reference, ...]
    height: float
    pitch: float
    hand: str = "right"
    taper: float = 0.0
    way: str = "joining"

    def do(self, work: Work) -> Outcome:
        profile = profile_of(work, self.areas)
        if abs(self.taper) > STEEPEST:
            raise EditError("a taper goes up to 45°", nearest="45°", field="taper")
        if abs(self.height) / self.pitch > 200:
            turns = f"{abs(self.height) / self.pitch:.0f} turns"
            raise CannotDo(f"{turns} are too many; up to 200 fit", field="pitch",
                            nearest=format_length(abs(self.height) / 200, work.snapshot.units))  # fmt: skip
        point, axis = axis_line(work, self.axis[0])
        normal = np.array(profile.sketch.plane.normal)
        off = float((point - np.array(profile.sketch.plane.origin)) @ normal)
        if abs(float(axis @ normal)) > 1e-6 or abs(off) > 1e-6:
            raise CannotDo("the axis does not lie in the plane of the sketch", self.axis, field="axis")
        if self.height < 0:
            axis = -axis  # the kernel cuts with what climbs
        for area in profile.areas:
            self._check_turns(profile.sketch.plane, area.lines[0], axis, work)
        shares = RUN_OUTS if self.way == "cutting" else RUN_OUTS[:1]
        return climbed(work, "wind", [(f"run-out of {s:g} turns", partial(self._wound, work, profile, point, axis, s))
                                      for s in shares])  # fmt: skip

    def _wound(self, work: Work, profile: Profile, point: Floats, axis: Floats, share: float) -> Outcome:
        work.progress(0.1, "winding")
        plane = profile.sketch.plane
        tools = [self._tool(work, plane, a, point, axis, share * self.pitch) for a in profile.areas]
        work.progress(0.6, "putting it to the rest")
        return put(work, united(tools), self.way, "Winding")

    def _tool(self, work: Work, plane: Plane, area: Region, point: Floats, axis: Floats, run_out: float) -> Shape:
        start, height = np.array(plane.place(area.inside)), abs(self.height)
        face = face_of(plane, area)
        if self.way == "cutting" and not self.taper:
            skipped, height = self._needed(work, float(start @ axis), axis, run_out)
            shift = skipped * axis
            face = build.moved(face, Rigid.slide(shift))
            start = start + shift
        spine = helix(
            start.tolist(), point.tolist(), axis.tolist(), self.pitch, height, self.taper, self.hand == "right"
        )
        return single_solid(wound(face, spine, axis.tolist()))

    def _needed(self, work: Work, start: float, axis: Floats, reach: float) -> tuple[float, float]:
        """Whole turns to leave out at the start, and the height that is left, as far as there is matter: turns in the
        air cut nothing, and the kernel loses the cut over them."""
        ends: list[float] = []
        for place in work.snapshot.occurrences():
            if place.body.kind == "solid" and not place.body.locked:
                low, high = work.geometry.solid(place.body.shape).rough_box
                ends += [
                    float(np.array(place.matrix.point((x, y, z))) @ axis)
                    for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])
                ]  # fmt: skip
        if not ends:
            raise CannotDo("there is no matter in its way", field="way")
        skipped = max(0.0, math.floor((min(ends) - reach - start) / self.pitch)) * self.pitch
        height = min(abs(self.height), max(ends) + reach - start) - skipped
        if height <= 0:
            raise CannotDo("there is no matter in its way", field="way")
        return skipped, height

    def _check_turns(self, plane: Plane, outline: Floats, axis: Floats, work: Work) -> None:
        """An outline taller than the pitch would run into the next turn."""
        places = np.array([plane.place((x, y)) for x, y in outline.tolist()])
        tall = float(np.ptp(places @ axis))
        if abs(self.height) > self.pitch * 0.999 and tall > self.pitch - 1e-9:
            raise CannotDo(f"the area is {tall:.4g} mm tall, so its turns would run into one another",
                            field="pitch", nearest=format_length(tall * 1.01, work.snapshot.units))  # fmt: skip
