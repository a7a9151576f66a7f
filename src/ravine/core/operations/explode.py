"""Parts drawn apart by steps that are kept under a name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..model.explosion import FIRST, Explosion, ExplosionStep
from ..model.records import EXPLOSIONS
from ..model.references import Reference
from ..model.snapshot import Snapshot
from ..model.words import plural
from ..rigid import Rigid, vec_of
from .axes import Placing, placing
from .move_body import middle_of_part
from .placed_moves import placing_handle
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class Spread(Operation):
    """One more step of those kept under a name: parts go along a direction, all with what lies below them.  Looked at,
    the parts stand where all the steps take them."""

    parts: tuple[Reference, ...]
    called: str = FIRST
    along: str = "z"
    axis: tuple[Reference, ...] | None = None
    distance: float = 0.0

    def do(self, work: Work) -> Outcome:
        rows = work.snapshot.kept(EXPLOSIONS)
        steps = rows[self.called].steps if self.called in rows else ()
        if abs(self.distance) < 1e-9:
            if steps and work.mode.shows:  # so far
                return Outcome(exploded(work.snapshot, Explosion(steps)))
            raise EditError("a step of no length draws nothing apart", field="distance")
        way = self._placing(work).along(self.along)
        steps = (*steps, ExplosionStep(tuple(p.number for p in self.parts), vec_of(self.distance * way)))
        facts = (Fact("steps", "steps", float(len(steps)), "count"),)
        if work.mode.shows:
            return Outcome(exploded(work.snapshot, Explosion(steps)), facts)
        return Outcome(work.snapshot.with_kept(EXPLOSIONS, {**rows, self.called: Explosion(steps)}), facts)

    def _placing(self, work: Work) -> Placing:
        """At where the first part stands after the steps so far."""
        found = work.snapshot.kept(EXPLOSIONS).get(self.called)
        so_far = total_shifts(work.snapshot, found) if found else {}
        leaf = work.snapshot.leaves_below(self.parts[0].number)[0]
        return placing(work, self.axis, middle_of_part(work, self.parts[0]) + so_far.get(leaf, np.zeros(3)))

    def handle(self, work: Work) -> Handle | None:
        return replace(placing_handle(self._placing(work), self.along), turn="")


@dataclass(frozen=True, kw_only=True)
class Gather(Operation):
    """Takes back one step of those under a name, counted from one, or all of them."""

    called: str
    step: int | None = None

    def do(self, work: Work) -> Outcome:
        rows = dict(work.snapshot.kept(EXPLOSIONS))
        if self.called not in rows:
            known = ", ".join(rows) or "none yet"
            raise EditError(f"nothing is drawn apart under the name {self.called}; there is {known}", field="called")
        steps = rows[self.called].steps
        if self.step is not None and not 1 <= self.step <= len(steps):
            raise EditError(f"{self.called} has {plural(len(steps), 'step')}", field="step", nearest=str(len(steps)))
        left = () if self.step is None else steps[: self.step - 1] + steps[self.step :]
        if left:
            rows[self.called] = Explosion(left)
        else:
            del rows[self.called]
        return Outcome(work.snapshot.with_kept(EXPLOSIONS, rows))


def shifts_of(snapshot: Snapshot, explosion: Explosion) -> list[dict[int, tuple[float, float, float]]]:
    """For each step how far (mm) it takes each place that shows a body."""
    below = {n: snapshot.leaves_below(n) for step in explosion.steps for n in step.nodes if n in snapshot.nodes}
    return explosion.shifts(below)


def total_shifts(snapshot: Snapshot, explosion: Explosion) -> dict[int, Floats]:
    return summed(shifts_of(snapshot, explosion))


def summed(steps: Sequence[dict[int, tuple[float, float, float]]]) -> dict[int, Floats]:
    found: dict[int, Floats] = {}
    for step in steps:
        for leaf, shift in step.items():
            found[leaf] = found.get(leaf, np.zeros(3)) + shift
    return found


def exploded(snapshot: Snapshot, explosion: Explosion) -> Snapshot:
    """Everything where the steps take it: for views and drawings, never to be kept."""
    shifts = total_shifts(snapshot, explosion)
    nodes = dict(snapshot.nodes)
    for node, matrix, _ in snapshot.walk():
        if node.id in shifts:
            above = matrix @ node.placement.inverse
            there = above.inverse @ (Rigid.slide(vec_of(shifts[node.id])) @ matrix)
            nodes[node.id] = replace(node, placement=there)
    return replace(snapshot, nodes=nodes)
