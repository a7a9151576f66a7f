"""From what was asked of some faces to a new surface for every face that changes with them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from .canal import Ball
from .chamfers import Chamfer, carried, chamfers_beside
from .fabric import Fabric
from .failure import LocalFailure
from .rolling import Rolled, rolled
from .rounds import Round, chain, round_of
from .surfaces import STAYS, Motion, Surface


@dataclass(frozen=True)
class Offset:
    """Parallel to itself by `distance` mm along the outward normal."""

    distance: float


@dataclass(frozen=True)
class Radius:
    """A round, with its chain, gets another radius in mm."""

    radius: float


Step = Offset | Motion | Radius


@dataclass
class Plan:
    """surfaces: new one of every face that changes; motions: how the face moved as a whole, where it did so rigidly
    (a plane pushed square to itself slid); followed: rounds that came along; chamfers: those that did; stayed:
    chamfers that could not; recast: faces whose new surface counts its parameters in another way than the old one;
    rolled: rounds that were rolled along two supports; grown: spline faces that stay where they are on a surface
    carried on, since an edge has come to lie beyond its border."""

    surfaces: dict[int, Surface] = field(default_factory=dict)
    motions: dict[int, Motion] = field(default_factory=dict)
    followed: set[int] = field(default_factory=set)
    chamfers: set[int] = field(default_factory=set)
    stayed: set[int] = field(default_factory=set)
    recast: set[int] = field(default_factory=set)
    grown: set[int] = field(default_factory=set)
    rolled: dict[int, Rolled] = field(default_factory=dict)

    def set(self, face: int, surface: Surface, motion: Motion | None) -> None:
        self.surfaces[face] = surface
        if motion is not None:
            self.motions[face] = motion

    def roll(self, item: Round, found: Rolled, motion: Motion | None) -> None:
        self.set(item.face, found.surface, motion)
        if found.ball is not None:
            self.rolled[item.face] = found
        if found.recast:
            self.recast.add(item.face)

    def sign(self, fabric: Fabric, face: int) -> float:
        """As Fabric.sign, of the face on its new surface."""
        new = self.surfaces.get(face)
        return fabric.sign(face) if new is None else fabric.sign_on(face, new)

    def touching(self, fabric: Fabric, edge: int) -> tuple[int, Ball, int] | None:
        """The round whose touch an edge is, with its ball, and which of the two supports that touches there."""
        for face in fabric.faces_of(edge):
            item = self.rolled.get(face)
            if item is not None and item.ball is not None:
                other = fabric.other_face(edge, face)
                beside = self.surfaces.get(other, fabric.surface(other))
                for side, support in enumerate(item.ball.supports):
                    if support is beside or support.same(beside, 1.0):
                        return face, item.ball, side
        return None

    def one_path(self, fabric: Fabric, edge: int) -> bool:
        """Whether both faces beside an edge are rolled along the same two supports, so that it lies anywhere."""
        items = [self.rolled.get(f) for f in fabric.faces_of(edge)]
        balls = [item.ball for item in items if item is not None and item.ball is not None]
        if len(balls) < 2 or fabric.meeting(edge) != "smooth":
            return False
        return all(any(s.same(other, 1.0) for other in balls[1].supports) for s in balls[0].supports)

    def grow(self, fabric: Fabric, faces: Iterable[int]) -> None:
        for face in faces:
            self.set(face, fabric.surface(face), STAYS)
            self.grown.add(face)


def make_plan(fabric: Fabric, asked: Mapping[int, Step], *, chamfers: bool = True) -> Plan:
    """chamfers: whether they follow their walls, instead of staying where they are.  Raises LocalFailure where a
    surface cannot take the change or a round cannot follow."""
    plan = Plan()
    steps = _with_same_surface(fabric, asked)
    rounds: dict[int, tuple[Round, float]] = {}
    for face, step in steps.items():
        if isinstance(step, Radius):
            for member, strip in chain(fabric, face).items():
                rounds[member] = (strip, step.radius)
            if face not in rounds:
                raise LocalFailure("it is no round between two faces", [face])
        elif isinstance(step, Offset) and (item := round_of(fabric, face)) and _picked_alone(item, steps):
            radius = item.radius + fabric.sign(face) * step.distance
            if radius < 1e-6:
                raise LocalFailure(f"its radius of {item.radius:.6g} mm would vanish", [face])
            for member, other in chain(fabric, face).items():
                rounds[member] = (other, radius)
    for face, step in steps.items():
        if face not in rounds:
            _change(fabric, plan, face, step)
    _resize(fabric, plan, rounds)
    _follow(fabric, plan, steps, set(rounds), chamfers)
    return plan


def _picked_alone(item: Round, steps: Mapping[int, Step]) -> bool:
    """A round pushed by itself changes radius; together with its supports it is pushed like any face."""
    return not any(f in steps for f in item.supports)


def _with_same_surface(fabric: Fabric, asked: Mapping[int, Step]) -> dict[int, Step]:
    steps = dict(asked)
    for face, step in asked.items():
        if isinstance(step, Offset):
            for other in fabric.one_surface(face):
                steps.setdefault(other, step)
    return steps


def _change(fabric: Fabric, plan: Plan, face: int, step: Step) -> None:
    old = fabric.surface(face)
    if isinstance(step, Motion):
        plan.set(face, old.moved(step), step)
        return
    assert isinstance(step, Offset)
    moved = old.parallel(fabric.sign(face) * step.distance)
    if moved is None:
        raise LocalFailure(f"its radius of {old.radius:.6g} mm would vanish", [face])
    motion = None
    if old.kind == "plane":
        motion = Motion.slide(fabric.sign(face) * step.distance * old.axial.z)
    plan.set(face, moved, motion)


def _resize(fabric: Fabric, plan: Plan, rounds: Mapping[int, tuple[Round, float]]) -> None:
    """Rounds that were asked for another radius; strips before the corners that hang on them."""
    for face, (item, radius) in sorted(rounds.items(), key=lambda row: row[1][0].kind == "sphere"):
        found = rolled(fabric, item, plan.surfaces, radius, plan.rolled)
        if found is None:
            raise LocalFailure(f"no round of radius {radius:.6g} mm touches its neighbours", [face, *item.supports])
        plan.roll(item, found, None)


def _follow(fabric: Fabric, plan: Plan, steps: Mapping[int, Step], done: set[int], chamfers: bool) -> None:
    """Rounds beside changed faces roll along, chamfers go with their walls; other tangent neighbours take the same
    offset."""
    done = done | set(steps)
    waiting = list(plan.surfaces)
    followers: dict[int, Round | Chamfer] = {}
    while waiting:
        face = waiting.pop(0)
        for beside in fabric.neighbours(face, "smooth", "same"):
            if beside in done or beside in followers:
                continue
            item = round_of(fabric, beside, half=True)
            if item is None:
                if _rounds_end(fabric, beside, face, wall=face in steps) or isinstance(followers.get(face), Chamfer):
                    continue  # what goes on where a chamfer ends is one too, with its own walls, or keeps its place
                waiting += _take_along(fabric, plan, face, beside, steps)
                done.add(beside)
            elif any(s in plan.surfaces or s in followers for s in item.supports):
                followers[beside] = item
                waiting.append(beside)
        for cut in chamfers_beside(fabric, face) if chamfers else ():
            if cut.face not in done | followers.keys() and any(
                s in plan.surfaces or s in followers for s in cut.supports
            ):
                followers[cut.face] = cut
                waiting.append(cut.face)
    _carry(fabric, plan, followers)


def _rounds_end(fabric: Fabric, beside: int, face: int, wall: bool) -> bool:
    """A round that changed touches one of its supports: nothing to follow.  wall: it was pushed itself, so the round
    end of a slot counts as a wall, and the slot's sides go with it."""
    item = round_of(fabric, face, half=not wall)
    return item is not None and beside in item.supports


