"""Holes that lie level on the bed given a roof that prints without support."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..model.records import PRINTS
from ..model.references import Reference
from ..printing.machines import machine_for
from ..units import format_angle
from .booleans import combined
from .facts import change_facts
from .work import Operation, Outcome, Work

LYING = math.sin(math.radians(30))
LEAST, MOST = math.radians(10), math.radians(80)  # steeper ones go out of the part, flatter ones do not print


@dataclass(frozen=True, kw_only=True)
class Teardrop(Operation):
    """holes: faces of cylindrical holes; angle: rad off upright that the roof leans, the machine's when left out; flat:
    mm over the round at which the roof's peak is cut level, to its peak when left out."""

    holes: tuple[Reference, ...]
    angle: float | None = None
    flat: float | None = None

    def do(self, work: Work) -> Outcome:
        if self.angle is not None and not LEAST <= self.angle <= MOST:
            low, high = format_angle(LEAST), format_angle(MOST)
            nearest = low if self.angle < LEAST else high
            raise EditError(f"a roof leans between {low} and {high}", field="angle", nearest=nearest)
        snapshot = work.snapshot
        bodies = {h.owner[0].id for h in self.holes}
        for number in bodies:
            body = snapshot.body(number)
            data = snapshot.kept(PRINTS).get(number)
            up = -np.array(data.down) if data else np.array([0.0, 0.0, 1.0])
            lean = self.angle or math.radians(machine_for(name=data.machine if data else "").overhang or 45.0)
            tools = [self._roof(work, h, up / np.linalg.norm(up), lean) for h in self.holes if h.owner[0].id == number]
            snapshot = combined(work, snapshot, body, "subtract", tools, self.holes, "holes")
        return Outcome(snapshot, change_facts(work, snapshot, bodies))

    def _roof(self, work: Work, hole: Reference, up: Floats, lean: float) -> Shape:
        body, face = hole.owner
        topology = work.geometry.solid(body.shape).topology
        surface = topology.surface(face)
        if surface.kind != "cylinder" or topology.sign(face) > 0:
            raise EditError(f"{hole} is no hole", [hole], field="holes")
        axis, origin, radius = np.array(surface.axial.z), np.array(surface.axial.origin), surface.radius
        if abs(float(axis @ up)) > LYING:
            raise EditError(f"{hole} stands upright, so it needs no roof", [hole], field="holes")
        rise = up - (up @ axis) * axis
        rise /= np.linalg.norm(rise)
        side = np.cross(axis, rise)
        points = np.concatenate([topology.samples(e) for e in topology.edges_of(face)])
        low, high = float(((points - origin) @ axis).min()), float(((points - origin) @ axis).max())
        # the roof touches the round where that leans as far as prints
        x, y = radius * math.cos(lean), radius * math.sin(lean)
        peak = radius / math.sin(lean)
        ring = [(-x, y), (0.0, 0.0), (x, y), (0.0, peak)]
        if self.flat is not None and radius + self.flat < peak:
            top = radius + self.flat
            half = (peak - top) * math.tan(lean)
            ring = [(-x, y), (0.0, 0.0), (x, y), (half, top), (-half, top)]
        foot = origin + low * axis
        corners = [(foot + u * side + v * rise).tolist() for u, v in ring]
        return build.extrude(build.outline(corners), ((high - low) * axis).tolist())
