"""What lies between two picked things: gap, angle, offset of planes, mismatch of axes."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..kernel.nearest import nearest
from ..kernel.shapes import Shape, placed
from ..rigid import vec_of
from ..tolerances import ONE_DIRECTION
from .query import Edge, Face, Vertex

Thing = Face | Edge | Vertex
ROUND = ("cylinder", "cone", "torus")


@dataclass(frozen=True)
class Between:
    """In model units and rad.  gap: the shortest way, from and to these places (model coordinates); angle: between
    directions, 0 to 90°, None without such; offset: of parallel planes or lines; apart, lean: of two axes; centres:
    from middle to middle of round or pointlike things."""

    gap: float
    places: tuple[tuple[float, float, float], tuple[float, float, float]]
    angle: float | None = None
    offset: float | None = None
    apart: float | None = None
    lean: float | None = None
    centres: float | None = None


def between(one: Thing, other: Thing) -> Between | None:
    """None where the kernel finds no shortest way."""
    unit = one.scope.unit
    found = nearest(_placed(one), _placed(other))
    if found is None:
        return None
    gap, p, q = found
    first, second = _direction(one), _direction(other)
    angle = offset = apart = lean = None
    if first is not None and second is not None:
        (a, plane), (b, flat) = first, second
        cosine = min(abs(float(a @ b)), 1.0)
        angle = math.atan2(float(np.linalg.norm(np.cross(a, b))), cosine)
        if plane != flat:
            angle = math.pi / 2 - angle
        if 1 - cosine < ONE_DIRECTION and plane and flat:
            offset = abs(float((_middle(other) - _middle(one)) @ a))
    near, far = _axis(one), _axis(other)
    if near and far:
        (m, a), (n, _) = near, far
        off = n - m
        if angle is not None and angle < math.radians(10):
            apart = float(np.linalg.norm(off - (off @ a) * a))
            lean = angle
    centres = [_centre(t) for t in (one, other)]
    across = None if centres[0] is None or centres[1] is None else math.dist(centres[0], centres[1])
    places = vec_of(np.asarray(p) / unit), vec_of(np.asarray(q) / unit)
    return Between(gap / unit, places, angle, offset, apart, lean, across)


def _placed(thing: Thing) -> Shape:
    return placed(thing.shape, thing.scope.matrix)


def _direction(thing: Thing) -> tuple[np.ndarray, bool] | None:
    """A unit direction, and whether it is the normal of something flat."""
    if isinstance(thing, Face):
        if thing.kind == "plane":
            return np.array(thing.normal), True
        return None if thing.axis is None or thing.kind == "sphere" else (np.array(thing.axis[1]), False)
    if isinstance(thing, Edge):
        direction = thing.facts.direction
        if direction is not None:
            return np.array(thing.scope.direction(direction)), False
        return None if thing.axis is None else (np.array(thing.axis[1]), True)
    return None


def _axis(thing: Thing) -> tuple[np.ndarray, np.ndarray] | None:
    """Of something round: the place on it nearest to the thing's middle, and its unit direction."""
    if isinstance(thing, Vertex) or thing.axis is None or thing.kind not in (*ROUND, "circle", "ellipse"):
        return None
    point, direction = (np.array(v) for v in thing.axis)
    return point + ((_middle(thing) - point) @ direction) * direction, direction


def _middle(thing: Thing) -> np.ndarray:
    return np.array(
        thing.centroid if isinstance(thing, Face) else thing.middle if isinstance(thing, Edge) else thing.point
    )


def _centre(thing: Thing) -> np.ndarray | None:
    if isinstance(thing, Vertex):
        return np.array(thing.point)
    if thing.axis is not None and thing.kind in ("circle", "ellipse", "sphere"):
        return np.array(thing.axis[0])
    axis = _axis(thing)
    return None if axis is None else axis[0]
