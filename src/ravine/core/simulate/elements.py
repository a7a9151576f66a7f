"""The ten-node tetrahedron and the six-node triangle: shape functions, quadrature, Jacobians.

Nodes: four corners, then the middles of the edges (01)(02)(03)(12)(13)(23); of a triangle (01)(12)(20).
Zienkiewicz, Taylor: The Finite Element Method, vol. 1; quadrature of degree 4 by Keast (1986).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

EDGES = np.array([(0, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)])
_A, _B = 0.5854101966249685, 0.13819660112501052
FOUR = np.array([[_B, _B, _B], [_A, _B, _B], [_B, _A, _B], [_B, _B, _A]])  # degree 2
FOUR_WEIGHTS = np.full(4, 1 / 24)
_C, _D = (1 + np.sqrt(5 / 14)) / 4, (1 - np.sqrt(5 / 14)) / 4
ELEVEN = np.array(
    [[0.25] * 3, [11 / 14, 1 / 14, 1 / 14], [1 / 14, 11 / 14, 1 / 14], [1 / 14, 1 / 14, 11 / 14], [1 / 14] * 3,
     [_C, _C, _D], [_C, _D, _C], [_D, _C, _C], [_D, _D, _C], [_D, _C, _D], [_C, _D, _D]]
)  # fmt: skip
ELEVEN_WEIGHTS = np.array([-74 / 5625] + [343 / 45000] * 4 + [56 / 2250] * 6)
_E, _F = 0.445948490915965, 0.091576213509771
SIX = np.array([[_E, _E], [1 - 2 * _E, _E], [_E, 1 - 2 * _E], [_F, _F], [1 - 2 * _F, _F], [_F, 1 - 2 * _F]])
SIX_WEIGHTS = np.array([0.111690794839005] * 3 + [0.054975871827661] * 3)
CORNERS = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])


def shapes(at: Floats) -> Floats:
    """(q, 10) at places (q, 3) of the reference tetrahedron."""
    bary = np.column_stack([1 - at.sum(axis=1), at])
    return np.hstack([bary * (2 * bary - 1), 4 * bary[:, EDGES[:, 0]] * bary[:, EDGES[:, 1]]])


def slopes(at: Floats) -> Floats:
    """(q, 10, 3): derivatives in the reference tetrahedron."""
    bary = np.column_stack([1 - at.sum(axis=1), at])
    steps = np.array([[-1, -1, -1], [1, 0, 0], [0, 1, 0], [0, 0, 1.0]])
    found = np.zeros((len(at), 10, 3))
    for i in range(4):
        found[:, i] = (4 * bary[:, i] - 1)[:, None] * steps[i]
    for k, (a, b) in enumerate(EDGES):
        found[:, 4 + k] = 4 * (bary[:, a][:, None] * steps[b] + bary[:, b][:, None] * steps[a])
    return found


def gradients(points: Floats, tets: Ints, at: Floats) -> tuple[Floats, Floats]:
    """Derivatives of the shape functions by place (e, q, 10, 3), and determinants of the Jacobian (e, q).  Inverses by
    cofactors: a third of the time of a general one."""
    here = slopes(at)
    jacobian = np.einsum("eai,qaj->eqij", points[tets], here, optimize=True)
    cofactors = np.empty_like(jacobian)
    for i in range(3):
        for j in range(3):
            a, b, c, d = (i + 1) % 3, (i + 2) % 3, (j + 1) % 3, (j + 2) % 3
            cofactors[..., i, j] = jacobian[..., a, c] * jacobian[..., b, d] - jacobian[..., a, d] * jacobian[..., b, c]
    size = (jacobian[..., 0, :] * cofactors[..., 0, :]).sum(-1)
    cofactors /= size[..., None, None]
    return np.matmul(here[None], np.swapaxes(cofactors, -1, -2)), size


def triangle_shapes(at: Floats) -> Floats:
    """(q, 6) at places (q, 2) of the reference triangle."""
    bary = np.column_stack([1 - at.sum(axis=1), at])
    return np.hstack([bary * (2 * bary - 1), 4 * bary[:, [0, 1, 2]] * bary[:, [1, 2, 0]]])


def triangle_slopes(at: Floats) -> Floats:
    """(q, 6, 2)."""
    bary = np.column_stack([1 - at.sum(axis=1), at])
    steps = np.array([[-1, -1], [1, 0], [0, 1.0]])
    found = np.zeros((len(at), 6, 2))
    for i in range(3):
        found[:, i] = (4 * bary[:, i] - 1)[:, None] * steps[i]
    for k, (a, b) in enumerate(((0, 1), (1, 2), (2, 0))):
        found[:, 3 + k] = 4 * (bary[:, a][:, None] * steps[b] + bary[:, b][:, None] * steps[a])
    return found


def on_surface(points: Floats, triangles: Ints) -> tuple[Floats, Floats, Floats]:
    """Quadrature points (e, 6, 3), outward normals times their area (e, 6, 3), shape values (6, 6)."""
    values, here = triangle_shapes(SIX), triangle_slopes(SIX)
    tangents = np.einsum("eai,qaj->eqij", points[triangles], here)
    areas = np.cross(tangents[..., 0], tangents[..., 1]) * SIX_WEIGHTS[None, :, None]
    return np.einsum("qa,eai->eqi", values, points[triangles]), areas, values


def volume(points: Floats, tets: Ints) -> float:
    """mm³."""
    _, size = gradients(points, tets, FOUR)
    return float((size * FOUR_WEIGHTS).sum())
