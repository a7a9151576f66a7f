"""What faces are, as rows to be compared: kind, middle, area, radius, carrier."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.properties import area_properties
from ..kernel.tessellate import FaceMesh, deflection_of, face_mesh
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore, Solid
from ..model.snapshot import Body, Occurrence

NUMBERED = {"plane": 0, "cylinder": 1, "cone": 2, "sphere": 3, "torus": 4, "spline": 5}


@dataclass(frozen=True, eq=False)
class FaceRows:
    """Of one body where it first stands, in the model (mm): kind, (n,) numbers of NUMBERED; middle (n, 3); area (n,);
    radius (n,), 0 without; way (n, 3): normal or axis, 0 without; offset (n, 3): of the carrier from the origin, square
    to `way` for what has an axis, along it for a plane."""

    ids: tuple[int, ...]
    kind: Floats
    middle: Floats
    area: Floats
    radius: Floats
    way: Floats
    offset: Floats

    def __len__(self) -> int:
        return len(self.ids)


def face_rows(geometry: GeometryStore, place: Occurrence) -> FaceRows | None:
    """None of a mesh, which has no faces to compare."""
    body: Body = place.body
    solid = geometry.get(body.shape)
    if not isinstance(solid, Solid):
        return None
    table = solid.faces.placed(place.matrix)
    middles = [area_properties(solid.index.get("face", f)).centroid for f in range(solid.index.count("face"))]
    way = np.nan_to_num(np.where(np.isnan(table.normal), table.axis, table.normal))
    point = np.nan_to_num(table.point)
    along = (point * way).sum(axis=1, keepdims=True) * way
    plane = table.kind == "plane"
    return FaceRows(
        body.faces, np.array([NUMBERED.get(k, 5) for k in table.kind], float),
        place.matrix.points(np.array(middles).reshape(-1, 3)), table.area, np.nan_to_num(table.radius), way,
        np.where(plane[:, None], along, point - along),
    )  # fmt: skip


def meshed_face(solid: Solid, number: int) -> FaceMesh:
    """As the view has it."""
    mesh_for_view(solid.index, deflection_of(solid.index))
    return face_mesh(solid.index.get("face", number))
