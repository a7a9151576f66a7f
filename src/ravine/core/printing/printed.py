"""A part as it lies on the bed: its triangles turned so that the chosen side is down, standing at z = 0."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..local.surfaces import Floats
from .layers import Layers, cut_into_layers

Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Printed:
    """corners (n, 3, 3) mm, outward; faces (n,): which face of the body each triangle is of; turn (3, 3), shift (3,):
    from the part's place to the bed."""

    corners: Floats
    faces: Ints
    turn: Floats
    shift: Floats

    @cached_property
    def normals(self) -> Floats:
        """(n, 3), unit; 0 of triangles without area."""
        found = np.cross(self.corners[:, 1] - self.corners[:, 0], self.corners[:, 2] - self.corners[:, 0])
        size = np.linalg.norm(found, axis=1)
        return np.asarray(found / np.where(size > 0, size, 1.0)[:, None])

    @cached_property
    def areas(self) -> Floats:
        sides = self.corners[:, 1:] - self.corners[:, :1]
        return np.asarray(np.linalg.norm(np.cross(sides[:, 0], sides[:, 1]), axis=1) / 2)

    @cached_property
    def size(self) -> Floats:
        return np.asarray(np.ptp(self.corners.reshape(-1, 3), axis=0))

    @cached_property
    def volume(self) -> float:
        """mm³."""
        a, b, c = (self.corners[:, k] for k in range(3))
        return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)

    @cached_property
    def middle(self) -> Floats:
        """The centre of its volume."""
        a, b, c = (self.corners[:, k] for k in range(3))
        parts = np.einsum("ij,ij->i", a, np.cross(b, c)) / 6
        return np.asarray((parts[:, None] * (a + b + c) / 4).sum(axis=0) / parts.sum())

    def back(self, points: Floats) -> Floats:
        """Points on the bed (n, 3) where the part stands in the model."""
        return np.asarray((points - self.shift) @ self.turn)

    def layers(self, thick: float) -> Layers:
        return cut_into_layers(self.corners, thick)


def laid_down(corners: Floats, faces: Ints, down: Floats) -> Printed:
    """down: direction of the part that is to look at the bed."""
    turn = turned_down(down)
    rows = corners @ turn.T
    low, high = rows.reshape(-1, 3).min(axis=0), rows.reshape(-1, 3).max(axis=0)
    shift = -np.array([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2]])
    return Printed(rows + shift, faces, turn, shift)


def turned_down(down: Floats) -> Floats:
    """The rotation (3, 3) that takes a direction to -Z by the shortest way."""
    way = np.asarray(down, float) / np.linalg.norm(down)
    axis = np.cross(way, [0.0, 0.0, -1.0])
    cosine = float(-way[2])
    if np.linalg.norm(axis) < 1e-12:
        return np.eye(3) if cosine > 0 else np.diag([1.0, -1.0, -1.0])
    x, y, z = axis
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.asarray(np.eye(3) + cross + cross @ cross / (1 + cosine))
