"""Repeat parts in rows or around an axis: more places that show the same bodies."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from ..errors import EditError
from ..local.surfaces import Motion
from ..model import placement
from ..model.snapshot import Node, Snapshot, split_id
from .axes import MODEL_AXES, picked_axis
from .base import Edit, Fact, Outcome, Work, edit, gap
from .gaps import AngleGap, ChoiceGap, Context, CountGap, LengthGap, PickGap
from .members import check_turn

MOST = 2000


@edit
class RepeatParts(Edit):
    name = "repeat parts"
    title = "Repeat in rows"
    sentence = "Repeat {parts} {count} times along {along} every {step}"
    past = "Repeated {parts} {count} times along {along} every {step}"
    help = "Puts more of the same part beside it, in a row.  They share one body: an edit on one shows on all."
    offered_for = "node"
    stages = ("Assemble",)
    rank = 24
    drawing = "pattern"

    parts: tuple[str, ...] = gap(PickGap("the parts", "Parts or groups.", element="node"))
    count: int = gap(CountGap("the count", "How many there are then, with the first.", default=2))
    along: str = gap(ChoiceGap("the direction", "An axis of the model.", default="x",
                               options={"x": "X", "y": "Y", "z": "Z"}))  # fmt: skip
    step: float = gap(LengthGap("the step", "From part to part; negative goes back.", nonzero=True))

    def told(self, context: Context) -> str:
        return (
            f"Repeated {self.word('parts', context)} {self.count} times along {self.word('along', context)} "
            f"every {self.word('step', context)}"
        )

    def apply(self, work: Work) -> Outcome:
        steps = [placement.shift(*(i * self.step * a for a in MODEL_AXES[self.along])) for i in range(1, self.count)]
        return repeat_places(work, self.parts, steps)


@edit
class RepeatPartsAround(Edit):
    name = "repeat parts around"
    title = "Repeat around"
    sentence = "Repeat {parts} {count} times around {axis} every {angle}"
    past = "Repeated {parts} {count} times around {axis}"
    help = (
        "Puts more of the same part around an axis; without an angle they share the full turn evenly.  They share "
        "one body: an edit on one shows on all."
    )
    offered_for = "node"
    stages = ("Assemble",)
    rank = 25
    drawing = "pattern"

    parts: tuple[str, ...] = gap(PickGap("the parts", "Parts or groups.", element="node"))
    count: int = gap(CountGap("the count", "How many there are then, with the first.", default=6))
    axis: tuple[str, ...] = gap(
        PickGap("the axis", "A round face or edge, or a straight edge, of any part.", element="face", also=("edge",),
                maximum=1, changes=False, empty="an axis")
    )  # fmt: skip
    angle: float | None = gap(AngleGap("the angle", "From part to part; empty for even.", default=None))

    def apply(self, work: Work) -> Outcome:
        axis = picked_axis(work, self.axis[0])
        assert axis.direction is not None  # faces and edges give one or refuse
        angle = self.angle if self.angle is not None else 2 * math.pi / self.count
        check_turn(self.count, angle)
        turns = [Motion.about(axis.point, axis.direction, i * angle).matrix for i in range(1, self.count)]
        return repeat_places(work, self.parts, [tuple(t.reshape(-1).tolist()) for t in turns])


def repeat_places(work: Work, parts: Sequence[str], steps: Sequence[placement.Matrix]) -> Outcome:
    """One more place of each part for each step (model coordinates)."""
    if not steps:
        raise EditError("one is there already; give a higher count", field="count", nearest="2")
    if len(steps) >= MOST:
        raise EditError(f"up to {MOST} work at once", field="count", nearest=str(MOST))
    snapshot = work.snapshot
    chosen = {split_id(i)[1] for i in parts}
    made = 0
    for node, matrix, path in work.snapshot.walk():
        if node.id not in chosen or chosen & set(path):
            continue
        below = placement.inverse(placement.multiply(matrix, placement.inverse(node.placement)))
        for step in steps:
            local = placement.multiply(below, placement.multiply(step, matrix))
            twin, snapshot = _twin(snapshot, node.id, local)
            snapshot = _beside(snapshot, path[-1] if path else None, twin)
            made += 1
    return Outcome(snapshot, (Fact("copies", "copies", float(made), "count", one="copy"),))


def _twin(snapshot: Snapshot, number: int, matrix: placement.Matrix | None = None) -> tuple[int, Snapshot]:
    """A second place like this one, with all below it; bodies are shared."""
    node = snapshot.nodes[number]
    (fresh,), snapshot = snapshot.fresh(1)
    children = []
    for child in node.children:
        below, snapshot = _twin(snapshot, child)
        children.append(below)
    twin = Node(fresh, node.name, node.placement if matrix is None else matrix, tuple(children), node.body)
    return fresh, snapshot.with_node(twin)


def _beside(snapshot: Snapshot, parent: int | None, number: int) -> Snapshot:
    if parent is None:
        return replace(snapshot, roots=(*snapshot.roots, number))
    node = snapshot.nodes[parent]
    return snapshot.with_node(replace(node, children=(*node.children, number)))
