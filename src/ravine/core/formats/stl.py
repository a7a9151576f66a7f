"""STL, binary and text: bare triangles without unit, name or colour."""

from __future__ import annotations

import os
import re
import struct

import numpy as np
from numpy.typing import NDArray

from ..errors import FormatError
from ..kernel.exchange import ReadNode
from ..model.trimesh_body import TriangleMesh
from ..rigid import IDENTITY
from ..units import LENGTHS
from .reading import Imported, Progress, ReadOptions, check_numbers

MOST_TRIANGLES = 20_000_000
_RECORD = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
_VERTEX = re.compile(rb"vertex\s+(\S+)\s+(\S+)\s+(\S+)", re.IGNORECASE)


def read(path: str, options: ReadOptions, progress: Progress) -> Imported:
    """One mesh body.  The format carries no unit, so `options.units` must be given.  Raises FormatError."""
    if options.units is None:
        raise FormatError("an STL file does not say its unit; choose mm, cm, m, in or ft", field="units", nearest="mm")
    progress(0.1, "reading triangles")
    corners = _corners(path)
    check_numbers(corners, "STL")
    progress(0.5, "joining equal corners")
    mesh = TriangleMesh.from_soup(corners.astype(np.float64) * LENGTHS[options.units])
    name = os.path.splitext(os.path.basename(path))[0]
    warnings = [] if mesh.is_closed else ["the mesh has open or doubled edges, so its volume is not certain"]
    return Imported([ReadNode(name, IDENTITY, 0)], [(name, mesh)], warnings)


def _corners(path: str) -> NDArray:
    size = os.path.getsize(path)
    with open(path, "rb") as file:
        head = file.read(84)
        if len(head) == 84 and size == 84 + 50 * struct.unpack("<I", head[80:])[0]:
            count = (size - 84) // 50
            if count > MOST_TRIANGLES:
                raise FormatError(f"the STL file has {count:,} triangles; up to {MOST_TRIANGLES:,} are read")
            return np.fromfile(file, _RECORD, count)["corners"]
        file.seek(0)
        text = file.read()
    if b"endsolid" not in text[-4096:].lower():
        raise FormatError("the text STL file stops before “endsolid”; it was cut short")
    numbers = _VERTEX.findall(text)
    if not numbers or len(numbers) % 3:
        raise FormatError("the text STL file has no whole triangles: every facet needs three “vertex” lines")
    try:
        return np.array(numbers, dtype="S32").astype(np.float64).reshape(-1, 3, 3)
    except ValueError as error:
        raise FormatError("the text STL file has a coordinate that is not a number") from error


def write(corners: NDArray[np.float64]) -> bytes:
    """Binary STL from triangles (m, 3, 3) in the unit the person chose."""
    records = np.zeros(len(corners), _RECORD)
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    lengths = np.linalg.norm(normals, axis=1, keepdims=True)
    records["normal"] = np.divide(normals, lengths, out=np.zeros_like(normals), where=lengths > 0)
    records["corners"] = corners
    return b"binary STL".ljust(80, b" ") + struct.pack("<I", len(corners)) + records.tobytes()
