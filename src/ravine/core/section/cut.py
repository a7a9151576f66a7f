"""A model cut by a plane, as the view shows it."""

from __future__ import annotations

import json
import struct
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore
from ..model.snapshot import Snapshot, text_id
from ..rigid import Rigid
from ..sketch.entities import Plane
from .rings import CutRing, filled, rings_of, skin_of

MAGIC = b"RVC1"


@dataclass(frozen=True)
class CutPart:
    """A part where it stands, and its rings in the plane."""

    node: str
    name: str
    rings: list[CutRing]


@dataclass(frozen=True)
class Cut:
    plane: Plane
    parts: list[CutPart]

    def packed(self) -> bytes:
        """RVC1, uint32 length of a JSON header padded to four; then for each part float32 places (n × 2), uint32 face
        of the stretch from each place, uint32 corners of the triangles that fill it."""
        rows, blobs = [], []
        for part in self.parts:
            triangles = filled(part.rings)
            rows.append(
                {"node": part.node, "rings": [[len(r.places), int(r.closed)] for r in part.rings],
                 "triangles": len(triangles)}
            )  # fmt: skip
            blobs += [np.concatenate([r.places for r in part.rings]).astype("<f4").tobytes(),
                      np.concatenate([r.faces for r in part.rings]).astype("<u4").tobytes(),
                      triangles.astype("<u4").tobytes()]  # fmt: skip
        frame = [self.plane.origin, self.plane.x, self.plane.y, self.plane.normal]
        text = json.dumps({"plane": frame, "parts": rows}).encode()
        text += b" " * (-len(text) % 4)
        return b"".join([MAGIC, struct.pack("<I", len(text)), text, *blobs])


def section_plane(numbers: Sequence[float]) -> Plane:
    """Through a point along a normal: six numbers, mm.  The plane's x is level where that says anything, its origin is
    the point itself.  Raises EditError."""
    if len(numbers) != 6 or not np.isfinite(numbers).all():
        raise EditError("a section plane is given by six numbers: a point on it and the direction square to it")
    point, normal = np.array(numbers[:3], float), np.array(numbers[3:], float)
    size = float(np.linalg.norm(normal))
    if size < 1e-9 or np.abs(point).max() > 1e7:
        raise EditError("the direction square to the section has no length, or its point lies beyond 10 km")
    z = normal / size
    level = np.cross([0.0, 0.0, 1.0], z)
    x = level / np.linalg.norm(level) if np.linalg.norm(level) > 1e-9 else np.array([1.0, 0.0, 0.0])
    y = np.cross(z, x)
    return Plane(_triple(point), _triple(x), _triple(y))


def _triple(v: Floats) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def within(plane: Plane, matrix: Rigid) -> Plane:
    """The same plane in the coordinates of a body that stands at `matrix`."""
    back = matrix.inverse

    def turned(v: Sequence[float]) -> tuple[float, float, float]:
        return _triple(np.array(back.direction(v)))

    return Plane(_triple(np.array(back.point(plane.origin))), turned(plane.x), turned(plane.y))


def cut_of(snapshot: Snapshot, geometry: GeometryStore, plane: Plane, hidden: Collection[str] = ()) -> Cut:
    """hidden: text ids of places that are left out."""
    parts = []
    for found in snapshot.occurrences():
        node = text_id("node", found.node.id)
        if node in hidden:
            continue
        rings = rings_of(skin_of(geometry.get(found.body.shape)), within(plane, found.matrix))
        if found.body.kind == "surface":  # it has no inside
            rings = [r.opened() for r in rings]
        if rings:
            parts.append(CutPart(node, found.node.name, rings))
    return Cut(plane, parts)
