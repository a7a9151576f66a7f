"""Stress from displacement: at quadrature points, at nodes averaged within each body, and how far the two differ.

Error by Zienkiewicz and Zhu (1987): the difference between the stress of the elements and the averaged one.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .elements import CORNERS, EDGES, FOUR, FOUR_WEIGHTS, Floats, gradients, shapes
from .material import Elastic
from .mesh import Mesh

_TO_CORNERS = np.column_stack([np.ones(4), CORNERS]) @ np.linalg.inv(np.column_stack([np.ones(4), FOUR]))


def at_points(
    mesh: Mesh, materials: Sequence[Elastic], moved: Floats, rise: Floats | None = None
) -> tuple[Floats, Floats]:
    """Stress (e, 4, 3, 3) MPa at the quadrature points, and weights (e, 4) mm³.  moved (n, 3) mm; rise (n,) K."""
    slope, size = gradients(mesh.points, mesh.tets, FOUR)
    change = np.einsum("eqai,eaj->eqij", slope, moved[mesh.tets])
    strain = (change + change.swapaxes(-1, -2)) / 2
    lame = np.array([m.lame for m in materials])[mesh.bodies]
    if rise is not None:
        growth = np.array([m.expansion for m in materials])[mesh.bodies]
        here = np.einsum("qa,ea->eq", shapes(FOUR), rise[mesh.tets])
        strain = strain - (growth[:, None] * here)[..., None, None] * np.eye(3)
    trace = np.trace(strain, axis1=-2, axis2=-1)[..., None, None] * np.eye(3)
    stress = lame[:, 0][:, None, None, None] * trace + 2 * lame[:, 1][:, None, None, None] * strain
    return stress, size * FOUR_WEIGHTS


def at_nodes(mesh: Mesh, stress: Floats, weights: Floats) -> Floats:
    """(n, 3, 3): extrapolated to the corners of each element, averaged by volume; middles halfway.  Bodies share no
    nodes, so nothing is averaged across a contact."""
    corners = np.einsum("cq,eqij->ecij", _TO_CORNERS, stress)
    size = weights.sum(axis=1)
    total, share = np.zeros((len(mesh.points), 9)), np.zeros(len(mesh.points))
    np.add.at(total, mesh.tets[:, :4].ravel(), (size[:, None, None, None] * corners).reshape(-1, 9))
    np.add.at(share, mesh.tets[:, :4].ravel(), np.repeat(size, 4))
    found = total / np.where(share > 0, share, 1.0)[:, None]
    ends = mesh.tets[:, EDGES]
    found[mesh.tets[:, 4:]] = (found[ends[:, :, 0]] + found[ends[:, :, 1]]) / 2
    return np.asarray(found.reshape(-1, 3, 3))


def von_mises(stress: Floats) -> Floats:
    deviator = stress - np.trace(stress, axis1=-2, axis2=-1)[..., None, None] * np.eye(3) / 3
    return np.asarray(np.sqrt(1.5 * (deviator**2).sum((-1, -2))))


def principal(stress: Floats) -> Floats:
    """(..., 3), the largest first."""
    return np.asarray(np.linalg.eigvalsh(stress)[..., ::-1])


def energy_error(
    mesh: Mesh, materials: Sequence[Elastic], stress: Floats, weights: Floats, nodal: Floats
) -> tuple[float, Floats]:
    """The share of the energy's root that is in doubt, and each element's part of its square (e,)."""
    smooth = np.einsum("qa,eaij->eqij", shapes(FOUR), nodal[mesh.tets])
    own = _energy(mesh, materials, stress, weights)
    doubt = _energy(mesh, materials, stress - smooth, weights)
    whole = own.sum() + doubt.sum()
    return float(np.sqrt(doubt.sum() / whole)) if whole > 0 else 0.0, doubt


def _energy(mesh: Mesh, materials: Sequence[Elastic], stress: Floats, weights: Floats) -> Floats:
    """(e,): integral of stress times the strain that goes with it, N mm."""
    e, nu = (np.array([getattr(m, k) for m in materials])[mesh.bodies] for k in ("modulus", "poisson"))
    trace = np.trace(stress, axis1=-2, axis2=-1)
    square = ((1 + nu) / e)[:, None] * (stress**2).sum((-1, -2)) - (nu / e)[:, None] * trace**2
    return np.asarray((square * weights).sum(axis=1))
