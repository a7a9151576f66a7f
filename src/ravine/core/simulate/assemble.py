"""Matrices of a mesh: stiffness, mass, conduction; sums over elements, not one at a time."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import scipy.sparse as sp

from .elements import ELEVEN, ELEVEN_WEIGHTS, FOUR, FOUR_WEIGHTS, Floats, Ints, gradients, shapes
from .material import Elastic
from .mesh import Mesh

CHUNK = 4000  # elements at once
Progress = Callable[[float, str], None]


def still(fraction: float, words: str) -> None:
    """Nobody looks on."""


def pattern(tets: Ints, nodes: int) -> tuple[Ints, Ints, Ints]:
    """Rows and columns of the nodes that meet (CSR), and for every element and pair of its nodes their place there."""
    count, each = tets.shape
    keys = (tets[:, :, None].astype(np.int64) * nodes + tets[:, None, :]).ravel()
    order = np.argsort(keys, kind="stable")
    ranked = keys[order]
    first = np.ones(len(ranked), bool)
    first[1:] = ranked[1:] != ranked[:-1]
    unique = ranked[first]
    starts = np.zeros(nodes + 1, np.int64)
    np.cumsum(np.bincount(unique // nodes, minlength=nodes), out=starts[1:])
    place = np.empty(len(ranked), np.int64)
    place[order] = np.cumsum(first) - 1
    return starts, unique % nodes, place.reshape(count, each, each)


def stiffness(mesh: Mesh, materials: Sequence[Elastic], progress: Progress = still) -> sp.bsr_matrix:
    """(3n, 3n) in blocks of 3, N/mm."""
    nodes = len(mesh.points)
    starts, columns, place = pattern(mesh.tets, nodes)
    data = np.zeros((len(columns), 9))
    lame = np.array([m.lame for m in materials])[mesh.bodies]
    for start in range(0, len(mesh.tets), CHUNK):
        rows = slice(start, start + CHUNK)
        blocks = _element(mesh.points, mesh.tets[rows], lame[rows]).reshape(-1, 9)
        _add(data, place[rows].ravel(), blocks)
        progress(start / len(mesh.tets), "stiffness")
    return sp.bsr_matrix((data.reshape(-1, 3, 3), columns, starts), shape=(3 * nodes, 3 * nodes))


def _element(points: Floats, tets: Ints, lame: Floats) -> Floats:
    """(e, a, b, i, j): λ ∂i ∂j + μ (∂j ∂i + δij ∂k ∂k), integrated."""
    slope, size = gradients(points, tets, FOUR)
    rows = slope.transpose(0, 2, 3, 1).reshape(len(tets), 30, 4)
    pairs = np.matmul(rows * (size * FOUR_WEIGHTS)[:, None, :], rows.transpose(0, 2, 1)).reshape(-1, 10, 3, 10, 3)
    first, second = lame[:, 0][:, None, None, None, None], lame[:, 1][:, None, None, None, None]
    found = first * pairs + second * pairs.transpose(0, 1, 4, 3, 2)
    trace = second[:, :, 0, :, 0] * (pairs[:, :, 0, :, 0] + pairs[:, :, 1, :, 1] + pairs[:, :, 2, :, 2])
    for i in range(3):
        found[:, :, i, :, i] += trace
    return np.asarray(found.transpose(0, 1, 3, 2, 4))


def _add(data: Floats, place: Ints, blocks: Floats) -> None:
    """Sum blocks into their places; several may go to one."""
    unique, inverse = np.unique(place, return_inverse=True)
    gather = sp.csr_matrix((np.ones(len(place)), inverse.ravel(), np.arange(len(place) + 1)),
                           shape=(len(place), len(unique)))  # fmt: skip
    data[unique] += gather.T @ blocks


def mass(mesh: Mesh, materials: Sequence[Elastic]) -> sp.csr_matrix:
    """(n, n) of the nodes, t: the same for each of the three directions."""
    values = shapes(ELEVEN)
    products = np.einsum("q,qa,qb->qab", ELEVEN_WEIGHTS, values, values)
    density = np.array([m.density for m in materials])[mesh.bodies]
    starts, columns, place = pattern(mesh.tets, len(mesh.points))
    data = np.zeros((len(columns), 1))
    for start in range(0, len(mesh.tets), CHUNK):
        rows = slice(start, start + CHUNK)
        _, size = gradients(mesh.points, mesh.tets[rows], ELEVEN)
        blocks = np.einsum("e,eq,qab->eab", density[rows], size, products, optimize=True)
        _add(data, place[rows].ravel(), blocks.reshape(-1, 1))
    return sp.csr_matrix((data[:, 0], columns, starts), shape=(len(mesh.points),) * 2)


def conduction(mesh: Mesh, materials: Sequence[Elastic]) -> sp.csr_matrix:
    """(n, n), mW/K."""
    starts, columns, place = pattern(mesh.tets, len(mesh.points))
    data = np.zeros((len(columns), 1))
    share = np.array([m.conductivity for m in materials])[mesh.bodies]
    for start in range(0, len(mesh.tets), CHUNK):
        rows = slice(start, start + CHUNK)
        slope, size = gradients(mesh.points, mesh.tets[rows], FOUR)
        blocks = np.einsum("e,eq,eqai,eqbi->eab", share[rows], size * FOUR_WEIGHTS, slope, slope, optimize=True)
        _add(data, place[rows].ravel(), blocks.reshape(-1, 1))
    return sp.csr_matrix((data[:, 0], columns, starts), shape=(len(mesh.points),) * 2)