def _take_along(fabric: Fabric, plan: Plan, face: int, beside: int, steps: Mapping[int, Step]) -> list[int]:
    step = steps.get(face)
    motion = plan.motions.get(face)
    old = fabric.surface(beside)
    if motion is not None and old.keeps(motion):
        return []
    if isinstance(step, Offset):
        for other in fabric.one_surface(beside):
            _change(fabric, plan, other, step)
        steps[beside] = step  # type: ignore[index]  # the steps are this plan's own copy
        return [beside]
    if isinstance(step, Motion):
        raise LocalFailure("a neighbour runs tangentially into it and is no round; move it along", [beside])
    raise LocalFailure("a neighbour that runs tangentially into a following round cannot follow", [beside])


def _carry(fabric: Fabric, plan: Plan, followers: Mapping[int, Round | Chamfer]) -> None:
    """In an order in which each finds its supports settled."""
    waiting = dict(followers)
    while waiting:
        ready = [f for f, item in waiting.items() if not any(s in waiting for s in item.supports)]
        if not ready:
            raise LocalFailure("rounds that rest on one another cannot follow", list(waiting))
        for face in ready:
            item = waiting.pop(face)
            moved = _roll(fabric, plan, item) if isinstance(item, Round) else _cut_along(fabric, plan, item)
            if moved:
                (plan.followed if isinstance(item, Round) else plan.chamfers).add(face)
            elif isinstance(item, Chamfer):
                plan.stayed.add(face)


def _roll(fabric: Fabric, plan: Plan, item: Round) -> bool:
    old = fabric.surface(item.face)
    motions = [plan.motions.get(s) for s in item.supports]
    first = motions[0]
    if first is not None and all(m is not None and m.same(first) for m in motions):
        plan.set(item.face, old.moved(first), first)
        return True
    found = rolled(fabric, item, plan.surfaces, earlier=plan.rolled)
    if found is None:
        raise LocalFailure("the round beside it cannot follow", [item.face, *item.supports])
    if found.surface.same(old, fabric.extent(item.face)):
        return False
    plan.roll(item, found, _slide_between(old, found.surface))
    return True


def _cut_along(fabric: Fabric, plan: Plan, item: Chamfer) -> bool:
    found = carried(fabric, item, plan.surfaces, plan.motions)
    if found is not None:
        plan.set(item.face, *found)
    return found is not None


def _slide_between(old: Surface, new: Surface) -> Motion | None:
    if old.numbers != new.numbers or old.frame is None or new.frame is None:
        return None
    if max(float(np.abs(a - b).max()) for a, b in ((old.frame.x, new.frame.x), (old.frame.z, new.frame.z))) > 1e-14:
        return None
    return Motion.slide(new.frame.origin - old.frame.origin)
