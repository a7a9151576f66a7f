"""Faces that are the same in place and size: twins, and one face before and after."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.spatial import cKDTree

from .classify import face_middle, parameter_box
from .properties import area_properties
from .queries import normal_at
from .shapes import Shape, parts_of

NEAR = 1e-4  # mm


def twins(faces: Sequence[Shape]) -> set[int]:
    """Numbers of the faces that lie on an earlier one: same area, same middle of mass and of parameters."""
    if len(faces) < 2:
        return set()
    props = [area_properties(f) for f in faces]
    places = np.array([p.centroid for p in props])
    found: set[int] = set()
    for a, b in sorted(cKDTree(places).query_pairs(NEAR)):
        areas = [abs(props[k].amount) for k in (a, b)]
        spread = [np.diag(np.array(props[k].inertia)) for k in (a, b)]
        if abs(areas[0] - areas[1]) < 1e-6 * max(areas) + 1e-9 and np.allclose(*spread, rtol=1e-5, atol=1e-6):
            found.add(b)
    return found


def facing(shape: Shape) -> dict[tuple[float, ...], int]:
    """By the middle of each face's surface, to which side of a fixed direction it looks."""
    found = {}
    for face in parts_of(shape, "face"):
        u0, u1, v0, v1 = parameter_box(face)
        place = face_middle(face)
        normal = normal_at(face, (u0 + u1) / 2, (v0 + v1) / 2)
        if normal is None:
            continue
        main = max(range(3), key=lambda k: abs(normal[k]))
        found[tuple(np.round(place, 2))] = 1 if normal[main] > 0 else -1
    return found
