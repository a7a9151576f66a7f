"""A part moved as its joints leave it free, with what is joined to it; until it meets another part, when asked."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..assembly.assembled import Assembled, assembled
from ..assembly.freedoms import Freedom, freedoms_of
from ..clearance.pairs import gap_between, gaps_between
from ..errors import EditError
from ..local.surfaces import Floats
from ..model.joint import SLIDES, TURNS
from ..model.references import Reference
from ..model.snapshot import Snapshot
from ..rigid import Rigid, vec_of
from ..tolerances import TOUCHING
from .joints import follow_joints, moved_place, placed_at
from .work import Fact, Handle, Operation, Outcome, Work

ADVANCES = 60
MET = 1e-4  # mm, within which two parts are told to touch
CAREFUL = 0.7  # of the room between two parts, that they come nearer in one step


@dataclass(frozen=True, kw_only=True)
class MoveFree(Operation):
    """motion: of TURNS or SLIDES; angle: rad, for a turn; distance: mm, for a slide; contact: through or stop."""

    part: tuple[Reference, ...]
    motion: str = "turn"
    angle: float = 0.0
    distance: float = 0.0
    contact: str = "through"

    def do(self, work: Work) -> Outcome:
        found, freedom = self.free(work)
        amount = self.distance if self.motion in SLIDES else self.angle
        if abs(amount) < 1e-12:
            raise EditError("nothing would move; give how far", field="distance" if self.motion in SLIDES else "angle")
        unit = found.units[found.carried(_leaf(work, self.part[0]))[-1]]

        def moved(share: float) -> Snapshot:
            return moved_place(work.snapshot, unit, _motion(freedom, share * amount))

        if self.contact != "stop":
            return Outcome(moved(1.0))
        share, met = _until_contact(work, lambda share: follow_joints(work, work.snapshot, moved(share)).snapshot)
        if share <= 0.0:
            raise EditError(f"{met} is in its way", self.part, field="contact")
        facts = (Fact("contact", "stops at", met),) if met else ()
        return Outcome(moved(share), facts)

    def handle(self, work: Work) -> Handle | None:
        _, freedom = self.free(work)
        point, way = np.array(freedom.point), np.array(freedom.way)
        if self.motion in SLIDES:
            return Handle("distance", freedom.point, freedom.way)
        arm = middle_of(work, self.part[0]) - point
        arm = arm - (arm @ way) * way
        if float(np.linalg.norm(arm)) < 1e-6:
            arm = np.cross(way, np.eye(3)[int(np.abs(way).argmin())]) * 10
        return Handle("angle", freedom.point, freedom.way, arm=vec_of(arm))

    def free(self, work: Work) -> tuple[Assembled, Freedom]:
        found = assembled(work.snapshot, work.geometry)
        leaf = _leaf(work, self.part[0])
        name = work.snapshot.nodes[self.part[0].number].name
        if not found.carried(leaf):
            raise EditError(f"{name} is joined to nothing, so it is free all round; Move takes it anywhere", self.part)
        rows = freedoms_of(found, leaf, middle_of(work, self.part[0]))
        slides = [f for f in rows if f.kind == "slide"]
        turns = [f for f in rows if f.kind != "slide"]
        words, fit = (list(SLIDES), slides) if self.motion in SLIDES else (list(TURNS), turns)
        at = words.index(self.motion)
        if at >= len(fit):
            free = f"{len(slides)} slide{'s' * (len(slides) != 1)} and {len(turns)} turn{'s' * (len(turns) != 1)}"
            raise EditError(f"its joints leave {name} {free if rows else 'no motion'}", self.part, field="motion")
        return found, fit[at]


@dataclass(frozen=True)
class PlayedStep:
    """value: rad or mm from where the part stands; matrices: where parts stand then that do not stand as now; clashes:
    names of pairs that overlap then and do not now; gap: mm, the narrowest between parts that do not touch now, None
    where all are farther apart than is looked."""

    value: float
    matrices: dict[int, Rigid]
    clashes: tuple[tuple[str, str], ...]
    gap: float | None


NEAR = 5.0  # mm, within which gaps of a played motion are told


def played(work: Work, asked: MoveFree, low: float, high: float, steps: int) -> tuple[list[PlayedStep], bool]:
    """A free motion through its range, a step after the other from where the part stands to both ends, with what is
    joined to it.  It ends where the joints let it go no farther.  Returns the steps in order, and whether it did."""
    found, freedom = asked.free(work)
    unit = found.units[found.carried(_leaf(work, asked.part[0]))[-1]]
    now = {o.node.id: o.matrix for o in work.snapshot.occurrences()}
    first, _ = gaps_between(work.snapshot, work.geometry, 0.0)
    touching = {tuple(sorted(p.nodes)) for p in first}
    start = next(m for n, m, _ in work.snapshot.walk() if n.id == unit)
    whole: list[PlayedStep] = [PlayedStep(0.0, {}, (), None)]
    stopped = False
    for end in (low, high):
        state, row = work.snapshot, []
        for k in range(1, steps + 1):
            value = end * k / steps
            work.progress(len(whole) / (2 * steps), "playing the motion")
            followed = follow_joints(work, state, placed_at(state, unit, _motion(freedom, value) @ start))
            if followed.held:
                stopped = True
                break
            state = followed.snapshot
            row.append(_step(work, state, value, now, touching))
        whole = [*reversed(row), *whole] if end == low else [*whole, *row]
    return whole, stopped


def _step(
    work: Work, state: Snapshot, value: float, now: dict[int, Rigid], touching: set[tuple[str, ...]]
) -> PlayedStep:
    moved = {o.node.id: o.matrix for o in state.occurrences() if not o.matrix.near(now[o.node.id], 1e-9)}
    pairs, _ = gaps_between(state, work.geometry, NEAR, moving=moved.keys())
    apart = [p for p in pairs if tuple(sorted(p.nodes)) not in touching]
    clashes = tuple(p.names for p in apart if p.state == "overlap")
    return PlayedStep(value, moved, clashes, min((p.gap for p in apart), default=None))


def first_motion(work: Work, part: Reference) -> str:
    """The one that is tried first: a turn where there is one."""
    found = assembled(work.snapshot, work.geometry)
    rows = freedoms_of(found, _leaf(work, part), middle_of(work, part))
    return "slide" if rows and all(f.kind == "slide" for f in rows) else "turn"


def _leaf(work: Work, part: Reference) -> int:
    return work.snapshot.leaves_below(part.number)[0]


def middle_of(work: Work, part: Reference) -> Floats:
    """Of the box around a part, mm in the model."""
    leaf = _leaf(work, part)
    found = next(o for o in work.snapshot.occurrences() if o.node.id == leaf)
    return np.array(found.matrix.point(work.geometry.get(found.body.shape).box.middle))


def _motion(freedom: Freedom, amount: float) -> Rigid:
    way = np.array(freedom.way)
    if freedom.kind == "slide":
        return Rigid.slide(amount * way)
    return Rigid.slide(freedom.pitch * amount * way) @ Rigid.about(freedom.point, way, amount)


def _until_contact(work: Work, at: Callable[[float], Snapshot]) -> tuple[float, str]:
    """The share of the motion until two parts touch that do not now, and their names; by conservative advancement: no
    step is longer than the room that is left lets it be (Mirtich, Impulse-based Dynamic Simulation, 1996)."""
    before, ahead = _standing(work.snapshot), _standing(at(0.01))
    moving = {n for n, matrix in ahead.items() if not matrix.near(before[n], 1e-9)}
    reach = max((_travel(work, n, before[n], ahead[n]) for n in moving), default=0.0) * 200
    watched = []
    for a, b in itertools.product(sorted(moving), sorted(set(before) - moving)):
        gap = gap_between(work.snapshot, work.geometry, a, b, reach)
        if gap is not None and gap > TOUCHING:
            watched.append((a, b))
    share, met = 0.0, ""
    for _ in range(ADVANCES):
        here = at(share) if share else work.snapshot
        rows = [(gap_between(here, work.geometry, a, b, np.inf) or 0.0, a, b) for a, b in watched]
        if not rows:
            return 1.0, ""
        gap, a, b = min(rows)
        if gap <= MET:
            return share, f"{here.nodes[a].name} meets {here.nodes[b].name}"
        step = min(0.01, 1.0 - share) or 0.01
        now, then = _standing(here), _standing(at(min(share + step, 1.0)))
        speed = max(_travel(work, n, now[n], then[n]) for n in moving) / step
        share += CAREFUL * gap / max(speed, 1e-9)
        if share >= 1.0:
            return 1.0, ""
        work.progress(share, "looking for contact")
    return share, met


def _standing(snapshot: Snapshot) -> dict[int, Rigid]:
    return {o.node.id: o.matrix for o in snapshot.occurrences() if o.body.kind == "solid"}


def _travel(work: Work, leaf: int, one: Rigid, other: Rigid) -> float:
    """How far (mm) any point of a part goes at most between two places: a corner of its box."""
    body = work.snapshot.nodes[leaf].body
    box = work.geometry.get(work.snapshot.bodies[body or 0].shape).box
    corners = np.array(box.corners)
    return float(np.linalg.norm(one.points(corners) - other.points(corners), axis=1).max())
