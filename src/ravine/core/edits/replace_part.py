"""Take a newer part in the place of an older one."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..errors import EditError
from ..kernel.kin import matched
from ..mending.ladder import size_of
from ..model.derive import numbered
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot, split_id, text_id
from ..model.words import plural
from .base import Edit, Fact, Outcome, PickSummary, Work, edit, gap
from .facts import change_facts
from .gaps import Context, LengthGap, PickGap


@edit
class ReplacePart(Edit):
    name = "replace"
    title = "Replace by a newer one"
    sentence = "Replace {part} by {newer} , matching within {near}"
    past = "Replaced {part} by {newer}"
    help = (
        "Puts a newer body, brought in beforehand, wherever the old one stands.  Faces, edges and corners that lie "
        "where they lay keep their ids, and with them named sets, colours and picks; the name, the material and the "
        "lock stay as well.  What did not carry over is told.  Step back to compare."
    )
    offered_for = "node"
    stages = ("Bring in", "Assemble")
    rank = 70
    drawing = "swap"

    part: tuple[str, ...] = gap(PickGap("the part", "The old one.", element="node", maximum=1, changes=False))
    newer: tuple[str, ...] = gap(PickGap("the newer one", "Brought in beforehand; it goes.", element="node", maximum=1,
                                         changes=False, empty="the newer part"))  # fmt: skip
    near: float | None = gap(LengthGap("how near", "Things that lie where they lay.", minimum=1e-6, default=None,
                                       blank="a 1000th of the size"))  # fmt: skip

    @classmethod
    def offers(cls, pick: PickSummary) -> bool:
        return pick.kind == "node"

    def told(self, context: Context) -> str:
        return f"Replaced {self.word('part', context)} by {self.word('newer', context)}"

    def apply(self, work: Work) -> Outcome:
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
        place, surface = np.array(after.fabric.middle(new)[0]), after.fabric.surface(new)
        for old in free:
            if surface.same(before.fabric.surface(old), size_of(after.shape)):
                away = float(np.linalg.norm(place - np.array(before.fabric.middle(old)[0])))
                pairs.append((away, new, old))
    for _, new, old in sorted(pairs):
        if row[new] is None and old not in taken:
            row[new] = old
            taken.add(old)


def _one_body(snapshot: Snapshot, picked: tuple[str, ...], field: str) -> Body:
    bodies = {snapshot.nodes[n].body for p in picked for n in snapshot.leaves_below(split_id(p)[1])}
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
