"""Move, turn or copy parts: slide along a direction and turn about it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .. import rigid as placement
from ..local.surfaces import Floats
from ..model.snapshot import split_id
from .axes import Placing, placing
from .placed_moves import placed_motion, placing_handle, slide_until
from .repeat_parts import repeat_places
from .work import Fact, Handle, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class MoveBody(Operation):
    """Slides parts along a direction and turns them about it."""

    parts: tuple[str, ...]
    way: str = "move"
    along: str = "x"
    axis: tuple[str, ...] | None = None
    distance: float = 0.0
    until: tuple[str, ...] | None = None
    angle: float = 0.0

    def _middle(self, work: Work) -> Floats:
        """Of the box around the first part, model coordinates, mm."""
        snapshot = work.snapshot
        leaf = snapshot.leaves_below(split_id(self.parts[0])[1])[0]
        found = next(o for o in snapshot.occurrences() if o.node.id == leaf)
        low, high = work.geometry.get(found.body.shape).box
        return np.array(placement.point(found.matrix, [(a + b) / 2 for a, b in zip(low, high, strict=True)]))

    def _placing(self, work: Work) -> Placing:
        return placing(work, self.axis, self._middle(work))

    def do(self, work: Work) -> Outcome:
        where = self._placing(work)
        direction = where.along(self.along)
        distance = slide_until(work, self.until, where.origin, direction, self.distance)
        rows = placed_motion(where.origin, direction, distance, self.angle).matrix
        motion = tuple(float(v) for v in rows.reshape(-1))
        facts = (Fact("distance", "distance", distance, "length"),) if self.until else ()
        if self.way == "copy":
            made = repeat_places(work, self.parts, [motion])
            return replace(made, facts=(*made.facts, *facts))
        snapshot = work.snapshot
        chosen = {split_id(i)[1] for i in self.parts}
        for node, matrix, path in work.snapshot.walk():
            if node.id not in chosen or chosen & set(path):  # a part below a moved group moves with it
                continue
            above = placement.multiply(matrix, placement.inverse(node.placement))
            local = placement.multiply(placement.inverse(above), placement.multiply(motion, matrix))
            snapshot = snapshot.with_node(replace(snapshot.nodes[node.id], placement=local))
        return Outcome(snapshot, facts)

    def handle(self, work: Work) -> Handle | None:
        return placing_handle(self._placing(work), self.along)
