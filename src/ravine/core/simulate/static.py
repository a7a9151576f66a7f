"""A problem of statics put together and solved, with what its supports push back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial

import numpy as np
import scipy.sparse as sp
from numpy.typing import NDArray

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

ROUNDS = 25  # of solving with contacts that open and close
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
    the solver; soft: loose motions that were held softly; rounds: until contacts that open and close stood still, 0
    without such; unsettled: places of them that still changed."""

    problem: Problem
    moved: Floats
    stress: Floats
    reactions: dict[str, Floats]
    balance: float
    error: float
    doubt: Floats
    steps: int
    soft: tuple[Loose, ...]
    rounds: int = 0
    unsettled: int = 0

    @property
    def von_mises(self) -> Floats:
        return stresses.von_mises(self.stress)

    @property
    def lengths(self) -> Floats:
        return np.asarray(np.linalg.norm(self.moved, axis=1))


def solve_static(problem: Problem, names: Sequence[str], progress: Progress = still) -> Solution:
    """names: of the bodies.  Raises EditError for what nothing holds though the load pushes it, or what comes off."""
    mesh = problem.mesh
    closed, soft = _closed_at_first(problem, names)
    progress(0.05, "stiffness")
    plain = stiffness(mesh, problem.materials, lambda f, w: progress(0.05 + 0.15 * f, w))
    frames = frames_of(problem.held, len(mesh.points))
    load = problem.load
    if problem.rise is not None:
        load = load + warmth(mesh, problem.materials, problem.rise)
    given = frames.out(np.where(frames.held, frames.amounts, 0.0))
    changing = any(t.opening for t in problem.ties)
    rounds, values, unsettled, part = 0, None, 0, 0.6 / (ROUNDS if changing else 1)
    while True:
        ties = [t if c is None else t.where(c) for t, c in zip(problem.ties, closed, strict=True)]
        matrix = joined(plain, problem, ties, soft)
        whole = load + sum((t.closing() for t in ties if t.opening), np.zeros_like(load))
        right = whole - (matrix @ given.ravel()).reshape(-1, 3) if given.any() else whole
        system = System(frames.turned(matrix), frames.free, mesh.tets, frames.turns)
        at = 0.3 + part * rounds
        progress(at, f"solving, contacts round {rounds + 1}" if changing else "solving")
        solved = system.solve(frames.into(right).ravel(), partial(_within, progress, at, part), values)
        values = solved.values
        moved = given + frames.out(values.reshape(-1, 3))
        if not changing:
            break
        rounds += 1
        after = [None if c is None else t.pressed(moved) for t, c in zip(problem.ties, closed, strict=True)]
        unsettled = sum(int((a != c).sum()) for a, c in zip(after, closed, strict=True) if a is not None)
        if not unsettled or rounds == ROUNDS:
            break
        closed, soft = after, _held_by(problem, after, names, "nothing presses it on any more")
    progress(0.92, "stresses")
    stress, weights = stresses.at_points(mesh, problem.materials, moved, problem.rise)
    nodal = stresses.at_nodes(mesh, stress, weights)
    error, doubt = stresses.energy_error(mesh, problem.materials, stress, weights, nodal)
    rest = (matrix @ moved.ravel()).reshape(-1, 3) - whole
    reactions, balance = _reactions(problem, frames, rest, load)
    return Solution(
        problem, moved, nodal, reactions, balance, error, doubt, solved.steps, tuple(soft), rounds, unsettled
    )


def _within(progress: Progress, start: float, part: float, fraction: float, words: str) -> None:
    progress(start + part * fraction, words)


Closed = list[NDArray[np.bool_] | None]


def _closed_at_first(problem: Problem, names: Sequence[str]) -> tuple[Closed, list[Loose]]:
    """Where contacts that open are closed to begin with: where they touch; all of them, where without those a part
    would be held by nothing."""
    first: Closed = [t.touching if t.opening else None for t in problem.ties]
    try:
        return first, _held_by(problem, first, names, "nothing holds it")
    except EditError:
        every: Closed = [np.ones(len(t.areas), bool) if t.opening else None for t in problem.ties]
        return every, _held_by(problem, every, names, "nothing holds it")


def _held_by(problem: Problem, closed: Closed, names: Sequence[str], why: str) -> list[Loose]:
    """Motions that nothing holds or pushes.  Raises EditError, with the reason, for those that the load pushes."""
    ties = [t if c is None else t.where(c) for t, c in zip(problem.ties, closed, strict=True)]
    soft = loose_motions(problem.mesh, problem.held, [t for t in ties if len(t.areas)], problem.load)
    pushed = [m for m in soft if m.push > CARED]
    if pushed:
        raise EditError(f"{why}: {'; '.join(m.told(names) for m in pushed)}")
    return soft


def joined(
    plain: sp.bsr_matrix, problem: Problem, ties: Sequence[Tie] | None = None, soft: Sequence[Loose] = ()
) -> sp.bsr_matrix:
    """Stiffness with springs and contacts, and a touch of it against motions that nothing else holds.  ties: as they
    are closed; where they touch, without."""
    matrix = plain
    if ties is None:
        ties = [t.where(t.touching) if t.opening else t for t in problem.ties]
    for more in [*problem.held.springs, *(t.matrix() for t in ties if len(t.areas))]:
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
