"""What laying and recounting a pattern share: planting members, taking some away, finding their faces again."""

from __future__ import annotations

import math
from dataclasses import replace

from ..errors import CannotDo, EditError
from ..local.failure import LocalFailure
from ..local.features import lift_parts
from ..model.pattern import Layout, Pattern, Place, find_copies
from ..model.snapshot import Snapshot
from .planting import plant
from .remove import take_away
from .reshaping import indices, refusal
from .work import Work

MOST = 400  # copies


def check_turn(count: int, angle: float) -> None:
    if abs(angle) * (count - 1) > 2 * math.pi - 1e-9:
        raise EditError("the members would go around more than once and meet", field="angle",
                        nearest=f"{360 / count:.6g}°")  # fmt: skip


def lay(work: Work, snapshot: Snapshot, pattern: Pattern, layout: Layout) -> Snapshot:
    """The pattern laid anew: members that stand where the new layout wants one stay with their ids, the others go,
    those that lack are planted.  Raises EditError and changes nothing."""
    if (asked := layout.count * layout.rows) > MOST + 1:
        raise EditError(f"{asked} copies are too many for one edit; up to {MOST + 1} work", field="count",
                        nearest=str((MOST + 1) // layout.rows or 1))  # fmt: skip
    wanted = layout.motions()
    if not wanted and len(pattern.members) == 1:
        raise EditError("a pattern of one is what is there already; give a higher count", field="count")
    old = pattern.layout.motions()
    stay = {(0, 0)} | {
        place for place in pattern.members if place in wanted and place in old and old[place].near(wanted[place])
    }
    work.progress(0.2, "taking members away")
    snapshot = _without(work, snapshot, pattern, [p for p in pattern.members if p not in stay])
    body = snapshot.body(pattern.body)
    solid = work.geometry.solid(body.shape)
    seed = [f for f in pattern.members[0, 0] if f in body.faces]
    if not seed:
        raise CannotDo("the first member of the pattern is gone")
    due = {place: motion for place, motion in wanted.items() if place not in stay}
    if due:
        work.progress(0.4, "planting the copies")
        try:
            parts = lift_parts(solid.topology, set(indices(body, seed)))
        except LocalFailure as failure:
            raise refusal(work, body, failure, "faces") from None
        snapshot = plant(work, snapshot, body, parts, list(due.values()))
    members = {place: pattern.members[place] for place in stay}
    known = set(body.faces)
    body = snapshot.body(pattern.body)
    topology = work.geometry.solid(body.shape).topology
    size = work.geometry.solid(body.shape).rough_box.diagonal
    fresh = [i for i, f in enumerate(body.faces) if f not in known]
    first = indices(body, [f for f in pattern.members[0, 0] if f in body.faces])
    whole = dict(zip([f for f in pattern.members[0, 0] if f in body.faces], first, strict=True))
    for place, motion in due.items():
        copies = dict(zip(whole, find_copies(topology, first, motion, fresh, size), strict=True))
        at = [copies.get(f, -1) for f in pattern.members[0, 0]]
        members[place] = tuple(body.faces[i] if i >= 0 else 0 for i in at)
    return snapshot.with_pattern(replace(pattern, layout=layout, members=members))


def _without(work: Work, snapshot: Snapshot, pattern: Pattern, places: list[Place]) -> Snapshot:
    """Members that are gone already, by another edit, are gone."""
    body = snapshot.body(pattern.body)
    doomed = [f for place in places for f in pattern.members[place] if f in body.faces]
    return take_away(work, snapshot, body, set(indices(body, doomed))) if doomed else snapshot
