"""The face of a sheet laid flat.

Planes, cylinders and cones are developable.  A bent face is laid flat at the neutral surface, which lies in the sheet
at a share K of the thickness from the inner side (DIN 6935; the length of the bend is angle times (r + K t)); seen from
outside the sheet, with the outward normal to the eye, places keep their sense of turning.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from ..local.topology import SolidTopology

DEVELOPABLE = ("plane", "cylinder", "cone")


@dataclass(frozen=True, eq=False)
class Development:
    """kind: plane, cylinder or cone.  x, y, z: right-handed frame, of a cone with z from the apex into it; radius: of
    the cylinder; slope: half angle of the cone, rad; inner: the outward normal looks at the axis, as on the inner side
    of a bend; shift: mm from the face to the neutral surface, away from the axis; middle: angle of the face's middle,
    rad; span: how far round it goes, rad."""

    kind: str
    origin: Floats
    x: Floats
    y: Floats
    z: Floats
    radius: float = 0.0
    slope: float = 0.0
    inner: bool = False
    shift: float = 0.0
    middle: float = 0.0
    span: float = 0.0

    def flat(self, points: Floats) -> Floats:
        """Places (n, 2) of points (n, 3) on the face; without jumps along the row."""
        w = points - self.origin
        a, b, h = w @ self.x, w @ self.y, w @ self.z
        if self.kind == "plane":
            return np.column_stack([a, b])
        turn = np.unwrap(np.arctan2(b, a))
        turn += 2 * np.pi * np.round((self.middle - turn[len(turn) // 2]) / (2 * np.pi))
        sense = -1.0 if self.inner else 1.0
        if self.kind == "cylinder":
            return np.column_stack([sense * (self.radius + self.shift) * (turn - self.middle), h])
        along = np.hypot(a, b) / np.sin(self.slope) + self.shift / np.tan(self.slope)
        wide = -sense * np.sin(self.slope) * (turn - self.middle)
        return np.column_stack([along * np.cos(wide), along * np.sin(wide)])

    def folded(self, places: Floats) -> Floats:
        """The way back: points (n, 3) on the face."""
        if self.kind == "plane":
            return self.origin + places[:, :1] * self.x + places[:, 1:] * self.y
        sense = -1.0 if self.inner else 1.0
        if self.kind == "cylinder":
            turn = self.middle + sense * places[:, 0] / (self.radius + self.shift)
            out, height = np.full(len(places), self.radius), places[:, 1]
        else:
            along = np.hypot(*places.T) - self.shift / np.tan(self.slope)
            turn = self.middle - sense * np.arctan2(places[:, 1], places[:, 0]) / np.sin(self.slope)
            out, height = along * np.sin(self.slope), along * np.cos(self.slope)
        around = np.cos(turn)[:, None] * self.x + np.sin(turn)[:, None] * self.y
        return self.origin + out[:, None] * around + height[:, None] * self.z


def development(topology: SolidTopology, face: int, depth: float, k_factor: float) -> Development:
    """depth: thickness of the sheet below the face, mm.  Raises ValueError for a face that is not developable."""
    surface = topology.surface(face)
    if surface.kind not in DEVELOPABLE:
        raise ValueError(surface.kind)
    frame = surface.axial
    out = topology.sign(face)
    if surface.kind == "plane":
        z = out * frame.z
        return Development("plane", frame.origin, frame.x, np.cross(z, frame.x), z)
    inner = out < 0
    shift = k_factor * depth if inner else -(1 - k_factor) * depth
    z, origin, slope, radius = frame.z, frame.origin, 0.0, surface.numbers[0]
    if surface.kind == "cone":
        slope = surface.numbers[1]
        origin = origin - radius / np.tan(slope) * z
        if slope * surface.side < 0:
            z, slope = -z, -slope
        slope = abs(slope)
    y = np.cross(z, frame.x)
    u0, u1, _, _ = topology.bounds(face)
    # the kernel counts its parameter in its own frame, which may be left-handed or look at the far nappe
    spot = surface.points(np.array([[(u0 + u1) / 2, _along(topology, face)]]))[0] - origin
    middle = float(np.arctan2(spot @ y, spot @ frame.x))
    return Development(
        surface.kind, origin, frame.x, y, z, radius, slope, inner, shift, middle, abs(u1 - u0)
    )  # fmt: skip


def _along(topology: SolidTopology, face: int) -> float:
    _, _, v0, v1 = topology.bounds(face)
    return (v0 + v1) / 2
