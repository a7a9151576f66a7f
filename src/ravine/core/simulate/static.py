"""A problem of statics put together and solved, with what its supports push back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import scipy.sparse as sp

from ..errors import EditError
from . import stress as stresses
from .assemble import Progress, stiffness, still
from .contact import Tie
from .elements import Floats, Ints
from .loads import warmth
from .loose import Loose, loose_motions
from .material import Elastic
from .mesh import Mesh
from .solve import System
from .supports import Frames, Held, frames_of

CARED = 1e-6  # share of the load's work along a loose motion, above which it would run away
SOFT = 1e-7  # of the stiffness' scale, with which what nothing pushes is held


@dataclass(eq=False)
class Problem:
    """load (n, 3) N; rise (n,) K against where nothing is strained, None for none; places: what supports are called,
    with their nodes, to tell what each pushes back."""

    mesh: Mesh
    materials: Sequence[Elastic]
    held: Held
    load: Floats
    ties: Sequence[Tie] = ()
    rise: Floats | None = None
    places: Mapping[str, Ints] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Solution:
    """moved (n, 3) mm; stress (n, 3, 3) MPa at nodes; reactions: N by support; balance: what is left of the sum of
    loads and reactions, relative; error: share of the energy's root in doubt; doubt (e,): of each element; steps: of
    the solver; soft: loose motions that were held softly."""

    problem: Problem
    moved: Floats
    stress: Floats
    reactions: dict[str, Floats]
    balance: float
    error: float
    doubt: Floats
    steps: int
    soft: tuple[Loose, ...]

    @property
    def von_mises(self) -> Floats:
        return stresses.von_mises(self.stress)

    @property
    def lengths(self) -> Floats:
        return np.asarray(np.linalg.norm(self.moved, axis=1))


def solve_static(problem: Problem, names: Sequence[str], progress: Progress = still) -> Solution:
    """names: of the bodies.  Raises EditError for what nothing holds though the load pushes it."""
    mesh = problem.mesh
    soft = loose_motions(mesh, problem.held, problem.ties, problem.load)
    pushed = [m for m in soft if m.push > CARED]
    if pushed:
        raise EditError(f"nothing holds it: {'; '.join(m.told(names) for m in pushed)}")
    progress(0.05, "stiffness")
    plain = stiffness(mesh, problem.materials, lambda f, w: progress(0.05 + 0.15 * f, w))
    matrix = joined(plain, problem, soft)
    frames = frames_of(problem.held, len(mesh.points))
    load = problem.load
    if problem.rise is not None:
        load = load + warmth(mesh, problem.materials, problem.rise)
    given = frames.out(np.where(frames.held, frames.amounts, 0.0))
    right = load - (matrix @ given.ravel()).reshape(-1, 3) if given.any() else load
    system = System(frames.turned(matrix), frames.free, mesh.tets, frames.turns)
    progress(0.3, "solving")
    solved = system.solve(frames.into(right).ravel(), lambda f, w: progress(0.3 + 0.6 * f, w))
    moved = given + frames.out(solved.values.reshape(-1, 3))
    progress(0.92, "stresses")
    stress, weights = stresses.at_points(mesh, problem.materials, moved, problem.rise)
    nodal = stresses.at_nodes(mesh, stress, weights)
    error, doubt = stresses.energy_error(mesh, problem.materials, stress, weights, nodal)
    rest = (matrix @ moved.ravel()).reshape(-1, 3) - load
    reactions, balance = _reactions(problem, frames, rest, load)
    return Solution(problem, moved, nodal, reactions, balance, error, doubt, solved.steps, tuple(soft))


def joined(plain: sp.bsr_matrix, problem: Problem, soft: Sequence[Loose] = ()) -> sp.bsr_matrix:
    """Stiffness with springs and contacts, and a touch of it against motions that nothing else holds."""
    matrix = plain
    for more in [*problem.held.springs, *(t.matrix() for t in problem.ties)]:
        matrix = matrix + more
    if soft:
        matrix = matrix + SOFT * sp.diags_array(plain.diagonal()).tobsr((3, 3))
    found = matrix.tobsr((3, 3))
    found.sort_indices()
    return found


def _reactions(problem: Problem, frames: Frames, rest: Floats, load: Floats) -> tuple[dict[str, Floats], float]:
    held = frames.out(np.where(frames.held, frames.into(rest), 0.0))
    found = {name: held[nodes].sum(axis=0) for name, nodes in problem.places.items()}
    whole = float(np.abs(load).sum()) or 1.0
    return found, float(np.abs(held.sum(axis=0) + problem.load.sum(axis=0)).max() / whole)
