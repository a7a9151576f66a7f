"""The rotor of the propeller current meter: six twisted blades lofted on a hub with a nose."""

from __future__ import annotations

import math

from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape
from ravine.core.rigid import Rigid

HUB, LENGTH, TIP, BLADES = 13.0, 34.0, 52.0, 6


def _section(radius: float, chord: float, pitch: float, thickness: float) -> Shape:
    """A lens across the blade at one radius, turned by the pitch about the blade's axis (X)."""
    half = chord / 2

    def place(along: float, across: float) -> tuple[float, float, float]:
        c, s = math.cos(pitch), math.sin(pitch)
        return (radius, across * c - along * s, LENGTH / 2 + along * c + across * s)

    ends = [place(-half, 0), place(half, 0)]
    return build.outline(ends, [place(0, thickness / 2), place(0, -thickness / 2)])


def _blade() -> Shape:
    stations = [(HUB - 4, 24, 0.35, 4.2), (HUB + 12, 22, 0.62, 3.4), (TIP - 12, 18, 0.88, 2.6), (TIP, 12, 1.02, 2.0)]
    return build.loft([_section(r, c, math.radians(90) - p, t) for r, c, p, t in stations])


def rotor() -> Shape:
    body = build.cylinder(HUB, LENGTH + 9)
    body = build.fillet(body, 10, lambda e: e.kind == "circle" and e.middle[2] > LENGTH)
    blade = _blade()
    blades = [build.moved(blade, Rigid.about((0, 0, 0), (0, 0, 1), 2 * math.pi * i / BLADES)) for i in range(BLADES)]
    body = build.unite(body, *blades)
    return build.subtract(
        body,
        build.cylinder(4, LENGTH - 6, (0, 0, -1)),
        build.cylinder(8, 8, (0, 0, -1)),
    )
