"""Repeat parts in rows or around an axis: more places that show the same bodies."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.references import Reference
from ..model.snapshot import Node, Snapshot
from ..rigid import Rigid
from .axes import MODEL_AXES, picked_axis
from .pattern_members import check_turn
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class RepeatParts(Operation):
    """Puts more of the same part beside it, in a row."""

    parts: tuple[Reference, ...]
    step: float
    count: int = 2
    along: str = "x"

    def do(self, work: Work) -> Outcome:
        _check_count(self.count)
        steps = [Rigid.slide(tuple(i * self.step * a for a in MODEL_AXES[self.along])) for i in range(1, self.count)]
        return repeat_places(work, self.parts, steps)


@dataclass(frozen=True, kw_only=True)
class RepeatPartsAround(Operation):
    """Puts more of the same part around an axis; without an angle they share the full turn evenly."""

    parts: tuple[Reference, ...]
    axis: tuple[Reference, ...]
    count: int = 6
    angle: float | None = None

    def do(self, work: Work) -> Outcome:
        _check_count(self.count)
        axis = picked_axis(work, self.axis[0])
        assert axis.direction is not None  # faces and edges give one or refuse
        angle = self.angle if self.angle is not None else 2 * math.pi / self.count
        check_turn(self.count, angle)
        turns = [Rigid.about(axis.point, axis.direction, i * angle) for i in range(1, self.count)]
        return repeat_places(work, self.parts, turns)


def _check_count(count: int) -> None:
    """Before anything is laid out."""
    if count > MOST:
        raise EditError(f"up to {MOST} work at once", field="count", nearest=str(MOST))


def repeat_places(work: Work, parts: Sequence[Reference], steps: Sequence[Rigid]) -> Outcome:
    """One more place of each part for each step (model coordinates)."""
    if not steps:
        raise EditError("one is there already; give a higher count", field="count", nearest="2")
    snapshot = work.snapshot
    chosen = {i.number for i in parts}
    made = 0
    for node, matrix, path in work.snapshot.walk():
        if node.id not in chosen or chosen & set(path):
            continue
        below = (matrix @ node.placement.inverse).inverse
        for step in steps:
            local = below @ (step @ matrix)
            twin, snapshot = _twin(snapshot, node.id, local)
            snapshot = _beside(snapshot, path[-1] if path else None, twin)
            made += 1
    return Outcome(snapshot, (Fact("copies", "copies", float(made), "count", one="copy"),))


MOST = 2000


def _twin(snapshot: Snapshot, number: int, matrix: Rigid | None = None) -> tuple[int, Snapshot]:
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
