"""Newton's method over the motions of rigid parts: every step the least motion that meets all rows to first order.

What least means is weighed: parts that stand still do not move, those that should rather stay count as a thousand
times as heavy.  Rows may repeat one another; where they contradict, what is left tells it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.linalg import cho_factor, cho_solve
from scipy.sparse import csr_array, eye_array
from scipy.sparse.linalg import splu

from ..local.surfaces import Floats
from ..rigid import Rigid
from .equations import Stacked, System

STEPS = 80
NUDGES, NUDGE = 4, 0.02  # how often, and by how much of the whole (and rad), parts leave a dead point
LEAST_DAMPING, MOST_DAMPING = 1e-12, 1e6  # of the mean square of the rows
TRUE, HOLDS = 1e-13, 1e-9  # of the whole: by which a row may be missed when it is left alone, and when it holds
MANY = 120  # rows, from which few of the parts have to do with one another
MOST_TURN = 0.4  # rad in one step
STILL, HEAVY = 0.0, 1e-3  # how easily something moves


@dataclass(frozen=True)
class Solved:
    """motions: what all that a unit carries is moved by in the model, with the units around it; missed: mm, by row;
    length: of the whole, mm."""

    motions: tuple[Rigid, ...]
    missed: Floats
    length: float

    @property
    def holds(self) -> bool:
        return not len(self.missed) or float(np.abs(self.missed).max()) <= HOLDS * self.length


def solve(system: System, chains: Sequence[tuple[int, ...]], ease: Mapping[int, float]) -> Solved:
    """chains: of every unit the units that carry it, outermost first and itself last; ease: how easily a unit moves, 1
    where it is not told.  Where the parts stand in a dead point, as links in one line do, they are nudged out of it."""
    scale = np.repeat([ease.get(u, 1.0) for u in range(len(chains))], 6)
    found = _searched(Stacked(system, chains), scale)
    draw = np.random.default_rng(1)
    for _ in range(NUDGES if scale.any() else 0):
        if found.holds:
            break
        here = Stacked(system, chains)
        here.move((draw.standard_normal(scale.shape) * (scale > 0) * NUDGE * here.length).reshape(-1, 6))
        again = _searched(here, scale)
        if np.abs(again.missed).max() < np.abs(found.missed).max():
            found = again
    return found


def _searched(here: Stacked, scale: Floats) -> Solved:
    """Newton's steps, damped where they do not lead nearer (Levenberg and Marquardt)."""
    missed, damping = here.residuals(), LEAST_DAMPING
    for _ in range(STEPS):
        if not len(missed) or float(np.abs(missed).max()) <= TRUE * here.length:
            break
        step = _least(here.jacobian() * scale, -missed, damping) * scale
        turns = np.linalg.norm(step.reshape(-1, 6)[:, :3], axis=1) / here.length
        step *= min(1.0, MOST_TURN / max(float(turns.max(initial=0.0)), 1e-30))
        if float(np.abs(step).max(initial=0.0)) < 1e-14 * here.length:
            break
        kept = here.kept()
        here.move(step.reshape(-1, 6))
        left = here.residuals()
        if float(left @ left) < float(missed @ missed):
            missed, damping = left, max(damping / 100, LEAST_DAMPING)
            continue
        here.back_to(kept)
        damping = max(damping * 100, 1e-6)
        if damping > MOST_DAMPING or float(np.abs(missed).max()) <= HOLDS * here.length / 10:
            break
    return Solved(tuple(Rigid(m.reshape(-1).tolist()) for m in here.motions), missed, here.length)


def _least(matrix: Floats, wanted: Floats, damping: float) -> Floats:
    """The shortest of all solutions; rows that repeat one another share what is wanted of them."""
    if len(matrix) > MANY:
        thin = csr_array(matrix)
        whole = (thin @ thin.T).tocsc()
        level = damping * max(float(whole.trace()) / len(matrix), 1e-30)
        shares = splu((whole + level * eye_array(len(matrix))).tocsc()).solve(wanted)
        return np.asarray(thin.T @ shares)
    square = matrix @ matrix.T
    square[np.diag_indices_from(square)] += damping * max(float(np.trace(square)) / len(square), 1e-30)
    found: Floats = matrix.T @ cho_solve(cho_factor(square), wanted)
    return found


def groups(links: Sequence[set[int]]) -> list[set[int]]:
    """Numbers that hang together through links, each a few numbers."""
    found: list[set[int]] = []
    for link in links:
        own, apart = set(link), []
        for group in found:
            if group & own:
                own |= group
            else:
                apart.append(group)
        found = [*apart, own]
    return found
