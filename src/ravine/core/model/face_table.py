"""The faces of a solid as columns, to be searched all at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..kernel.properties import area_properties
from ..local.fabric import Fabric

Flags = NDArray[np.bool_]
SIZED = ("cylinder", "sphere", "torus")


@dataclass(frozen=True)
class FaceTable:
    """A row for each face of a solid, in its coordinates (mm).  radius: nan without; normal: outward, of plane faces,
    else nan; point, axis: of what has an axis, else nan; inwards: a hollow form, such as a hole's wall."""

    kind: NDArray[np.str_]
    area: NDArray[np.float64]
    radius: NDArray[np.float64]
    normal: NDArray[np.float64]
    point: NDArray[np.float64]
    axis: NDArray[np.float64]
    inwards: Flags

    @classmethod
    def read(cls, fabric: Fabric) -> FaceTable:
        count = fabric.index.count("face")
        surfaces = [fabric.surface(f) for f in range(count)]
        blank = np.full(3, np.nan)
        signs = np.array([fabric.sign(f) for f in range(count)])
        return cls(
            np.array([s.kind for s in surfaces]),
            np.array([abs(area_properties(f).amount) for f in fabric.index.all("face")]),
            np.array([s.radius if s.kind in SIZED else np.nan for s in surfaces]),
            np.array([g * s.axial.z if s.kind == "plane" else blank for s, g in zip(surfaces, signs, strict=True)]),
            np.array([blank if s.frame is None else s.frame.origin for s in surfaces]),
            np.array([blank if s.frame is None or s.kind == "plane" else s.frame.z for s in surfaces]),
            signs < 0,
        )
