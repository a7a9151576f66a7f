"""Triangles, edges and corners of one shape, packed for the browser.

Layout, little-endian: `RVP1`, uint32 length of the header, the header as JSON padded with spaces to a multiple of
four, then the arrays one after another, each starting on a multiple of four:

    points     float32 × 3 per point of each new face
    normals    int8 × 4 per point (the fourth is padding)
    triangles  uint32 × 3, counted from the face's own first point
    lines      float32 × 3 per point of each new edge
    corners    float32 × 3 per vertex

Header: `faces` and `edges` list, in map order, either a number k ("as face k of the base") or, for a new face,
[points, triangles], for a new edge [points]; `rims` names for each face the edges around it; `base` is the address
of the shape that k counts in, or null; `corners` is the number of vertices.
"""

from __future__ import annotations

import json
import struct
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.queries import vertex_point
from ..kernel.shapes import Shape, ShapeIndex, copied
from ..kernel.tessellate import FaceMesh, deflection_of, edge_polyline, face_mesh
from ..model.geometry import Geometry, Solid
from ..model.trimesh_body import TriangleMesh

MAGIC = b"RVP1"
FINER = 8


def facet_mesh(body: TriangleMesh, face: int = 0) -> FaceMesh:
    """A face of a mesh body with flat facets: corners are not shared."""
    corners = body.corners[body.triangles_of_faces[face]] if body.forms else body.corners
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-30)
    count = 3 * len(corners)
    triangles = np.arange(count, dtype=np.int32).reshape(-1, 3)
    return FaceMesh(corners.reshape(-1, 3), np.repeat(normals, 3, axis=0), triangles)


def pack(geometry: Geometry, base: Solid | None = None, base_address: str | None = None) -> bytes:
    """The packet of a shape; with `base`, only what differs from that shape."""
    if isinstance(geometry, TriangleMesh):
        parts = [facet_mesh(geometry, face) for face in range(geometry.face_count)]
        sizes = [[len(m.points), len(m.triangles)] for m in parts]
        rims: list[list[int]] = [[] for _ in parts]
        return _assemble({"faces": sizes, "edges": [], "rims": rims, "base": None}, parts, [], np.zeros((0, 3)))
    index = geometry.index
    deflection = deflection_of(index)
    known = index.differences
    if base is None or known is None or known.of() is not base.index or base.index.meshed != deflection:
        known = None
    mesh_for_view(index, deflection, base.index if base and known else None)
    index.meshed = deflection
    faces: list[int | list[int]] = list(range(index.count("face")))
    edges: list[int | list[int]] = list(range(index.count("edge")))
    meshes: list[FaceMesh] = []
    lines: list[NDArray[np.float64]] = []
    for number in sorted(known.faces) if known else range(len(faces)):
        face = index.get("face", number)
        same = _same_face(base.index, face) if base and not known else -1
        if same >= 0:
            faces[number] = same
            continue
        found = face_mesh(face)
        meshes.append(found)
        faces[number] = [len(found.points), len(found.triangles)]
    for number in sorted(known.edges) if known else range(len(edges)):
        edge = index.get("edge", number)
        same = base.index.find("edge", edge) if base and not known else -1
        if same >= 0:
            edges[number] = same
            continue
        line = edge_polyline(edge, index, number, deflection)
        lines.append(line)
        edges[number] = [len(line)]
    rims = [list(row) for row in index.edges_of_faces]
    header = {"faces": faces, "edges": edges, "rims": rims, "base": base_address if base else None}
    return _assemble(header, meshes, lines, _corners(index))


def pack_fine(geometry: Geometry) -> bytes:
    """The packet of a shape that is looked at from near: FINER times as close to the exact form.  Of a copy, since the
    triangles of a shape go on with it from edit to edit.  A mesh has no finer form."""
    if isinstance(geometry, TriangleMesh):
        return pack(geometry)
    index = ShapeIndex(copied(geometry.shape)[0])
    deflection = deflection_of(geometry.index) / FINER
    mesh_for_view(index, deflection)
    meshes = [face_mesh(face) for face in index.all("face")]
    lines = [edge_polyline(edge, index, number, deflection) for number, edge in enumerate(index.all("edge"))]
    header = {
        "faces": [[len(m.points), len(m.triangles)] for m in meshes], "edges": [[len(line)] for line in lines],
        "rims": [list(row) for row in index.edges_of_faces], "base": None,
    }  # fmt: skip
    return _assemble(header, meshes, lines, _corners(index))


def _same_face(base: ShapeIndex, face: Shape) -> int:
    same = base.find("face", face)
    return same if same >= 0 and base.get("face", same).Orientation() == face.Orientation() else -1


def _corners(index: ShapeIndex) -> NDArray[np.float64]:
    """Places (n, 3) of the vertices, kept with the index."""
    if index.corners is None:
        known = index.differences
        base = known.of() if known else None
        if known and base and base.corners is not None:
            index.corners = base.corners.copy()
            for v in known.vertices:
                index.corners[v] = vertex_point(index.get("vertex", v))
        else:
            index.corners = np.array([vertex_point(v) for v in index.all("vertex")]).reshape(-1, 3)
    return index.corners


def _assemble(
    header: dict[str, Any],
    meshes: list[FaceMesh],
    lines: list[NDArray[np.float64]],
    corners: NDArray[np.float64],
) -> bytes:
    header["corners"] = len(corners)
    text = json.dumps(header, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    parts = [MAGIC, struct.pack("<I", len(text)), text]
    parts += [m.points.astype("<f4").tobytes() for m in meshes]
    for m in meshes:
        packed = np.zeros((len(m.normals), 4), np.int8)
        packed[:, :3] = np.rint(m.normals * 127)
        parts.append(packed.tobytes())
    parts += [m.triangles.astype("<u4").tobytes() for m in meshes]
    parts += [line.astype("<f4").tobytes() for line in lines]
    parts.append(corners.astype("<f4").tobytes())
    return b"".join(parts)
