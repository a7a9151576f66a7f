"""Linear systems of a mesh: directly where they are small, else by conjugate gradients with two levels.

The preconditioner smooths on the second-order mesh (block Gauss-Seidel, 3 × 3) and solves the first-order one below it
exactly (p-multigrid: Helenbrook, Mascarenhas, Atkins 2003).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import scipy.sparse as sp
import scipy.sparse.linalg as linalg
from pyamg.relaxation.relaxation import block_gauss_seidel
from pyamg.util.utils import get_block_diag

from ..errors import CannotDo
from .assemble import Progress, still
from .elements import EDGES, Floats, Ints

SMALL = 9000  # unknowns, up to which a direct solution is quicker
WITHIN = 1e-9  # relative residual
MOST = 600  # steps

Solver = Callable[[Floats], Floats]


@dataclass(frozen=True, eq=False)
class Solved:
    """steps: of the conjugate gradients, 0 for a direct solution."""

    values: Floats
    steps: int


def prolongation(tets: Ints, count: int) -> sp.csr_matrix:
    """(n, c): from values at corners to all nodes, middles halfway."""
    corners = np.unique(tets[:, :4])
    number = np.full(count, -1)
    number[corners] = np.arange(len(corners))
    edges = np.column_stack([tets[:, EDGES[:, 0]].ravel(), tets[:, EDGES[:, 1]].ravel()])
    middles, first = np.unique(tets[:, 4:].ravel(), return_index=True)
    ends = edges[first]
    rows = np.concatenate([corners, middles, middles])
    columns = np.concatenate([number[corners], number[ends[:, 0]], number[ends[:, 1]]])
    values = np.concatenate([np.ones(len(corners)), np.full(2 * len(middles), 0.5)])
    return sp.csr_matrix((values, (rows, columns)), shape=(count, len(corners)))


class System:
    """A symmetric positive matrix (3n, 3n) in blocks of 3 with some unknowns held; factored once for many loads."""

    def __init__(self, matrix: sp.bsr_matrix, free: np.ndarray, tets: Ints, turns: Floats) -> None:
        """free (3n,): not held, in the nodes' own axes `turns` (n, 3, 3) in which the matrix is."""
        self.free, self.size = free, matrix.shape[0]
        keep = sp.diags_array(free.astype(float)).tobsr((3, 3))
        scale = float(np.abs(matrix.data).max())
        # held unknowns stay in as rows of their own, so that blocks stay whole
        held = keep @ matrix @ keep + sp.diags_array(np.where(free, 0.0, scale)).tobsr((3, 3))
        self.matrix = held.tobsr((3, 3))
        self.matrix.sort_indices()
        self._direct: Solver | None = None
        if free.sum() <= SMALL:
            self._direct = linalg.splu(self.matrix.tocsc(), permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0,
                                       options={"SymmetricMode": True}).solve  # fmt: skip
            return
        plain = prolongation(tets, self.size // 3)
        blocks = turns.transpose(0, 2, 1)
        rows = np.repeat(np.arange(plain.shape[0]), np.diff(plain.indptr))
        data = plain.data[:, None, None] * blocks[rows]
        lift = sp.bsr_matrix((data, plain.indices, plain.indptr), shape=(self.size, 3 * plain.shape[1]))
        self._lift = (keep @ lift).tobsr((3, 3))
        coarse = (self._lift.T @ (self.matrix @ self._lift)).tocsc()
        weak = coarse.diagonal() < 1e-9 * coarse.diagonal().max()
        coarse = coarse + sp.diags_array(np.where(weak, scale, 0.0)).tocsc()
        self._coarse = linalg.splu(coarse, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0,
                                   options={"SymmetricMode": True}).solve  # fmt: skip
        self._blocks = np.linalg.inv(get_block_diag(self.matrix, blocksize=3, inv_flag=False))

    @property
    def is_direct(self) -> bool:
        return self._direct is not None

    def smoothed(self, rest: Floats) -> Floats:
        """One step of the preconditioner."""
        found = np.zeros_like(rest)
        block_gauss_seidel(self.matrix, found, rest, iterations=1, sweep="forward", blocksize=3, Dinv=self._blocks)
        found += self._lift @ self._coarse(self._lift.T @ (rest - self.matrix @ found))
        block_gauss_seidel(self.matrix, found, rest, iterations=1, sweep="backward", blocksize=3, Dinv=self._blocks)
        return found

    def solve(self, load: Floats, progress: Progress = still, start: Floats | None = None) -> Solved:
        """load (3n,); held unknowns come out 0; start: a solution near by.  Raises CannotDo where it does not
        converge."""
        right = np.where(self.free, load, 0.0)
        if self._direct is not None:
            return Solved(self._direct(right), 0)
        if not right.any():
            return Solved(np.zeros_like(right), 0)
        steps = 0

        def told(_: Floats) -> None:
            nonlocal steps
            steps += 1
            progress(min(steps / 60, 0.99), f"solving, step {steps}")

        inverse = linalg.LinearOperator(self.matrix.shape, self.smoothed, dtype=float)
        found, failed = linalg.cg(self.matrix, right, x0=start, rtol=WITHIN, maxiter=MOST, M=inverse, callback=told)
        if failed:
            raise CannotDo(
                f"the equations did not come to rest in {MOST} steps; a finer or better shaped mesh may help"
            )
        return Solved(np.asarray(found), steps)
