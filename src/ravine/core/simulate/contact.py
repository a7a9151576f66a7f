"""Two bodies that touch, on meshes that do not match: bonded, sliding without coming apart, or opening and closing.

The gap between them is integrated exactly over the pieces that a triangle of one side and one of the other share
(segment-to-segment: Puso and Laursen 2004), each point of it held by a spring per area.  A constant stress passes over
without error.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
import scipy.sparse as sp
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from .elements import SIX, SIX_WEIGHTS, Floats, Ints, triangle_shapes
from .mesh import Mesh

STIFF = 60.0  # times modulus over element size, of the springs
FLAT = 1e-14  # of an area, below which a piece is none
TOUCHES = 1e-6  # mm
AWAY = -0.5  # cosine of two normals, above which two triangles do not face each other

Normals = Callable[[Floats], Floats]


@dataclass(frozen=True, eq=False)
class Tie:
    """gap (q, n): from displacements of nodes to how far the two sides part at q places; areas (q,) mm²; normals
    (q, 3) of the first side; places (q, 3); sliding: only along the normal; opening: only where they press; start (q,):
    mm that they are apart before anything moves."""

    gap: sp.csr_matrix
    areas: Floats
    normals: Floats
    places: Floats
    sliding: bool
    stiffness: float
    opening: bool = False
    start: Floats = field(default_factory=lambda: np.zeros(0))

    @property
    def touching(self) -> NDArray[np.bool_]:
        """(q,) before anything moves."""
        return self.start <= TOUCHES

    def pressed(self, moved: Floats) -> NDArray[np.bool_]:
        """(q,) where the sides would go into one another."""
        return self._along(self.gap @ moved) > self.start

    def where(self, chosen: NDArray[np.bool_]) -> Tie:
        """Only some of its places."""
        return replace(self, gap=self.gap[np.flatnonzero(chosen)], areas=self.areas[chosen],
                       normals=self.normals[chosen], places=self.places[chosen], start=self.start[chosen])  # fmt: skip

    def _along(self, parted: Floats) -> Floats:
        return np.asarray(np.einsum("qi,qi->q", parted, self.normals))

    def closing(self) -> Floats:
        """(n, 3) N with which gaps that are closed already pull, for springs that begin where the sides meet."""
        pull = (self.stiffness * self.areas * self.start)[:, None] * self.normals
        return np.asarray(self.gap.T @ pull)

    def matrix(self) -> sp.bsr_matrix:
        """(3n, 3n) N/mm."""
        weights = self.stiffness * self.areas
        if not self.sliding:
            plain = (self.gap.T @ sp.diags_array(weights) @ self.gap).tocsr()
            return sp.kron(plain, sp.eye_array(3)).tobsr((3, 3))
        rows = self.gap.tocoo()
        count = self.gap.shape[1]
        columns = (3 * rows.col[:, None] + np.arange(3)).ravel()
        along = sp.csr_matrix(
            ((rows.data[:, None] * self.normals[rows.row]).ravel(), (np.repeat(rows.row, 3), columns)),
            shape=(len(self.areas), 3 * count),
        )
        return (along.T @ sp.diags_array(weights) @ along).tobsr((3, 3))

    def tractions(self, moved: Floats) -> Floats:
        """(q, 3) MPa on the first side."""
        parted = self.gap @ moved
        if self.opening:
            return -self.stiffness * np.maximum(self._along(parted) - self.start, 0.0)[:, None] * self.normals
        if self.sliding:
            parted = np.einsum("qi,qi->q", parted, self.normals)[:, None] * self.normals
        return np.asarray(-self.stiffness * parted)


def tie(
    mesh: Mesh, first: Ints, second: Ints, modulus: float, sliding: bool, reach: float, normals: Normals | None = None,
    opening: bool = False, sag: float = 0.0,
) -> Tie | None:  # fmt: skip
    """first, second: triangles (k, 6) of the two sides, the finer one first; modulus: MPa; reach: mm up to which a gap
    between them is closed, or looked at where it opens; normals: exact ones of the first side at places on it; sag: mm
    that two meshes of one curved face may lie apart.  None where they do not touch."""
    rows = _pieces(mesh.points, first, second, reach)
    if rows is None:
        return None
    a, b, place_a, place_b, areas, places, flat = rows
    count = len(mesh.points)
    index = np.repeat(np.arange(len(a)), 6)
    values = np.concatenate([triangle_shapes(place_a).ravel(), -triangle_shapes(place_b).ravel()])
    columns = np.concatenate([first[a].ravel(), second[b].ravel()])
    gap = sp.csr_matrix((values, (np.concatenate([index, index]), columns)), shape=(len(a), count))
    size = float(np.sqrt(np.median(_areas(mesh.points, first)) * 4 / np.sqrt(3)))
    true = flat if normals is None else normals(places)
    start = np.zeros(len(a))
    if opening:
        there = np.einsum("qk,qki->qi", triangle_shapes(place_b), mesh.points[second[b]])
        apart = np.einsum("qi,qi->q", there - places, true)
        start = np.where(apart > sag + TOUCHES, apart, 0.0)
    return Tie(gap, areas, true, places, sliding or opening, STIFF * modulus / size, opening, start)


def _areas(points: Floats, triangles: Ints) -> Floats:
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return np.asarray(np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2)


Pieces = tuple[Ints, Ints, Floats, Floats, Floats, Floats, Floats]


def _pieces(points: Floats, first: Ints, second: Ints, reach: float) -> Pieces | None:
    """Quadrature points: triangle of either side, place in each (q, 2), area, point, normal."""
    one, two = points[first[:, :3]], points[second[:, :3]]
    tree = cKDTree(two.mean(axis=1))
    far = float(np.linalg.norm(two - two.mean(axis=1)[:, None], axis=2).max())
    sides = np.cross(two[:, 1] - two[:, 0], two[:, 2] - two[:, 0])
    sides /= np.linalg.norm(sides, axis=1)[:, None]
    found: list[tuple[int, int, np.ndarray, float]] = []
    frames = []
    for k, corners in enumerate(one):
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
        double = float(np.linalg.norm(normal))
        normal /= double
        x = (corners[1] - corners[0]) / np.linalg.norm(corners[1] - corners[0])
        axes = np.column_stack([x, np.cross(normal, x)])
        frames.append((axes, normal))
        own = (corners - corners[0]) @ axes
        near = float(np.linalg.norm(corners - corners.mean(axis=0), axis=1).max())
        for other in tree.query_ball_point(corners.mean(axis=0), near + far + reach):
            if sides[other] @ normal > AWAY or np.abs((two[other] - corners[0]) @ normal).min() > reach:
                continue
            laid = ((two[other] - corners[0]) @ axes)[::-1]
            shared = _clipped(list(own), laid)
            if len(shared) < 3:
                continue
            middle = np.mean(shared, axis=0)
            for j in range(len(shared)):
                piece = np.array([middle, shared[j - 1], shared[j]])
                area = float(_cross(piece[1] - piece[0], piece[2] - piece[0]))
                if area < FLAT * double:
                    continue
                found += [(k, other, piece[0] * (1 - g.sum()) + piece[1] * g[0] + piece[2] * g[1], area * w)
                          for g, w in zip(SIX, SIX_WEIGHTS, strict=True)]  # fmt: skip
    if not found:
        return None
    a, b = (np.array([row[i] for row in found], np.int64) for i in (0, 1))
    flat = np.array([row[2] for row in found])
    normals = np.array([frames[k][1] for k in a])
    places = one[a, 0] + np.einsum("qij,qj->qi", np.array([frames[k][0] for k in a]), flat)
    return a, b, _within(one[a], places), _within(two[b], places), np.array([r[3] for r in found]), places, normals


def _cross(a: Floats, b: Floats) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def _clipped(polygon: list[Floats], by: Floats) -> list[Floats]:
    """Sutherland and Hodgman; both counter-clockwise."""
    for i in range(3):
        start, way = by[i], by[(i + 1) % 3] - by[i]
        kept: list[Floats] = []
        for k in range(len(polygon)):
            p, q = polygon[k - 1], polygon[k]
            s, t = _cross(way, p - start), _cross(way, q - start)
            if (s >= 0) != (t >= 0):
                kept.append(p + (q - p) * s / (s - t))
            if t >= 0:
                kept.append(q)
        polygon = kept
        if len(polygon) < 3:
            return []
    return polygon


def _within(corners: Floats, places: Floats) -> Floats:
    """(q, 2): places seen square to triangles (q, 3, 3), in their own coordinates."""
    a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    r = places - corners[:, 0]
    aa, ab, bb = (np.einsum("qi,qi->q", u, v) for u, v in ((a, a), (a, b), (b, b)))
    ar, br = (np.einsum("qi,qi->q", u, r) for u in (a, b))
    size = aa * bb - ab**2
    return np.column_stack([(bb * ar - ab * br) / size, (aa * br - ab * ar) / size])
