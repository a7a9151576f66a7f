"""Measures of bodies, faces and edges, in model units."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..box import Box
from ..units import LENGTHS
from .geometry import Solid, TriangleMesh
from .materials import MATERIALS, mass_kg
from .query import Scope

Vec = tuple[float, float, float]


@dataclass(frozen=True)
class BodyMeasure:
    """volume: unit³ (0 for a surface); area: unit²; mass: kg or None without a material; centroid: model
    coordinates; inertia: 3x3 in kg·unit² about the centroid along the body's own axes, None without a material
    or for a mesh; box: in the body's own coordinates; size: edges of that box."""

    volume: float
    area: float
    mass: float | None
    centroid: Vec
    inertia: tuple[tuple[float, ...], ...] | None
    box: Box

    @property
    def size(self) -> Vec:
        return self.box.size


def volume_mm3(geometry: Solid | TriangleMesh, kind: str) -> float:
    if isinstance(geometry, TriangleMesh):
        return geometry.volume_and_centroid[0]
    return geometry.volume_mm3 if kind == "solid" else 0.0


def measure_body(scope: Scope) -> BodyMeasure:
    unit = LENGTHS[scope.snapshot.units]
    body = scope.body
    geometry: Any = scope.geometry.get(body.shape)
    volume = volume_mm3(geometry, body.kind)
    inertia = None
    if isinstance(geometry, TriangleMesh):
        centroid = geometry.volume_and_centroid[1]
    else:
        centroid = geometry.volume.centroid
        if body.material is not None and body.kind == "solid":
            density = MATERIALS[body.material].density * 1e-9 / unit**2
            inertia = tuple(tuple(v * density for v in row) for row in geometry.volume.inertia)
    low, high = geometry.box
    placed = scope.matrix.point(centroid)
    return BodyMeasure(
        volume / unit**3,
        geometry.area / unit**2,
        mass_kg(volume, body.material) if body.kind != "surface" else None,
        (placed[0] / unit, placed[1] / unit, placed[2] / unit),
        inertia,
        Box((low[0] / unit, low[1] / unit, low[2] / unit), (high[0] / unit, high[1] / unit, high[2] / unit)),
    )
