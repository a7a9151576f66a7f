"""The faces of a solid as columns, to be searched all at once."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields, replace

import numpy as np
from numpy.typing import NDArray

from ..kernel.properties import area_properties
from ..kernel.shapes import ShapeIndex
from ..local.topology import SolidTopology

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
    def read(cls, topology: SolidTopology) -> FaceTable:
        return cls._of(topology, range(topology.index.count("face")))

    @classmethod
    def _of(cls, topology: SolidTopology, faces: Sequence[int]) -> FaceTable:
        surfaces = [topology.surface(f) for f in faces]
        blank = np.full(3, np.nan)
        signs = np.array([topology.sign(f) for f in faces])
        return cls(
            np.array([s.kind for s in surfaces], dtype="<U8"),
            np.array([abs(area_properties(topology.index.get("face", f)).amount) for f in faces]),
            np.array([s.radius if s.kind in SIZED else np.nan for s in surfaces]),
            np.array([g * s.axial.z if s.kind == "plane" else blank for s, g in zip(surfaces, signs, strict=True)]),
            np.array([blank if s.frame is None else s.frame.origin for s in surfaces]),
            np.array([blank if s.frame is None or s.kind == "plane" else s.frame.z for s in surfaces]),
            signs < 0,
        )

    def after(self, topology: SolidTopology, faces: Iterable[int]) -> FaceTable:
        """For a solid with the same faces in the same order, of which these are others."""
        rows = sorted(faces)
        new = FaceTable(*(getattr(self, f.name).copy() for f in fields(self)))
        fresh = FaceTable._of(topology, rows)
        for f in fields(self):
            getattr(new, f.name)[rows] = getattr(fresh, f.name)
        return new

    def carried(self, old: ShapeIndex, topology: SolidTopology) -> FaceTable:
        """For a solid that took some of its faces over from the one with the index `old`."""
        index = topology.index
        stays = [old.find("face", index.get("face", f)) for f in range(index.count("face"))]
        fresh = [f for f, row in enumerate(stays) if row < 0]
        new = FaceTable(*(getattr(self, f.name)[stays] for f in fields(self)))
        return new.after(topology, fresh) if fresh else new

    def placed(self, matrix: Sequence[float]) -> FaceTable:
        """matrix: 3 × 4 row by row, mm, rigid."""
        rows = np.array(matrix, float).reshape(3, 4)
        turn = rows[:, :3].T
        return replace(self, normal=self.normal @ turn, point=self.point @ turn + rows[:, 3], axis=self.axis @ turn)

    @classmethod
    def joined(cls, tables: Sequence[FaceTable]) -> FaceTable:
        return cls(*(np.concatenate([getattr(t, f.name) for t in tables]) for f in fields(cls)))
