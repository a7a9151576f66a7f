"""What a rung leaves, looked at by other means than it was made with; what does not pass is no result of that rung."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..errors import CannotDo
from ..kernel.volumes import volume_properties
from ..local.dependents import Growth
from ..local.swept_judge import contradiction
from ..local.topology import SolidTopology
from ..model.snapshot import Body, Snapshot, text_id
from ..tolerances import AGREES
from .work import Work

MOST_FILLED = 3.0  # times the room that removed faces take, which what closes up in their place may fill


def judge_push(work: Work, body: Body, after: Snapshot, distances: Mapping[int, float]) -> None:
    """distances: mm of faces by id number.  Raises CannotDo where places tell that something else was done."""
    if not work.mode.checks:
        return
    before, now = (work.geometry.solid(b.shape).topology for b in (body, after.body(body.id)))
    told = contradiction(before, now, {body.faces.index(f): d for f, d in distances.items()})
    if told:
        raise CannotDo(told, [text_id("face", f) for f in distances])


def judge_removal(work: Work, body: Body, after: Snapshot, gone: Growth) -> None:
    """The body hangs together as before, has the volume that was told, gained what a recess held or lost what stood up,
    and no more than about the room that the faces took.  Raises CannotDo."""
    before, now = work.geometry.solid(body.shape), work.geometry.solid(after.body(body.id).shape)
    where = [text_id("face", body.faces[f]) for f in sorted(gone.faces)]
    if _pieces(now.topology) > _pieces(before.topology):
        raise CannotDo("the body would fall into pieces", where)
    change = now.volume_mm3 - before.volume_mm3
    if abs(volume_properties(now.shape).amount - now.volume_mm3) > AGREES * abs(before.volume_mm3):
        raise CannotDo("what closes up does not fit the body", where)
    if gone.sinks is not None and (change > 0) != gone.sinks:
        raise CannotDo("its neighbours would close up on the wrong side", where)
    boxes = before.topology.boxes[sorted(gone.faces)]
    sides = boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)
    room = float(np.prod(np.maximum(sides, 0.05 * sides.max())))
    if abs(change) > MOST_FILLED * room:
        raise CannotDo("its neighbours would only meet far away", where)


def _pieces(topology: SolidTopology) -> int:
    """Sets of faces that hang together: one, and one for each hollow inside."""
    waiting = set(range(topology.index.count("face")))
    count = 0
    while waiting:
        count += 1
        row = [waiting.pop()]
        while row:
            for beside in topology.neighbours(row.pop()):
                if beside in waiting:
                    waiting.remove(beside)
                    row.append(beside)
    return count
