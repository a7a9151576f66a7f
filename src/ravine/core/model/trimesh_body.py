"""A body that is only triangles, as an STL file brings it; they may be told apart into faces by their forms."""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass, replace
from functools import cached_property
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from ..box import Box
from ..errors import FormatError
from ..kernel.carriers import Frame
from ..local.surfaces import Surface


def _once(rows: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Equal rows once, and where each went.  Sorted by a hash of 64 bits, a tenth of the time that sorting the rows
    takes; should two different rows share a hash, by the rows themselves."""
    bits = rows.view(np.uint64)
    odd = np.array([0x9E3779B97F4A7C15, 0xC2B2AE3D27D4EB4F, 0x165667B19E3779F9], np.uint64)
    mixed = (bits ^ (bits >> np.uint64(29))) * odd
    _, first, inverse = np.unique(mixed[:, 0] ^ (mixed[:, 1] * np.uint64(3) + mixed[:, 2]),
                                  return_index=True, return_inverse=True)  # fmt: skip
    if np.array_equal(rows[first][inverse], rows):
        return rows[first], inverse
    return np.unique(rows, axis=0, return_inverse=True)


@dataclass(frozen=True)
class Form:
    """What a face of a mesh is about: an exact surface, None for a free form; off: root mean square distance of its
    corners from that, mm."""

    surface: Surface | None
    off: float = 0.0

    def to_json(self) -> list:
        s = self.surface
        if s is None:
            return []
        frame = [[float(v) for v in row] for row in (s.axial.origin, s.axial.x, s.axial.y, s.axial.z)]
        return [s.kind, frame, [float(n) for n in s.numbers], s.side, self.off]

    @classmethod
    def from_json(cls, row: list) -> Form:
        if not row:
            return cls(None)
        kind, frame, numbers, side, off = row
        return cls(Surface(kind, Frame(*map(np.array, frame)), tuple(numbers), side=side), off)


@dataclass(frozen=True, eq=False)
class TriangleMesh:
    """points (n, 3) float64 mm, each once; triangles (m, 3) int32, counter-clockwise seen from outside.

    forms: one for each face; labels: the number of its face for each triangle.  Without them all is one face.
    """

    points: NDArray[np.float64]
    triangles: NDArray[np.int32]
    labels: NDArray[np.int32] | None = None
    forms: tuple[Form, ...] = ()
    MAGIC: ClassVar[bytes] = b"RVTM"
    PLAIN: ClassVar[bytes] = b"RVTM0001"
    DIVIDED: ClassVar[bytes] = b"RVTM0002"

    @classmethod
    def from_soup(cls, corners: NDArray[np.float64]) -> TriangleMesh:
        """From loose triangles (m, 3, 3): equal corners become one point; triangles without area are dropped."""
        points, inverse = _once(np.ascontiguousarray(corners.reshape(-1, 3)) + 0.0)  # minus zero is zero
        triangles = inverse.reshape(-1, 3).astype(np.int32)
        a, b, c = triangles.T
        triangles = triangles[(a != b) & (b != c) & (c != a)]
        if not len(triangles):
            raise FormatError("the file holds no triangle with an area")
        return cls(np.ascontiguousarray(points), triangles)

    @classmethod
    def tidy(cls, points: NDArray[np.float64], triangles: NDArray) -> TriangleMesh:
        """Without the points that no triangle uses.  Raises FormatError where no triangle is left."""
        if not len(triangles):
            raise FormatError("no triangle is left")
        used, numbers = np.unique(triangles, return_inverse=True)
        return cls(np.ascontiguousarray(points[used]), numbers.reshape(-1, 3).astype(np.int32))

    def divided(self, labels: NDArray[np.int32], forms: tuple[Form, ...]) -> TriangleMesh:
        return replace(self, labels=labels.astype(np.int32), forms=forms)

    def to_bytes(self) -> bytes:
        head = self.PLAIN if self.labels is None else self.DIVIDED
        head += struct.pack("<QQ", len(self.points), len(self.triangles))
        parts = [head, self.points.astype("<f8").tobytes(), self.triangles.astype("<i4").tobytes()]
        if self.labels is not None:
            parts.append(self.labels.astype("<i4").tobytes())
            parts.append(json.dumps([f.to_json() for f in self.forms], separators=(",", ":")).encode())
        return b"".join(parts)

    @classmethod
    def from_bytes(cls, blob: bytes) -> TriangleMesh:
        points, triangles = struct.unpack_from("<QQ", blob, 8)
        at = 24 + 24 * points
        found = cls(
            np.frombuffer(blob, "<f8", 3 * points, 24).reshape(-1, 3),
            np.frombuffer(blob, "<i4", 3 * triangles, at).reshape(-1, 3),
        )
        if not blob.startswith(cls.DIVIDED):
            return found
        at += 12 * triangles
        labels = np.frombuffer(blob, "<i4", triangles, at)
        forms = json.loads(blob[at + 4 * triangles :])
        return replace(found, labels=labels, forms=tuple(Form.from_json(row) for row in forms))

    # --- its faces -------------------------------------------------------------------------------------------------

    @property
    def face_count(self) -> int:
        return max(len(self.forms), 1)

    @cached_property
    def triangles_of_faces(self) -> list[NDArray[np.int64]]:
        """Numbers of the triangles of each face, rising."""
        if self.labels is None:
            return [np.arange(len(self.triangles))]
        order = np.argsort(self.labels, kind="stable")
        ends = np.cumsum(np.bincount(self.labels, minlength=len(self.forms)))
        return np.split(order, ends[:-1])

    def surface(self, face: int) -> Surface | None:
        return self.forms[face].surface if self.forms else None

    def face_box(self, face: int) -> NDArray[np.float64]:
        """(6,): low and high corner."""
        corners = self.points[self.triangles[self.triangles_of_faces[face]]].reshape(-1, 3)
        return np.concatenate([corners.min(axis=0), corners.max(axis=0)])

    def face_area(self, face: int) -> float:
        corners = self.points[self.triangles[self.triangles_of_faces[face]]]
        cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        return float(np.linalg.norm(cross, axis=1).sum() / 2)

    def facet(self, face: int, number: int) -> NDArray[np.float64]:
        """Corners (3, 3) of a triangle by its place within its face.  Raises IndexError where it has fewer."""
        return self.points[self.triangles[self.triangles_of_faces[face][number]]]

    # --- measures --------------------------------------------------------------------------------------------------

    @cached_property
    def corners(self) -> NDArray[np.float64]:
        return self.points[self.triangles]

    @cached_property
    def volume_and_centroid(self) -> tuple[float, tuple[float, float, float]]:
        """By the divergence theorem over tetrahedra to a point near the mesh (keeps digits)."""
        origin = self.points.mean(axis=0)
        corners = self.corners - origin
        volumes = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6.0
        total = float(volumes.sum())
        if abs(total) < 1e-12:
            x, y, z = origin
            return 0.0, (float(x), float(y), float(z))
        x, y, z = (corners.sum(axis=1) / 4.0 * volumes[:, None]).sum(axis=0) / total + origin
        return total, (float(x), float(y), float(z))

    @cached_property
    def area(self) -> float:
        corners = self.corners
        cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        return float(np.linalg.norm(cross, axis=1).sum() / 2.0)

    @cached_property
    def is_closed(self) -> bool:
        """Every edge is used once in each direction."""
        t = self.triangles.astype(np.int64)
        start, end = t.reshape(-1), np.roll(t, -1, axis=1).reshape(-1)
        forward = np.sort(start * len(self.points) + end)
        if (forward[1:] == forward[:-1]).any():
            return False
        return bool(np.array_equal(forward, np.sort(end * len(self.points) + start)))

    @property
    def box(self) -> Box:
        return Box.around(self.points)

    @property
    def rough_box(self) -> Box:
        """As of solids, where the exact one takes longer."""
        return self.box
