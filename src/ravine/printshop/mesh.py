"""The service's own look at a mesh, whatever the sender says of it."""

from __future__ import annotations

import struct
from dataclasses import dataclass

import numpy as np

HEAD = 84
RECORD = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("rest", "<u2")])
MOST_TRIANGLES = 2_000_000


@dataclass(frozen=True)
class Looked:
    """size: mm; volume: mm³; problems: in words, empty where it can be printed."""

    size: tuple[float, float, float]
    volume: float
    triangles: int
    problems: tuple[str, ...]


def look_at(data: bytes) -> Looked:
    """Binary STL in mm."""
    if len(data) < HEAD or len(data) != HEAD + 50 * struct.unpack("<I", data[80:HEAD])[0]:
        return Looked((0, 0, 0), 0.0, 0, ("the file is no binary STL",))
    corners = np.frombuffer(data, RECORD, offset=HEAD)["corners"].astype(float)
    if not 4 <= len(corners) <= MOST_TRIANGLES:
        return Looked((0, 0, 0), 0.0, len(corners), (f"a mesh has 4 to {MOST_TRIANGLES:,} triangles",))
    size = np.ptp(corners.reshape(-1, 3), axis=0)
    volume = float(np.einsum("ij,ij->", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6)
    keys = np.round(corners.reshape(-1, 3) / 1e-4).astype(np.int64)
    _, number = np.unique(keys, axis=0, return_inverse=True)
    ring = number.reshape(-1, 3)[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    ring = ring[ring[:, 0] != ring[:, 1]]
    count = int(number.max()) + 1
    ways = np.sort(ring[:, 0] * count + ring[:, 1])
    back = np.sort(ring[:, 1] * count + ring[:, 0])
    problems = [] if np.array_equal(ways, back) else ["the mesh is not closed"]
    if volume <= 0:
        problems.append("the mesh is inside out or empty")
    x, y, z = size.tolist()
    return Looked((x, y, z), volume, len(corners), tuple(problems))
