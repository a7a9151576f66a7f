"""Supports: directions in which nodes are held, each node in a frame of its own where they are askew."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import scipy.sparse as sp

from .elements import Floats, Ints

ASKEW = 0.1  # of the largest, below which a direction of several that hold a node is one with the others


@dataclass(eq=False)
class Held:
    """Rows of (node, direction, amount): the displacement (mm) along a unit direction; and springs that push back:
    (node, direction, N/mm)."""

    nodes: list[Ints] = field(default_factory=list)
    ways: list[Floats] = field(default_factory=list)
    amounts: list[Floats] = field(default_factory=list)
    springs: list[sp.bsr_matrix] = field(default_factory=list)

    def hold(self, nodes: Ints, ways: Floats | Sequence[float], amount: float = 0.0) -> None:
        """ways: one direction for all, or (k, 3)."""
        self.nodes.append(np.asarray(nodes, np.int64))
        self.ways.append(np.broadcast_to(np.asarray(ways, float), (len(nodes), 3)))
        self.amounts.append(np.full(len(nodes), float(amount)))

    def fix(self, nodes: Ints) -> None:
        for way in np.eye(3):
            self.hold(nodes, way)

    @property
    def rows(self) -> tuple[Ints, Floats, Floats]:
        if not self.nodes:
            return np.zeros(0, np.int64), np.zeros((0, 3)), np.zeros(0)
        return np.concatenate(self.nodes), np.concatenate(self.ways), np.concatenate(self.amounts)


@dataclass(frozen=True, eq=False)
class Frames:
    """turns (n, 3, 3): columns are a node's own axes, held ones first; held (n, 3): which of them; amounts (n, 3): mm
    along those."""

    turns: Floats
    held: np.ndarray
    amounts: Floats

    @property
    def free(self) -> np.ndarray:
        return ~self.held.ravel()

    def turned(self, matrix: sp.bsr_matrix) -> sp.bsr_matrix:
        """In the nodes' own axes."""
        rows = np.repeat(np.arange(len(self.turns)), np.diff(matrix.indptr))
        data = np.matmul(np.matmul(self.turns[rows].transpose(0, 2, 1), matrix.data), self.turns[matrix.indices])
        return sp.bsr_matrix((data, matrix.indices, matrix.indptr), shape=matrix.shape)

    def into(self, vectors: Floats) -> Floats:
        return np.asarray(np.einsum("nij,ni->nj", self.turns, vectors))

    def out(self, vectors: Floats) -> Floats:
        return np.asarray(np.einsum("nij,nj->ni", self.turns, vectors))


def frames_of(held: Held, count: int) -> Frames:
    """Directions of a node by singular values: those that are nearly one count once."""
    turns = np.tile(np.eye(3), (count, 1, 1))
    marks = np.zeros((count, 3), bool)
    amounts = np.zeros((count, 3))
    nodes, ways, values = held.rows
    rows: Mapping[int, list[int]] = _grouped(nodes)
    for node, mine in rows.items():
        directions = ways[mine]
        _, sizes, axes = np.linalg.svd(directions)
        rank = int((sizes > ASKEW * sizes[0]).sum())
        turns[node], marks[node, :rank] = axes.T, True
        amounts[node, :rank] = np.linalg.lstsq(directions @ axes.T[:, :rank], values[mine], rcond=None)[0]
    return Frames(turns, marks, amounts)


def _grouped(nodes: Ints) -> dict[int, list[int]]:
    found: dict[int, list[int]] = {}
    for row, node in enumerate(nodes.tolist()):
        found.setdefault(node, []).append(row)
    return found
