"""Forms read off a mesh, rid of what rounding left: directions, places and sizes at the plain numbers they stand
beside, as long as the mesh itself cannot tell the difference."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kernel.carriers import Frame
from ..local.surfaces import Floats, Surface
from .forms import frame_about

STEP = 1e-3  # mm, of plain places and sizes
LEAN = 1e-3  # rad by which a direction may be turned at most


def tidied(surfaces: Sequence[Surface], level: float, size: float) -> list[Surface]:
    """level: mm that nobody could see; size: of the part, mm."""
    lean = min(LEAN, 30 * level / size)
    known: list[Floats] = [np.array(v, float) for v in np.eye(3)]
    return [_tidy(s, known, level, lean) for s in surfaces]


def _tidy(surface: Surface, known: list[Floats], level: float, lean: float) -> Surface:
    frame = surface.axial
    if surface.kind == "sphere":
        return Surface("sphere", _at(_plain(frame.origin, level), frame.z), _sizes(surface.numbers, level))
    z = _direction(frame.z, known, lean)
    origin = frame.origin
    if surface.kind == "plane":
        height = float(_plain(np.array([origin @ z]), level)[0])
        return Surface.plane(origin + (height - origin @ z) * z, z)
    if surface.kind == "cone":
        radius, angle = surface.numbers
        tip = origin - radius / np.tan(angle) * frame.z
        step = np.radians(0.01)
        whole = round(angle / step) * step
        angle = whole if abs(whole - angle) < lean else angle
        tip = _plain(tip, 3 * level)
        reach = radius / np.tan(angle)
        return Surface("cone", _at(tip + reach * z, z), (reach * float(np.tan(angle)), angle))
    along = float(origin @ z)
    if surface.kind == "torus":
        return Surface("torus", _at(_plain(origin, level), z), _sizes(surface.numbers, level), side=surface.side)
    foot = _plain(origin - along * z, level)  # square to the axis
    return Surface("cylinder", _at(foot - (foot @ z) * z + along * z, z), _sizes(surface.numbers, level))


def _at(origin: Floats, axis: Floats) -> Frame:
    return frame_about(origin, axis)


def _plain(values: Floats, level: float) -> Floats:
    near = np.round(values / STEP) * STEP
    return np.where(np.abs(near - values) < level, near, values)


def _sizes(numbers: Sequence[float], level: float) -> tuple[float, ...]:
    return tuple(float(v) for v in _plain(np.array(numbers), level))


def _direction(z: Floats, known: list[Floats], lean: float) -> Floats:
    """One seen before, or square to two seen before, where that is near."""
    for other in known:
        cosine = float(z @ other)
        if float(np.linalg.norm(z - np.sign(cosine) * other)) < lean:
            return np.sign(cosine) * other
    for other in known:
        if abs(z @ other) < lean:
            z = z - (z @ other) * other
            z = z / np.linalg.norm(z)
            break
    known.append(z)
    return z
