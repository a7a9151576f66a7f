"""A mesh: points, tetrahedra with the body each belongs to, triangles of the surface with the face each lies on."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .elements import EDGES, FOUR, Floats, Ints, gradients


@dataclass(frozen=True, eq=False)
class Mesh:
    """points (n, 3) mm; tets (e, 10), bodies (e,); triangles (s, 6), outward; faces (s,): numbers counted through all
    bodies."""

    points: Floats
    tets: Ints
    bodies: Ints
    triangles: Ints
    faces: Ints

    @property
    def unknowns(self) -> int:
        return 3 * len(self.points)

    @cached_property
    def body_of_node(self) -> Ints:
        found = np.zeros(len(self.points), np.int64)
        found[self.tets] = self.bodies[:, None]
        return found

    def of_faces(self, faces: object) -> Ints:
        """Triangles (k, 6) of some faces."""
        return self.triangles[np.isin(self.faces, np.asarray(faces))]

    def nodes_of(self, faces: object) -> Ints:
        return np.unique(self.of_faces(faces))

    @cached_property
    def sizes(self) -> Floats:
        """(e,), mm: mean length of the edges."""
        a, b = self.points[self.tets[:, EDGES[:, 0]]], self.points[self.tets[:, EDGES[:, 1]]]
        return np.asarray(np.linalg.norm(a - b, axis=2).mean(axis=1))

    @cached_property
    def quality(self) -> Floats:
        """(e,): of the straight tetrahedron, 1 where it is regular, 0 where it is flat (mean ratio: Liu, Joe 1994)."""
        corners = self.points[self.tets[:, :4]]
        sides = corners[:, 1:] - corners[:, :1]
        size = np.abs(np.linalg.det(sides)) / 6
        lengths = (np.linalg.norm(corners[:, EDGES[:, 0]] - corners[:, EDGES[:, 1]], axis=2) ** 2).sum(axis=1)
        return np.asarray(12 * (3 * size) ** (2 / 3) / lengths)

    @cached_property
    def turned(self) -> int:
        """Elements that are turned inside out somewhere."""
        _, size = gradients(self.points, self.tets, FOUR)
        return int((size.min(axis=1) <= 0).sum())
