"""Forms fitted to places: planes, cylinders, cones, spheres and tori by the least squares of distances."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from ..kernel.carriers import Frame
from ..local.surfaces import Floats, Surface

Progress = Callable[[float, str], None]


def silent(fraction: float, words: str) -> None:
    return None


@dataclass(frozen=True)
class Recognised:
    """triangles: their numbers; off: root mean square distance of their corners, mm."""

    surface: Surface
    triangles: NDArray[np.int64]
    off: float


def frame_about(origin: Floats, axis: Floats) -> Frame:
    a, b, c = (float(v) for v in axis)  # plain numbers: fits call this thousands of times
    size = math.sqrt(a * a + b * b + c * c)
    a, b, c = a / size, b / size, c / size
    least = min(abs(a), abs(b), abs(c))
    u, v, w = (0.0, c, -b) if abs(a) == least else (-c, 0.0, a) if abs(b) == least else (b, -a, 0.0)
    size = math.sqrt(u * u + v * v + w * w)
    u, v, w = u / size, v / size, w / size
    y = np.array((b * w - c * v, c * u - a * w, a * v - b * u))
    return Frame(origin, np.array((u, v, w)), y, np.array((a, b, c)))


def refined(surface: Surface, places: Floats) -> Surface:
    """The same kind of form with the least squares of distances."""
    if surface.kind == "plane":
        middle = places.mean(axis=0)
        return Surface.plane(middle, np.linalg.svd(places - middle, full_matrices=False)[2][2])
    frame = surface.axial

    def made(x: Floats) -> Surface:
        if surface.kind == "sphere":
            return Surface("sphere", Frame(frame.origin + x[:3], frame.x, frame.y, frame.z), (abs(float(x[3])),))
        # the axis moves and leans in its own cross directions
        origin = frame.origin + x[0] * frame.x + x[1] * frame.y
        turned = frame_about(origin, frame.z + x[2] * frame.x + x[3] * frame.y)
        if surface.kind == "cylinder":
            return Surface("cylinder", turned, (abs(float(x[4])),))
        if surface.kind == "torus":
            lifted = Frame(turned.origin + x[6] * turned.z, turned.x, turned.y, turned.z)
            return Surface("torus", lifted, (abs(float(x[4])), abs(float(x[5]))), side=surface.side)
        return Surface("cone", turned, (abs(float(x[4])), float(x[5])))

    rest = {"sphere": [0.0, 0, 0], "torus": [0.0] * 4}.get(surface.kind, [0.0] * 4)
    start = np.array([*rest, *surface.numbers, *([0.0] if surface.kind == "torus" else [])])
    if len(places) < len(start):
        return surface
    found = least_squares(lambda x: made(x).distance(places)[0], start, method="lm", x_scale=_scales(start, places),
                          max_nfev=150, xtol=1e-12, ftol=1e-12, gtol=1e-12)  # fmt: skip
    return made(found.x)


def _scales(start: Floats, places: Floats) -> Floats:
    """About what a step in each number moves: lengths as they are, leans by the size of what is fitted."""
    size = max(float(np.ptp(places, axis=0).max()), 1e-9)
    scales = np.full(len(start), size)
    if len(start) > 4:
        scales[2:4] = 1.0
    if len(start) == 6:
        scales[5] = 1.0  # the half angle of a cone
    return scales
