"""Repeat parts in rows: more places that show the same bodies."""

from __future__ import annotations

from dataclasses import replace

from ..errors import EditError
from ..model import placement
from ..model.snapshot import Node, Snapshot, split_id
from .base import Edit, Fact, Outcome, Work, edit, gap
from .gaps import ChoiceGap, Context, CountGap, LengthGap, PickGap

_AXES = {"x": (1.0, 0.0, 0.0), "y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}
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
        if self.count < 2:
            raise EditError("one is there already; give a higher count", field="count", nearest="2")
        if self.count > MOST:
            raise EditError(f"up to {MOST} work in one row", field="count", nearest=str(MOST))
        snapshot = work.snapshot
        chosen = {split_id(i)[1] for i in self.parts}
        made = 0
        for node, matrix, path in work.snapshot.walk():
            if node.id not in chosen or chosen & set(path):
                continue
            above = placement.multiply(matrix, placement.inverse(node.placement))
            for number in range(1, self.count):
                shift = placement.shift(*(number * self.step * a for a in _AXES[self.along]))
                local = placement.multiply(placement.inverse(above), placement.multiply(shift, matrix))
                twin, snapshot = _twin(snapshot, node.id, local)
                snapshot = _beside(snapshot, path[-1] if path else None, twin)
                made += 1
        return Outcome(snapshot, (Fact("copies", "copies", float(made), "count"),))


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
