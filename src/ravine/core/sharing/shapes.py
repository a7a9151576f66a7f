"""Triangles and edges of parts as they are shared: places in 16 bits, differences from one to the next, split into
planes of bytes, so that deflating them (RFC 1951) leaves little."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.tessellate import deflection_of, edge_polyline, face_mesh
from ..local.surfaces import Floats
from ..model.geometry import Geometry, Solid
from ..model.trimesh_body import TriangleMesh

BITS = 16
PLANES = 3  # bytes of a difference


@dataclass(frozen=True, eq=False)
class SharedShape:
    """head: what a reader has to know of the bytes: low, step, counts, and of each face kind and numbers, which
    measuring takes (plane: a point and its normal; cylinder: a point, its axis and radius), mm in the part's own
    coordinates."""

    head: dict[str, Any]
    data: bytes


def shared_shape(geometry: Geometry, left_out: Collection[int] = ()) -> SharedShape:
    """left_out: numbers of faces that do not go along, with the edges that only they have."""
    if isinstance(geometry, TriangleMesh):
        return _packed(
            geometry.points, _normals(geometry), geometry.triangles, [len(geometry.triangles)], [], [["mesh"]]
        )
    assert isinstance(geometry, Solid)
    index, gone = geometry.index, set(left_out)
    deflection = deflection_of(index)
    mesh_for_view(index, deflection)
    kept = [f for f in range(index.count("face")) if f not in gone]
    meshes = [face_mesh(index.get("face", f)) for f in kept]
    starts = np.cumsum([0] + [len(m.points) for m in meshes])
    points = np.concatenate([m.points for m in meshes]) if meshes else np.zeros((0, 3))
    normals = np.concatenate([m.normals for m in meshes]) if meshes else np.zeros((0, 3))
    rows = [m.triangles + s for m, s in zip(meshes, starts[:-1], strict=True)]
    triangles = np.concatenate(rows) if rows else np.zeros((0, 3), int)
    edges = []
    for edge in range(index.count("edge")):
        beside = index.faces_of_edges[edge]
        if beside and all(f in gone for f in beside):
            continue
        if len(set(beside)) < 2 and len(beside) == 2:
            continue  # a seam is no edge to the eye
        line = edge_polyline(index.get("edge", edge), index, edge, deflection)
        if len(line) > 1:
            edges.append(line)
    forms = [_form(geometry, f) for f in kept]
    return _packed(points, normals, triangles, [len(m.triangles) for m in meshes], edges, forms)


def _form(solid: Solid, face: int) -> list[Any]:
    surface = solid.topology.surface(face)
    if surface.kind == "plane":
        place, normal = solid.topology.middle(face)
        return ["plane", *_round(np.concatenate([place, normal]))]
    if surface.kind == "cylinder":
        return ["cylinder", *_round(np.concatenate([surface.axial.origin, surface.axial.z, [surface.radius]]))]
    if surface.kind == "sphere":
        return ["ball", *_round(np.concatenate([surface.axial.origin, [surface.radius]]))]
    return [surface.kind]


def _round(values: Floats) -> list[float]:
    return [float(f"{v:.8g}") for v in values]


def _normals(mesh: TriangleMesh) -> Floats:
    corners = mesh.points[mesh.triangles]
    faces = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    found = np.zeros_like(mesh.points)
    for k in range(3):
        np.add.at(found, mesh.triangles[:, k], faces)
    size = np.linalg.norm(found, axis=1, keepdims=True)
    return np.divide(found, size, out=np.zeros_like(found), where=size > 0)


def _packed(
    points: Floats, normals: Floats, triangles: Any, counts: list[int], edges: list[Floats], forms: list[list[Any]]
) -> SharedShape:
    everything = np.concatenate([points, *edges]) if len(points) or edges else np.zeros((1, 3))
    low = everything.min(axis=0)
    step = max(float(np.ptp(everything, axis=0).max()), 1e-9) / (2**BITS - 1)
    blocks = []
    for rows in (points, np.concatenate(edges) if edges else np.zeros((0, 3))):
        whole = np.round((rows - low) / step).astype(np.int32)
        blocks.append(_planes(np.diff(whole, axis=0, prepend=np.zeros((1, 3), np.int32)).T.reshape(-1)))
    blocks.append(_planes(np.diff(np.asarray(triangles).reshape(-1).astype(np.int32), prepend=np.int32(0))))
    blocks += [row.tobytes() for row in octahedral(normals).T]
    head = {
        "low": [float(v) for v in low], "step": step, "points": len(points), "triangles": len(triangles),
        "edges": [len(e) for e in edges], "counts": counts, "forms": forms,
    }  # fmt: skip
    return SharedShape(head, b"".join(blocks))


def _planes(differences: Any) -> bytes:
    """Signs folded in (0, −1, 1, −2 …), then the lowest bytes of all, the next, the highest."""
    folded = ((differences << 1) ^ (differences >> 31)).astype(np.uint32)
    return b"".join((folded >> (8 * k) & 255).astype(np.uint8).tobytes() for k in range(PLANES))


def octahedral(normals: Floats) -> Any:
    """Unit vectors as two signed bytes (Cigolle and others, 2014), (n, 2)."""
    flat = normals / np.maximum(np.abs(normals).sum(axis=1, keepdims=True), 1e-12)
    found = flat[:, :2].copy()
    below = flat[:, 2] < 0
    found[below] = (1 - np.abs(flat[below][:, 1::-1])) * np.where(flat[below][:, :2] >= 0, 1, -1)
    return np.round(found * 127).astype(np.int8)
