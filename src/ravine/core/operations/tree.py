"""Parts in their tree: put into a group, moved to another place in it, made independent of their copies."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.derive import numbered
from ..model.references import Reference
from ..model.snapshot import Node, Snapshot
from ..rigid import IDENTITY
from .work import Operation, Outcome, Work


def _outermost(snapshot: Snapshot, parts: Sequence[Reference]) -> list[int]:
    """Those that lie in no other of them, in the order of the tree."""
    chosen = {p.number for p in parts}
    return [node.id for node, _, path in snapshot.walk() if node.id in chosen and not chosen & set(path)]


def _taken_out(snapshot: Snapshot, numbers: Sequence[int]) -> Snapshot:
    gone = set(numbers)
    nodes = {}
    for number, node in snapshot.nodes.items():
        nodes[number] = replace(node, children=tuple(c for c in node.children if c not in gone))
    return replace(snapshot, roots=tuple(r for r in snapshot.roots if r not in gone), nodes=nodes)


def _put_in(before: Snapshot, snapshot: Snapshot, numbers: Sequence[int], group: int | None) -> Snapshot:
    """They stay where they stand in the model."""
    matrices = {node.id: matrix for node, matrix, _ in before.walk()}
    above = next((m for n, m, _ in snapshot.walk() if n.id == group), IDENTITY)
    for number in numbers:
        placement = above.inverse @ matrices[number]
        snapshot = snapshot.with_node(replace(snapshot.nodes[number], placement=placement))
    if group is None:
        return replace(snapshot, roots=(*snapshot.roots, *numbers))
    node = snapshot.nodes[group]
    return snapshot.with_node(replace(node, children=(*node.children, *numbers)))


def _without_empty(snapshot: Snapshot) -> Snapshot:
    """Groups that were left empty go."""
    return snapshot.without_nodes({n for n, node in snapshot.nodes.items() if node.body is None and not node.children})


@dataclass(frozen=True, kw_only=True)
class GroupParts(Operation):
    """Puts parts into a new group, beside the first of them."""

    parts: tuple[Reference, ...]
    called: str = "Group"

    def do(self, work: Work) -> Outcome:
        numbers = _outermost(work.snapshot, self.parts)
        path = next(path for node, _, path in work.snapshot.walk() if node.id == numbers[0])
        (group,), snapshot = work.snapshot.fresh(1)
        snapshot = _taken_out(snapshot.with_node(Node(group, self.called)), numbers)
        if path:
            above = snapshot.nodes[path[-1]]
            snapshot = snapshot.with_node(replace(above, children=(*above.children, group)))
        else:
            snapshot = replace(snapshot, roots=(*snapshot.roots, group))
        return Outcome(_without_empty(_put_in(work.snapshot, snapshot, numbers, group)))


@dataclass(frozen=True, kw_only=True)
class PutInto(Operation):
    """Puts parts into a group, or with none to the outermost level; they stay where they stand in the model."""

    parts: tuple[Reference, ...]
    group: tuple[Reference, ...] = ()

    def do(self, work: Work) -> Outcome:
        numbers = _outermost(work.snapshot, self.parts)
        target = self.group[0].number if self.group else None
        if target is not None:
            if work.snapshot.nodes[target].body is not None:
                raise EditError(
                    f"{work.snapshot.nodes[target].name} is a part; parts go into groups", self.group, field="group"
                )
            path = next(path for node, _, path in work.snapshot.walk() if node.id == target)
            if set(numbers) & {*path, target}:
                raise EditError("a group does not go into itself", self.group, field="group")
        snapshot = _put_in(work.snapshot, _taken_out(work.snapshot, numbers), numbers, target)
        return Outcome(_without_empty(snapshot))


@dataclass(frozen=True, kw_only=True)
class MakeIndependent(Operation):
    """Gives places that share their body with others a body of their own, with ids of its own: from then on they change
    alone, together with one another."""

    parts: tuple[Reference, ...]
    called: str | None = None

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        leaves = list(dict.fromkeys(n for p in self.parts for n in snapshot.leaves_below(p.number)))
        done = 0
        for body in dict.fromkeys(snapshot.nodes[n].body for n in leaves):
            own = [n for n in leaves if snapshot.nodes[n].body == body]
            if body is None or len(snapshot.occurrences(body)) == len(own):
                continue
            was = snapshot.bodies[body]
            (number,), snapshot = snapshot.fresh(1)
            ids, snapshot = numbered(snapshot, {kind: [None] * len(row) for kind, row in was.ids().items()})
            again = dict(zip(was.faces, ids["face"], strict=True))
            name = self.called or _free_name(snapshot, was.name)
            new = replace(was, id=number, name=name, faces=ids["face"], edges=ids["edge"], vertices=ids["vertex"],
                          face_finishes={again[f]: c for f, c in was.face_finishes.items()}, mirror=None)  # fmt: skip
            snapshot = snapshot.with_body(new)
            for leaf in own:
                snapshot = snapshot.with_node(replace(snapshot.nodes[leaf], body=number, name=name))
            done += 1
        if not done:
            raise EditError("they share their body with nothing else, so they are independent already", self.parts)
        return Outcome(snapshot)


def _free_name(snapshot: Snapshot, name: str) -> str:
    used = {b.name for b in snapshot.bodies.values()}
    return next(n for k in range(2, 10**6) if (n := f"{name} {k}") not in used)
