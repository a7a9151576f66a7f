"""Move parts: slide along a direction and turn about it."""

from __future__ import annotations

from dataclasses import replace

from ..errors import EditError
from ..model import placement
from ..model.snapshot import split_id
from .axes import MODEL_AXES
from .base import Edit, Handle, Outcome, Work, edit, gap
from .gaps import AngleGap, ChoiceGap, Context, LengthGap, PickGap


@edit
class MoveBody(Edit):
    name = "move body"
    title = "Move or turn"
    sentence = "Move {parts} along {along} by {distance} turning {angle} about it"
    past = "Moved {parts} along {along} by {distance} turning {angle} about it"
    help = "Slides parts along an axis of the model and turns them about that direction through their centre."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 20
    drawing = "move"

    parts: tuple[str, ...] = gap(PickGap("the parts", "The parts or groups to move.", element="node"))
    along: str = gap(
        ChoiceGap("the direction", "An axis of the model.", default="x", options={"x": "X", "y": "Y", "z": "Z"})
    )
    distance: float = gap(LengthGap("the distance", "How far to slide; negative goes back.", default=0.0))
    angle: float = gap(AngleGap("the angle", "How far to turn, right-handed about the direction.", default=0.0))

    def _centre(self, work: Work) -> tuple[float, float, float]:
        """Middle of the box around the first part, model coordinates, mm."""
        snapshot = work.snapshot
        leaf = snapshot.leaves_below(split_id(self.parts[0])[1])[0]
        found = next(o for o in snapshot.occurrences() if o.node.id == leaf)
        low, high = work.geometry.get(found.body.shape).box
        return placement.point(found.matrix, [(a + b) / 2 for a, b in zip(low, high, strict=True)])

    def apply(self, work: Work) -> Outcome:
        if self.distance == 0 and self.angle == 0:
            raise EditError("distance and angle are both zero, so nothing would move", field="distance")
        axis = MODEL_AXES[self.along]
        motion = placement.multiply(
            placement.shift(*(self.distance * a for a in axis)),
            placement.turn(axis, self.angle, self._centre(work)),
        )
        snapshot = work.snapshot
        chosen = {split_id(i)[1] for i in self.parts}
        for node, matrix, path in work.snapshot.walk():
            if node.id not in chosen or chosen & set(path):  # a part below a moved group moves with it
                continue
            above = placement.multiply(matrix, placement.inverse(node.placement))
            local = placement.multiply(placement.inverse(above), placement.multiply(motion, matrix))
            snapshot = snapshot.with_node(replace(snapshot.nodes[node.id], placement=local))
        return Outcome(snapshot)

    def told(self, context: Context) -> str:
        words = f"Moved {self.word('parts', context)}"
        if self.distance:
            words += f" along {self.word('along', context)} by {self.word('distance', context)}"
        if self.angle:
            words += f"{' and' if self.distance else ''} turned {self.word('angle', context)} about "
            words += "it" if self.distance else self.word("along", context)
        return words

    def handle(self, work: Work) -> Handle | None:
        return Handle("distance", self._centre(work), MODEL_AXES[self.along])
