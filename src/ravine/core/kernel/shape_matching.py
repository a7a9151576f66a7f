"""Faces that are the same in place and size: twins, and one face before and after."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.spatial import cKDTree

from .classify import face_middle, parameter_box
from .properties import area_properties, length_properties
from .queries import is_degenerate, normal_at, vertex_point
from .shapes import Shape, ShapeIndex, parts_of

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
        one, other = (np.diag(np.array(props[k].inertia)) for k in (a, b))
        if abs(areas[0] - areas[1]) < 1e-6 * max(areas) + 1e-9 and np.allclose(one, other, rtol=1e-5, atol=1e-6):
            found.add(b)
    return found


def facing(shape: Shape) -> dict[tuple[float, ...], tuple[int, int]]:
    """By the middle of each face's surface: its number, and to which side of a fixed direction it looks."""
    found = {}
    for number, face in enumerate(parts_of(shape, "face")):
        u0, u1, v0, v1 = parameter_box(face)
        place = face_middle(face)
        normal = normal_at(face, (u0 + u1) / 2, (v0 + v1) / 2)
        if normal is None:
            continue
        main = max(range(3), key=lambda k: abs(normal[k]))
        found[tuple(np.round(place, 2).tolist())] = (number, 1 if normal[main] > 0 else -1)
    return found


def _features(index: ShapeIndex, kind: str) -> np.ndarray:
    """Per part a row of lengths in mm that tell it from others: middle of mass and root of its size."""
    rows = []
    for part in index.all(kind):
        if kind == "vertex":
            rows.append((*vertex_point(part), 0.0))
        elif kind == "face":
            props = area_properties(part)
            rows.append((*props.centroid, abs(props.amount) ** 0.5))
        else:
            props = length_properties(part)
            rows.append((*props.centroid, 0.0 if is_degenerate(part) else props.amount))
    return np.array(rows).reshape(-1, 4)


def matched(old: ShapeIndex, new: ShapeIndex, within: float) -> dict[str, list[int | None]]:
    """For every face, edge and vertex of `new` the number of the one in `old` that lies there, has the same size and,
    for faces, looks the same way up to a turn-over; each old one at most once.  within: mm for place and size."""
    found: dict[str, list[int | None]] = {}
    for kind in ("face", "edge", "vertex"):
        here, there = _features(new, kind), _features(old, kind)
        row: list[int | None] = [None] * len(here)
        if len(here) and len(there):
            pairs = cKDTree(here).sparse_distance_matrix(cKDTree(there), within, output_type="coo_matrix").tocoo()
            taken: set[int] = set()
            for _, a, b in sorted(zip(pairs.data.tolist(), pairs.row.tolist(), pairs.col.tolist(), strict=True)):
                if row[a] is None and b not in taken:
                    row[a] = b
                    taken.add(b)
        found[kind] = row
    return found
