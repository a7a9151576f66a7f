"""Take a newer part in the place of an older one."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import EditError
from ..kernel.shape_matching import matched
from ..mending.ladder import size_of
from ..model.derive import numbered
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Snapshot, text_id
from ..model.words import plural
from .facts import change_facts
from .work import Fact, Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class ReplacePart(Operation):
    """Puts a newer body, brought in beforehand, wherever the old one stands."""

    part: tuple[Reference, ...]
    newer: tuple[Reference, ...]
    near: float | None = None

    def do(self, work: Work) -> Outcome:
        snapshot = work.snapshot
        old, new = (_one_body(snapshot, picked, field) for picked, field in
                    ((self.part, "part"), (self.newer, "newer")))  # fmt: skip
        if old.id == new.id:
            raise EditError("a part cannot be replaced by itself; pick the newer one", self.newer, field="newer")
        if "mesh" in (old.kind, new.kind):
            return self._whole(work, old, new)
        before, after = (work.geometry.solid(b.shape) for b in (old, new))
        near = matched(before.index, after.index, self.near or size_of(before.shape) / 1000)
        _on_the_same_surface(before, after, near["face"])
        known = old.ids()
        ids = {kind: [None if k is None else known[kind][k] for k in row] for kind, row in near.items()}
        filled, snapshot = numbered(snapshot, ids)
        finishes = {f: c for f, c in zip(filled["face"], _colours(new), strict=True) if c}
        finishes |= {f: c for f, c in old.face_finishes.items() if f in filled["face"]}
        body = replace(
            old, kind=new.kind, shape=new.shape, faces=filled["face"], edges=filled["edge"],
            vertices=filled["vertex"], face_finishes=finishes, material=old.material or new.material,
        )  # fmt: skip
        snapshot = _gone_over(snapshot, new, body)
        lost = [text_id("face", f) for f in set(old.faces) - set(body.faces)]
        facts = (
            *change_facts(work, snapshot, {old.id}),
            Fact("kept", "faces kept", float(len(old.faces) - len(lost)), "count", one="face kept"),
            Fact("fresh", "new faces", float(len(body.faces) - len(old.faces) + len(lost)), "count"),
        )
        return Outcome(snapshot, facts, _told(work.snapshot, snapshot, old, lost))

    def _whole(self, work: Work, old: Body, new: Body) -> Outcome:
        """Where one of them is a mesh, nothing of the two can be matched but the part as a whole."""
        body = replace(
            new, id=old.id, name=old.name, finish=old.finish or new.finish, material=old.material or new.material,
            locked=old.locked,
        )  # fmt: skip
        snapshot = _gone_over(work.snapshot, new, body)
        facts = (
            *change_facts(work, snapshot, {old.id}),
            Fact("kept", "faces kept", 0.0, "count"),
            Fact("fresh", "new faces", float(len(body.faces)), "count"),
        )
        lost = [text_id("face", f) for f in old.faces]
        return Outcome(snapshot, facts, _told(work.snapshot, snapshot, old, lost))


def _gone_over(snapshot: Snapshot, new: Body, body: Body) -> Snapshot:
    gone = {o.node.id for o in snapshot.occurrences(new.id)}
    return snapshot.without_nodes(gone).with_body(body)


def _on_the_same_surface(before: Solid, after: Solid, row: list[int | None]) -> None:
    """Faces whose outline changed, but which lie on the surface on which an old one lay, nearest first."""
    taken = {k for k in row if k is not None}
    free = [f for f in range(before.index.count("face")) if f not in taken]
    pairs = []
    for new in (f for f, k in enumerate(row) if k is None):
        place, surface = np.array(after.topology.middle(new)[0]), after.topology.surface(new)
        for old in free:
            if surface.same(before.topology.surface(old), size_of(after.shape)):
                away = float(np.linalg.norm(place - np.array(before.topology.middle(old)[0])))
                pairs.append((away, new, old))
    for _, new, old in sorted(pairs):
        if row[new] is None and old not in taken:
            row[new] = old
            taken.add(old)


def _one_body(snapshot: Snapshot, picked: tuple[Reference, ...], field: str) -> Body:
    bodies = {snapshot.nodes[n].body for p in picked for n in snapshot.leaves_below(p.number)}
    if len(bodies) != 1:
        raise EditError(f"{len(bodies)} bodies are in what was picked; pick one part", picked, field=field)
    return snapshot.body(bodies.pop() or 0)


def _colours(body: Body) -> list[str | None]:
    return [body.face_finishes.get(f) for f in body.faces]


def _told(before: Snapshot, after: Snapshot, old: Body, lost: list[str]) -> tuple[str, ...]:
    """What did not carry over."""
    told = []
    if lost:
        named = ", ".join(sorted(lost, key=lambda t: int(t[1:]))[:8]) + (" …" if len(lost) > 8 else "")
        told.append(f"{plural(len(lost), 'face')} of the old {old.name} found nothing in the new one: {named}")
    for name in before.sets:
        was, now = before.set_left(name), after.set_left(name)
        if len(now) < len(was):
            told.append(f"the set {name} lost {len(was) - len(now)} of {len(was)}")
    return tuple(told)
