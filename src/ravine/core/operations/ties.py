"""Dimensions that stay as they are: when an edit has moved one end, the other follows."""

from __future__ import annotations

import logging
from dataclasses import dataclass, replace

import numpy as np

from ..dimensions.reading import Reading, read_dimension
from ..dimensions.upkeep import follow_dimensions
from ..errors import EditError, RavineError
from ..model.dimension import BodyDimension
from ..model.geometry import GeometryStore
from ..model.records import DIMENSIONS
from ..model.references import Reference
from ..model.snapshot import Snapshot
from ..rigid import Rigid
from ..units import format_length
from .dimensioning import AddDimension
from .driving import Driving, Target
from .ladder import FAILURES
from .work import Fact, Operation, Outcome, Work

log = logging.getLogger("ravine.ties")
OFF = 1e-7  # mm, within which it is as it has to be
ROUNDS = 8


@dataclass(frozen=True, kw_only=True)
class Tie(Operation):
    """ends: two faces, edges or corners; distance: mm, as it is now when left out; way: of model.dimension.WAYS."""

    ends: tuple[Reference, ...]
    distance: float | None = None
    way: str = "straight"
    called: str | None = None

    def do(self, work: Work) -> Outcome:
        if len(self.ends) != 2:
            raise EditError("two things are tied together", self.ends, field="ends")
        made = AddDimension(ends=self.ends, way=self.way, called=self.called).do(work)
        rows = made.snapshot.kept(DIMENSIONS)
        item = rows[max(rows)]
        stays = item.value if self.distance is None else self.distance
        snapshot = made.snapshot.with_kept(DIMENSIONS, {**rows, item.id: replace(item, stays=stays)})
        return Outcome(snapshot, made.facts)


@dataclass(frozen=True)
class FollowedTies:
    """names: of parts that followed; lost: of ties that could not be, and why."""

    snapshot: Snapshot
    names: tuple[str, ...] = ()
    lost: tuple[str, ...] = ()

    @property
    def facts(self) -> tuple[Fact, ...]:
        return (Fact("follows", "follows", ", ".join(self.names)),) if self.names else ()


def follow_ties(work: Work, before: Snapshot, after: Snapshot) -> FollowedTies:
    """after: with what its dimensions measure.  One that cannot be followed is told, and stays as it came out."""
    names: list[str] = []
    lost: dict[str, str] = {}
    for _ in range(ROUNDS):
        off = [d for d in after.kept(DIMENSIONS).values() if _is_off(d) and d.name not in lost]
        if not off:
            break
        item = off[0]
        try:
            moved, name = _followed(work, before, after, item)
        except FAILURES as error:
            log.info("the tie %s was not followed", item.name, exc_info=error)
            now = "nothing any more" if item.value is None else format_length(item.value, after.units)
            lost[item.name] = f"{item.name} could not be kept and measures {now}: {error}"
            continue
        after = follow_dimensions(work.geometry, after, moved)
        if name not in names:
            names.append(name)
    for item in after.kept(DIMENSIONS).values():
        if _is_off(item) and item.name not in lost:
            lost[item.name] = f"{item.name} does not come to rest with the other ties"
    return FollowedTies(after, tuple(names), tuple(lost.values()))


def _is_off(item: BodyDimension) -> bool:
    return item.stays is not None and item.value is not None and abs(item.value - item.stays) > OFF


def _followed(work: Work, before: Snapshot, after: Snapshot, item: BodyDimension) -> tuple[Snapshot, str]:
    """The end that the edit has not moved goes, with its whole part where the two are of different ones."""
    reading = read_dimension(after, work.geometry, item)
    first = _which_moved(work.geometry, before, reading, item) == 1
    assert item.stays is not None
    mover = reading.anchors[0 if first else 1].reference
    if mover.owner[0].locked:
        raise EditError(f"{mover.owner[0].name} is locked")
    nodes = [a.reference.node for a in reading.anchors]
    if nodes[0] != nodes[1] and mover.node is not None:
        step = (item.stays - reading.value) * reading.way * (-1 if first else 1)
        node = after.nodes[mover.node]
        matrix = next(m for n, m, _ in after.walk() if n.id == node.id)
        above = matrix @ node.placement.inverse
        placement = above.inverse @ Rigid.slide(step.tolist()) @ matrix
        return after.with_node(replace(node, placement=placement)), node.name
    done = Driving(replace(work, snapshot=after), "first" if first else "second").do(
        after, [Target(item, item.stays)], []
    )
    return done.snapshot, mover.owner[0].name


def _which_moved(geometry: GeometryStore, before: Snapshot, reading: Reading, item: BodyDimension) -> int:
    """0 or 1: the end that stands elsewhere than before along the dimension; the first where both or neither do."""
    try:
        was = read_dimension(before, geometry, item)
    except RavineError:
        return 0  # it is new
    shifts = [
        abs(float((now.point - then.point) @ reading.way))
        for now, then in zip(reading.anchors, was.anchors, strict=True)
    ]
    return int(np.argmax(shifts)) if max(shifts) > OFF and min(shifts) < OFF else 0
