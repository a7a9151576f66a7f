"""Natural frequencies and their shapes: the lowest solutions of K u = ω² M u."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy.sparse as sp
import scipy.sparse.linalg as linalg

from .assemble import Progress, mass, stiffness, still
from .elements import Floats
from .solve import System
from .static import Problem, joined
from .supports import frames_of

WITHIN = 1e-3  # of a residual, relative to what the first guess weighs; frequencies are off by its square
PASSES = 4  # of the preconditioner, for a first guess
MOST = 200
SHIFT = 1e-3  # of the mean stiffness over mass, that keeps free bodies from making the matrix singular


@dataclass(frozen=True, eq=False)
class Mode:
    """hertz; shape (n, 3), its largest displacement 1."""

    hertz: float
    shape: Floats


def natural_modes(problem: Problem, count: int, names: Sequence[str], progress: Progress = still) -> list[Mode]:
    """The lowest ones, of what is not held; rigid motions of what is free come first, at 0 Hz.  By blocks of
    preconditioned conjugate gradients (LOBPCG: Knyazev 2001)."""
    mesh = problem.mesh
    matrix = joined(stiffness(mesh, problem.materials), problem)
    weights = sp.kron(mass(mesh, problem.materials), sp.eye_array(3)).tobsr((3, 3))
    frames = frames_of(problem.held, len(mesh.points))
    keep = sp.diags_array(frames.free.astype(float)).tobsr((3, 3))
    inert = (keep @ frames.turned(weights) @ keep).tocsr()
    size = float(matrix.diagonal().sum() / weights.diagonal().sum())
    shift = SHIFT * size * float((mesh.sizes.mean() / np.ptp(mesh.points, axis=0).max()) ** 2)
    system = System(frames.turned((matrix + shift * weights).tobsr((3, 3))), frames.free, mesh.tets, frames.turns)
    progress(0.3, "frequencies")
    rng = np.random.default_rng(7)
    start = rng.standard_normal((matrix.shape[0], count + 3)) * frames.free[:, None]
    for k in range(start.shape[1]):  # smooth guesses
        start[:, k] = _smooth(system, inert @ start[:, k])
    first = start[:, 0] / math.sqrt(float(start[:, 0] @ (inert @ start[:, 0])))
    within = WITHIN * float(first @ (system.matrix @ first)) * float(np.linalg.norm(inert @ first))
    steps = 0

    def inverse(block: Floats) -> Floats:
        nonlocal steps
        steps += 1
        progress(0.3 + 0.6 * min(steps / 40, 1.0), f"frequencies, step {steps}")
        rows = np.atleast_2d(block.T)
        solved = [system.solve(r).values if system.is_direct else system.smoothed(r) for r in rows]
        return np.asarray(np.array(solved).T * frames.free[:, None])

    # held unknowns get a mass, too, and so lie far above the rest
    filled = (inert + sp.diags_array(np.where(frames.free, 0.0, weights.diagonal().mean()))).tocsr()
    smoother = linalg.LinearOperator(matrix.shape, dtype=float, matvec=inverse, matmat=inverse)
    values, vectors = linalg.lobpcg(
        system.matrix.tocsr(), start, B=filled, M=smoother, largest=False, tol=within, maxiter=MOST,
    )  # fmt: skip
    found = []
    for k in np.argsort(values)[:count]:
        shape = frames.out(vectors[:, k].reshape(-1, 3))
        omega = max(float(values[k]) - shift, 0.0)
        found.append(Mode(math.sqrt(omega) / (2 * math.pi), shape / np.linalg.norm(shape, axis=1).max()))
    return found


def _smooth(system: System, load: Floats) -> Floats:
    """About what a load bends it to."""
    if system.is_direct:
        return system.solve(load).values
    found = np.zeros_like(load)
    for _ in range(PASSES):
        found += system.smoothed(load - system.matrix @ found)
    return found
