"""Which bodies are still free to move, and how: before anything is solved.

The rigid motions of all bodies that no support and no contact resists are the null space of one small matrix.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from .contact import Tie
from .elements import Floats
from .mesh import Mesh
from .supports import Held

NOTHING = 1e-5  # of the largest eigenvalue
PURE = 1e-3


@dataclass(frozen=True, eq=False)
class Loose:
    """A motion of bodies that nothing holds: moves (bodies, 6): for each, a shift (mm) of its middle and a turn by
    shift / size; field (n, 3): at nodes; push: share of the load's work along it, 0 where the load does not care."""

    moves: Floats
    field: Floats
    middles: Floats
    sizes: Floats
    push: float

    def told(self, names: Sequence[str]) -> str:
        """Per body in words, way and place to three figures."""
        rows = []
        for name, move, middle, size in zip(names, self.moves, self.middles, self.sizes, strict=True):
            shift, turn = move[:3], move[3:] / size
            if np.linalg.norm(move) < PURE * np.abs(self.moves).max():
                continue
            if np.linalg.norm(turn) * size < PURE * np.linalg.norm(shift):
                rows.append(f"{name} slides along {_way(shift)}")
            else:
                axis = turn / np.linalg.norm(turn)
                point = middle + np.cross(turn, shift) / (turn @ turn)
                point = point - (point @ axis) * axis
                rows.append(f"{name} turns about {_way(axis)} through {_figures(point)}")
        return ", ".join(rows)


def _way(v: Floats) -> str:
    unit = v / np.linalg.norm(v)
    for k, letter in enumerate("XYZ"):
        if abs(unit[k]) > 1 - 1e-6:
            return letter
    return _figures(unit)


def _figures(v: Floats) -> str:
    return "(" + ", ".join(f"{x + 0.0:.3g}" if abs(x) > 1e-6 else "0" for x in v) + ")"


def loose_motions(mesh: Mesh, held: Held, ties: Sequence[Tie], load: Floats | None = None) -> list[Loose]:
    count = int(mesh.bodies.max()) + 1
    basis = np.zeros((len(mesh.points), 3, 6))
    middles, sizes = np.zeros((count, 3)), np.zeros(count)
    body = mesh.body_of_node
    for b in range(count):
        own = body == b
        points = mesh.points[own]
        middles[b] = points.mean(axis=0)
        sizes[b] = np.sqrt(((points - middles[b]) ** 2).sum(axis=1).mean())
        basis[own] = _rigid((points - middles[b]) / sizes[b])
    resists = np.zeros((6 * count, 6 * count))
    nodes, ways, _ = held.rows
    for b in range(count):
        own = body[nodes] == b
        if own.any():
            rows = np.einsum("ki,kij->kj", ways[own], basis[nodes[own]])
            resists[6 * b : 6 * b + 6, 6 * b : 6 * b + 6] += rows.T @ rows / own.sum()
    for spring in held.springs:
        spread = _spread(basis, body, count)
        rows = spread.T @ (spring @ spread)
        resists += rows / max(float(np.trace(rows)), 1e-300)
    for one in ties:
        spread = _spread(basis, body, count).reshape(len(mesh.points), -1)
        parted = (one.gap @ spread).reshape(len(one.areas), 3, 6 * count)
        share = one.areas / one.areas.sum()
        if one.sliding:
            along = np.einsum("qi,qij->qj", one.normals, parted)
            resists += (along * share[:, None]).T @ along
        else:
            resists += np.einsum("q,qij,qik->jk", share, parted, parted)
    values, vectors = np.linalg.eigh(resists)
    found = []
    for row in _plain(vectors[:, values < NOTHING * max(float(values.max()), 1e-30)].T):
        moves = row.reshape(count, 6)
        field = np.einsum("nij,nj->ni", basis, moves[body])
        push = 0.0
        if load is not None and np.abs(load).sum() > 0:
            push = abs(float((field * load).sum())) / float(np.linalg.norm(load, axis=1).sum() * np.abs(field).max())
        found.append(Loose(moves, field, middles, sizes, push))
    return found


def _plain(rows: Floats) -> Floats:
    """The same motions (d, 6 bodies), each as few things as can be: shifts along the axes first (Gauss and Jordan)."""
    rows = rows.copy()
    shifts = np.arange(rows.shape[1]) % 6 < 3
    done = 0
    for column in (*np.flatnonzero(shifts), *np.flatnonzero(~shifts)):
        if done == len(rows):
            break
        best = done + int(np.abs(rows[done:, column]).argmax())
        if abs(rows[best, column]) < PURE:
            continue
        rows[[done, best]] = rows[[best, done]]
        rows[done] /= rows[done, column]
        others = np.arange(len(rows)) != done
        rows[others] -= np.outer(rows[others, column], rows[done])
        done += 1
    return np.asarray(rows / np.linalg.norm(rows, axis=1, keepdims=True)) if len(rows) else rows


def _rigid(arms: Floats) -> Floats:
    """(k, 3, 6): shifts, and turns by shift over size, at places (k, 3)."""
    found = np.zeros((len(arms), 3, 6))
    found[:, 0, 0] = found[:, 1, 1] = found[:, 2, 2] = 1
    found[:, 1, 3], found[:, 2, 3] = -arms[:, 2], arms[:, 1]
    found[:, 0, 4], found[:, 2, 4] = arms[:, 2], -arms[:, 0]
    found[:, 0, 5], found[:, 1, 5] = -arms[:, 1], arms[:, 0]
    return found


def _spread(basis: Floats, body: np.ndarray, count: int) -> Floats:
    """(3n, 6 bodies)."""
    found = np.zeros((len(basis), 3, 6 * count))
    for b in range(count):
        own = body == b
        found[own, :, 6 * b : 6 * b + 6] = basis[own]
    return found.reshape(3 * len(basis), 6 * count)
