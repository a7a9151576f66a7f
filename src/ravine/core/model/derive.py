"""From a kernel result to the next snapshot: store the shape, number what is new, drop what ended."""

from __future__ import annotations

from dataclasses import replace

from ..kernel.history import Ids
from ..kernel.shapes import Shape, ShapeIndex
from .geometry import GeometryStore, Solid
from .snapshot import Body, Snapshot
from .trimesh_body import TriangleMesh


def numbered(snapshot: Snapshot, ids: Ids) -> tuple[dict[str, tuple[int, ...]], Snapshot]:
    """Fill the open places with fresh ids."""
    count = sum(i is None for row in ids.values() for i in row)
    fresh, snapshot = snapshot.fresh(count)
    supply = iter(fresh)
    return {kind: tuple(next(supply) if i is None else i for i in row) for kind, row in ids.items()}, snapshot


def reshape_body(snapshot: Snapshot, geometry: GeometryStore, body: Body, solid: Solid, ids: Ids) -> Snapshot:
    """The snapshot in which `body` is this solid, with ids as carried by kernel.history.carry_ids."""
    filled, snapshot = numbered(snapshot, ids)
    former = geometry.get(body.shape) if geometry.has(body.shape) else None
    if isinstance(former, Solid):
        solid.took_from(former)
    present = set(filled["face"])
    finishes = {face: colour for face, colour in body.face_finishes.items() if face in present}
    return snapshot.with_body(
        replace(
            body,
            shape=geometry.put_solid(solid),
            faces=filled["face"],
            edges=filled["edge"],
            vertices=filled["vertex"],
            face_finishes=finishes,
        )
    )


def remesh_body(snapshot: Snapshot, geometry: GeometryStore, body: Body, mesh: TriangleMesh) -> Snapshot:
    """The snapshot in which `body` is this mesh: its first face stays, others are new."""
    fresh, snapshot = snapshot.fresh(mesh.face_count - 1)
    faces = (body.faces[0], *fresh)
    finishes = {f: c for f, c in body.face_finishes.items() if f in faces}
    return snapshot.with_body(replace(body, shape=geometry.put_mesh(mesh), faces=faces, face_finishes=finishes))


def blank_ids(shape: Shape) -> Ids:
    """All new: for a body that just came in."""
    index = ShapeIndex(shape)
    return {kind: [None] * index.count(kind) for kind in ("face", "edge", "vertex")}
