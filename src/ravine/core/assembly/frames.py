"""Where the ends of joints are: frames that go with the parts they are on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..dimensions.reading import anchor_of
from ..local.surfaces import Floats
from ..model.geometry import GeometryStore
from ..model.references import Reference
from ..rigid import Rigid, cross_rows


@dataclass(frozen=True)
class Frame:
    """point (3,), mm in the model; axes (3, 3), rows x, y, z: z along the axis or the outward normal; kind: plane,
    axis or point; radius: of something round, mm; leaf: the place in the tree that it goes with, None for the model."""

    point: Floats
    axes: Floats
    kind: str
    leaf: int | None
    radius: float | None = None

    def beside(self, point: Floats) -> Frame:
        """The same with another point."""
        return Frame(point, self.axes, self.kind, self.leaf, self.radius)


def axes_along(z: Floats) -> Floats:
    """(3, 3) rows, the last of them z."""
    x = cross_rows(z, np.eye(3)[int(np.abs(z).argmin())])
    x = x / np.linalg.norm(x)
    return np.array([x, cross_rows(z, x), z])


def frame_of(geometry: GeometryStore, reference: Reference) -> Frame:
    """Raises EditError for what is neither flat, straight, round nor a corner."""
    anchor = anchor_of(geometry, reference)
    along = anchor.normal if anchor.normal is not None else anchor.axis
    kind = "plane" if anchor.normal is not None else "axis" if anchor.axis is not None else "point"
    axes = np.eye(3) if along is None else axes_along(along)
    return Frame(anchor.point, axes, kind, reference.node, anchor.radius)


def part_frame(matrix: Rigid, leaf: int | None) -> Frame:
    """A part's own coordinates where it stands."""
    return Frame(matrix.shift, matrix.turn.T, "part", leaf)
