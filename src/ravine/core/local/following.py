"""Neighbours that come along with changed faces: fillets roll, chamfers and tangent walls keep to what they lie
between, other tangent neighbours take the same step."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..rigid import Rigid
from .chamfer_moves import carried
from .chamfers import Chamfer, chamfers_beside
from .failure import LocalFailure
from .fillets import Fillet, fillet_of, is_hub
from .plan import Offset, Plan, Step
from .rolling import rolled
from .surfaces import Surface
from .tangent_walls import TangentWall, is_even, laid_again, tangent_wall
from .topology import SolidTopology

Follower = Fillet | Chamfer | TangentWall


def follow(topology: SolidTopology, plan: Plan, steps: dict[int, Step], done: set[int], chamfers: bool) -> None:
    """Rounds beside changed faces roll along, chamfers go with their walls, walls between hubs touch both again; other
    tangent neighbours take the same offset."""
    done = done | set(steps)
    waiting = list(plan.surfaces)
    followers: dict[int, Follower] = {}

    def add(item: Follower) -> None:
        if any(s in plan.surfaces or s in followers for s in item.supports):
            followers[item.face] = item
            waiting.append(item.face)

    while waiting:
        face = waiting.pop(0)
        for beside in topology.neighbours(face, "smooth", "same"):
            if beside in done or beside in followers or _ends_at(topology, followers.get(face), beside):
                continue
            item = _between_hubs(topology, plan, steps, beside) or _follows_as_round(topology, beside)
            if item is not None:
                add(item)
            elif not _rounds_end(topology, beside, face, wall=face in steps):
                waiting += _take_along(topology, plan, face, beside, steps)
                done.add(beside)
        for cut in chamfers_beside(topology, face) if chamfers else ():
            if cut.face not in done and cut.face not in followers:
                add(cut)
    _carry(topology, plan, followers)


def _ends_at(topology: SolidTopology, follower: Follower | None, beside: int) -> bool:
    """What goes on where a chamfer ends is one too, with its own walls, or keeps its place; a tangent wall leaves its
    hubs where they are."""
    if isinstance(follower, TangentWall):
        return any(topology.surface(h).same(topology.surface(beside), 1.0) for h in follower.supports)
    return isinstance(follower, Chamfer)


def _between_hubs(topology: SolidTopology, plan: Plan, steps: Mapping[int, Step], face: int) -> TangentWall | None:
    """A wall between two hubs of which one changed otherwise than the other.  One along the line between their axes,
    as beside a slot, goes with a hub that is pushed, and so does the other hub."""
    wall = tangent_wall(topology, face)
    if wall is None or not any(h in plan.surfaces for h in wall.supports):
        return None
    pushed = any(isinstance(steps.get(h), Offset) for h in wall.supports)
    return None if pushed and is_even(topology, wall) else wall


def _follows_as_round(topology: SolidTopology, face: int) -> Fillet | None:
    """A slot's end follows the slot's sides, unless it is part of a larger hub."""
    item = fillet_of(topology, face, half=True)
    return None if item and is_hub(topology, face) and topology.neighbours(face, "same") else item


def _rounds_end(topology: SolidTopology, beside: int, face: int, wall: bool) -> bool:
    """A round that changed touches one of its supports: nothing to follow.  wall: it was pushed itself, so the round
    end of a slot counts as a wall, and the slot's sides go with it."""
    if wall and is_hub(topology, face):
        return False
    item = fillet_of(topology, face, half=not wall)
    return item is not None and beside in item.supports


def _take_along(topology: SolidTopology, plan: Plan, face: int, beside: int, steps: dict[int, Step]) -> list[int]:
    step = steps.get(face)
    motion = plan.motions.get(face)
    old = topology.surface(beside)
    if motion is not None and old.keeps(motion):
        return []
    if isinstance(step, Offset):
        for other in topology.one_surface(beside):
            plan.change(topology, other, step)
        steps[beside] = step  # the steps are this plan's own copy
        return [beside]
    if isinstance(step, Rigid):
        raise LocalFailure("a neighbour runs tangentially into it and is no round; move it along", [beside])
    raise LocalFailure("a neighbour that runs tangentially into a following round cannot follow", [beside])


def _carry(topology: SolidTopology, plan: Plan, followers: Mapping[int, Follower]) -> None:
    """In an order in which each finds its supports settled."""
    waiting = dict(followers)
    while waiting:
        ready = [f for f, item in waiting.items() if not any(s in waiting for s in item.supports)]
        if not ready:
            raise LocalFailure("rounds that rest on one another cannot follow", list(waiting))
        for face in ready:
            item = waiting.pop(face)
            if isinstance(item, TangentWall):
                _lay_again(topology, plan, item)
            elif isinstance(item, Chamfer):
                (plan.chamfers if _cut_along(topology, plan, item) else plan.stayed).add(face)
            elif _roll(topology, plan, item):
                plan.followed.add(face)


def _roll(topology: SolidTopology, plan: Plan, item: Fillet) -> bool:
    old = topology.surface(item.face)
    motions = [plan.motions.get(s) for s in item.supports]
    first = motions[0]
    if first is not None and all(m is not None and m.same(first) for m in motions):
        plan.set(item.face, old.moved(first), first)
        return True
    found = rolled(topology, item, plan.surfaces, earlier=plan.rolled)
    if found is None:
        raise LocalFailure("the round beside it cannot follow", [item.face, *item.supports])
    if found.surface.same(old, topology.extent(item.face)):
        return False
    plan.roll(item, found, _slide_between(old, found.surface))
    return True


def _cut_along(topology: SolidTopology, plan: Plan, item: Chamfer) -> bool:
    found = carried(topology, item, plan.surfaces, plan.motions)
    if found is not None:
        plan.set(item.face, *found)
    return found is not None


def _lay_again(topology: SolidTopology, plan: Plan, item: TangentWall) -> None:
    found = laid_again(topology, item, plan.surfaces)
    if found is None:
        raise LocalFailure("one of the two hubs beside it would swallow the other", [item.face, *item.supports])
    plan.set(item.face, *found)


def _slide_between(old: Surface, new: Surface) -> Rigid | None:
    if old.numbers != new.numbers or old.frame is None or new.frame is None:
        return None
    if max(float(np.abs(a - b).max()) for a, b in ((old.frame.x, new.frame.x), (old.frame.z, new.frame.z))) > 1e-14:
        return None
    return Rigid.slide(new.frame.origin - old.frame.origin)
