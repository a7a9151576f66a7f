"""Move, turn or copy parts: slide along a direction and turn about it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..local.surfaces import Floats
from ..model.references import Reference
from .axes import Placing, placing
from .placed_moves import placed_motion, placing_handle, slide_until
from .repeat_parts import repeat_places
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class MoveBody(Operation):
    """Slides parts along a direction and turns them about it."""

    parts: tuple[Reference, ...]
    way: str = "move"
    along: str = "x"
    axis: tuple[Reference, ...] | None = None
    distance: float = 0.0
    until: tuple[Reference, ...] | None = None
    angle: float = 0.0

    def _placing(self, work: Work) -> Placing:
        return placing(work, self.axis, middle_of_part(work, self.parts[0]))

    def do(self, work: Work) -> Outcome:
        where = self._placing(work)
        direction = where.along(self.along)
        distance = slide_until(work, self.until, where.origin, direction, self.distance)
        motion = placed_motion(where.origin, direction, distance, self.angle)
        facts = (Fact("distance", "distance", distance, "length"),) if self.until else ()
        if self.way == "copy":
            made = repeat_places(work, self.parts, [motion])
            return replace(made, facts=(*made.facts, *facts))
        snapshot = work.snapshot
        chosen = {i.number for i in self.parts}
        for node, matrix, path in work.snapshot.walk():
            if node.id not in chosen or chosen & set(path):  # a part below a moved group moves with it
                continue
            above = matrix @ node.placement.inverse
            local = above.inverse @ (motion @ matrix)
            snapshot = snapshot.with_node(replace(snapshot.nodes[node.id], placement=local))
        return Outcome(snapshot, facts)

    def handle(self, work: Work) -> Handle | None:
        return placing_handle(self._placing(work), self.along)


def middle_of_part(work: Work, part: Reference) -> Floats:
    """Of the box around the first body in it, model coordinates, mm."""
    leaf = work.snapshot.leaves_below(part.number)[0]
    found = next(o for o in work.snapshot.occurrences() if o.node.id == leaf)
    return np.array(found.matrix.point(work.geometry.get(found.body.shape).box.middle))
