"""Move, turn or copy parts: slide along a direction and turn about it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..local.surfaces import Floats
from ..model import placement
from ..model.snapshot import split_id
from .axes import SET_ON, UNTIL, Placing, placing
from .base import Edit, Fact, Handle, Outcome, Work, edit, gap
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap
from .placed_moves import placed_motion, placing_handle, slide_until
from .repeat_parts import repeat_places


@edit
class MoveBody(Edit):
    name = "move body"
    title = "Move, turn or copy"
    sentence = "{way} {parts} along {along} of {axis} by {distance} until {until}, turning {angle} about it"
    past = "Moved {parts}"
    help = (
        "Slides parts along a direction and turns them about it.  The handle stands in the middle of the part along "
        "the axes of the model; set on an edge, axis, face or corner, Z runs along that.  A copy shares its body with "
        "the part it came from."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 20
    drawing = "move"

    way: str = gap(ChoiceGap("the way", "Move the parts themselves, or put a copy there.", default="move",
                             options={"move": "Move", "copy": "Copy"}))  # fmt: skip
    parts: tuple[str, ...] = gap(PickGap("the parts", "The parts or groups to move.", element="node"))
    along: str = gap(
        ChoiceGap(
            "the direction",
            "X, Y or Z of the model, or of what the handle is set on, where Z runs along its axis or normal.",
            default="x", options={"x": "X", "y": "Y", "z": "Z"},
        )
    )  # fmt: skip
    axis: tuple[str, ...] | None = gap(SET_ON)
    distance: float = gap(LengthGap("the distance", "How far to slide; negative goes back.", default=0.0))
    until: tuple[str, ...] | None = gap(UNTIL)
    angle: float = gap(AngleGap("the angle", "How far to turn, right-handed about the direction.", default=0.0))

    def _middle(self, work: Work) -> Floats:
        """Of the box around the first part, model coordinates, mm."""
        snapshot = work.snapshot
        leaf = snapshot.leaves_below(split_id(self.parts[0])[1])[0]
        found = next(o for o in snapshot.occurrences() if o.node.id == leaf)
        low, high = work.geometry.get(found.body.shape).box
        return np.array(placement.point(found.matrix, [(a + b) / 2 for a, b in zip(low, high, strict=True)]))

    def _placing(self, work: Work) -> Placing:
        return placing(work, self.axis, self._middle(work))

    def apply(self, work: Work) -> Outcome:
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

    def told(self, context: Context) -> str:
        words = f"{'Copied' if self.way == 'copy' else 'Moved'} {self.word('parts', context)}"
        along = self.word("along", context) + (f" of {self.word('axis', context)}" if self.axis else "")
        slides = bool(self.distance or self.until)
        if self.until:
            words += f" along {along} until {self.word('until', context)}"
        elif self.distance:
            words += f" along {along} by {self.word('distance', context)}"
        if self.angle:
            words += f"{' and' if slides else ''} turned {self.word('angle', context)} about "
            words += "it" if slides else along
        return words

    def handle(self, work: Work) -> Handle | None:
        return placing_handle(self._placing(work), self.along)
