"""Parts of another model, linked at one of its states: brought in, brought up to a newer state, and cut loose.

The states of a model share one numbering that never gives an id twice, so what of a newer state stands for what is
known without looking at shapes.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..errors import EditError
from ..model.joint import Joint
from ..model.link import ModelLink, OtherState
from ..model.records import JOINTS, LINKS, PARTS
from ..model.references import Reference
from ..model.snapshot import Body, Node, Snapshot
from ..model.words import plural
from .facts import change_facts
from .work import Fact, Operation, Outcome, Work

OWN = ("value", "least", "most", "asleep")  # of a joint, that may be set here


@dataclass(frozen=True, kw_only=True)
class LinkModel(Operation):
    """Brings in all parts of another model as one group.  They are locked: they change in their own model."""

    source: OtherState

    def do(self, work: Work) -> Outcome:
        there = _state(work, self.source)
        if not there.bodies:
            raise EditError(f"{self.source.title} holds no parts yet", field="source")
        (group,), snapshot = work.snapshot.fresh(1)
        empty = ModelLink(group, self.source.model, 0, self.source.title, "", {}, {}, {}, {})
        snapshot = snapshot.with_node(Node(group, self.source.title))
        snapshot = replace(snapshot, roots=(*snapshot.roots, group))
        snapshot = _laid(snapshot, empty, self.source, there, Snapshot())
        facts = (
            Fact("parts", "parts", float(len(there.occurrences())), "count"),
            Fact("revision", "at revision", f"{self.source.revision}"),
        )
        return Outcome(snapshot, facts)


@dataclass(frozen=True, kw_only=True)
class TakeNewer(Operation):
    """Takes over another state of a model that is linked in.  Its place, joints, ties, sets and dimensions stay with
    what is still there; what is not is told."""

    part: tuple[Reference, ...]
    source: OtherState

    def do(self, work: Work) -> Outcome:
        link = link_above(work.snapshot, self.part)
        if link.model != self.source.model:
            raise EditError(
                f"this is linked to {link.title}, not to {self.source.title}; replace it instead", field="source"
            )
        if link.state == self.source.state:
            raise EditError(f"{link.title} is as it is linked already, at revision {link.revision}", field="source")
        there, old = _state(work, self.source), work.geometry.state(link.state)
        before = work.snapshot
        snapshot = _laid(before, link, self.source, there, old)
        known = {b for b in link.bodies.values() if b in before.bodies}
        changed = {b for b in known if b in snapshot.bodies and before.bodies[b] != snapshot.bodies[b]}
        added = len(snapshot.bodies) - len(set(before.bodies) & set(snapshot.bodies))
        facts = (
            *change_facts(work, snapshot, changed),
            Fact("changed", "parts changed", float(len(changed)), "count", one="part changed"),
            *((Fact("fresh", "new parts", float(added), "count"),) if added else ()),
        )
        return Outcome(snapshot, facts, tuple(_told(before, snapshot, link)))


@dataclass(frozen=True, kw_only=True)
class CutLink(Operation):
    """Leaves the parts where they are, as the model's own."""

    part: tuple[Reference, ...]

    def do(self, work: Work) -> Outcome:
        link = link_above(work.snapshot, self.part)
        rows = {n: k for n, k in work.snapshot.kept(LINKS).items() if n != link.node}
        snapshot = work.snapshot.with_kept(LINKS, rows)
        for number in link.bodies.values():
            if number in snapshot.bodies:
                snapshot = snapshot.with_body(replace(snapshot.bodies[number], locked=False))
        return Outcome(snapshot)


def link_above(snapshot: Snapshot, part: tuple[Reference, ...]) -> ModelLink:
    """That of a group or of anything in it.  Raises EditError."""
    rows = snapshot.kept(LINKS)
    path = next((p for node, _, p in snapshot.walk() if node.id == part[0].number), ())
    found = next((rows[n] for n in (part[0].number, *reversed(path)) if n in rows), None)
    if found is None:
        raise EditError("this comes from no other model", part, field="part")
    return found


def _state(work: Work, source: OtherState) -> Snapshot:
    if not source.state:
        raise EditError("say which model, and which of its revisions", field="source")
    return work.geometry.state(source.state)


def _laid(snapshot: Snapshot, link: ModelLink, source: OtherState, there: Snapshot, old: Snapshot) -> Snapshot:
    """The link's group as that state has it.  Places that were changed here since stay as they are here."""
    bodies, elements, shapes = dict(link.bodies), dict(link.elements), {}
    for number, body in there.bodies.items():
        known = snapshot.bodies.get(bodies.get(number, 0))
        mine, snapshot = _body(snapshot, body, known, elements)
        bodies[number], shapes[mine] = mine, body.shape
    nodes = {t: h for t, h in link.nodes.items() if h in snapshot.nodes}
    fresh = [n for n in there.nodes if n not in nodes]
    numbers, snapshot = snapshot.fresh(len(fresh))
    nodes |= dict(zip(fresh, numbers, strict=True))
    for number, node in there.nodes.items():
        snapshot = snapshot.with_node(_node(snapshot, nodes, bodies, node, old.nodes.get(number)))
    group = snapshot.nodes[link.node]
    snapshot = snapshot.with_node(replace(group, children=tuple(nodes[r] for r in there.roots)))
    gone = {h for t, h in nodes.items() if t not in there.nodes and h in snapshot.nodes}
    snapshot = _joined(snapshot, there, old, elements, {"n": nodes, "b": bodies})
    linked = replace(
        link, revision=source.revision, title=source.title, state=source.state, shapes=shapes,
        nodes={t: h for t, h in nodes.items() if t in there.nodes},
        bodies={t: h for t, h in bodies.items() if t in there.bodies}, elements=elements,
    )  # fmt: skip
    snapshot = snapshot.with_kept(LINKS, {**snapshot.kept(LINKS), link.node: linked})
    return _said(snapshot.without_nodes(gone) if gone else snapshot, there, bodies)


def _body(snapshot: Snapshot, body: Body, known: Body | None, elements: dict[int, int]) -> tuple[int, Snapshot]:
    """A body of there, under its ids of here; new ids are noted."""
    lacking = [i for row in body.ids().values() for i in row if i not in elements]
    fresh, snapshot = snapshot.fresh(len(lacking) + (known is None))
    elements |= dict(zip(lacking, fresh, strict=False))
    number = fresh[-1] if known is None else known.id
    ids = {kind: tuple(elements[i] for i in row) for kind, row in body.ids().items()}
    finishes = {elements[f]: c for f, c in body.face_finishes.items()}
    return number, snapshot.with_body(
        replace(body, id=number, faces=ids["face"], edges=ids["edge"], vertices=ids["vertex"],
                face_finishes=finishes, locked=True, mirror=None)
    )  # fmt: skip


def _node(
    snapshot: Snapshot, nodes: Mapping[int, int], bodies: Mapping[int, int], node: Node, old: Node | None
) -> Node:
    here = snapshot.nodes.get(nodes[node.id])
    children = tuple(nodes[c] for c in node.children)
    body = None if node.body is None else bodies[node.body]
    made = replace(node, id=nodes[node.id], children=children, body=body)
    if here is None or old is None:
        return made
    own = here.placement if here.placement != old.placement else node.placement
    return replace(made, placement=own, name=here.name if here.name != old.name else node.name)


def _joined(
    snapshot: Snapshot,
    there: Snapshot,
    old: Snapshot,
    elements: dict[int, int],
    places: Mapping[str, Mapping[int, int]],
) -> Snapshot:
    """The joints between its parts hold here as well; what was set of one here since stays.  What fixes a part to the
    other model itself is left out, since the group goes where it is put."""
    rows = dict(snapshot.kept(JOINTS))
    for number in old.kept(JOINTS).keys() - there.kept(JOINTS).keys():
        rows.pop(elements.get(number, -1), None)
    for number, joint in there.kept(JOINTS).items():
        of, to = ([_placed(text, elements, places) for text in side] for side in (joint.of, joint.to))
        known = rows.get(elements.get(number, -1))
        before = old.kept(JOINTS).get(number)
        if None in of or None in to or not to or (number in elements and known is None):
            continue  # the last of these was dropped here
        if number not in elements:
            (elements[number],), snapshot = snapshot.fresh(1)
        made = replace(
            joint, id=elements[number], of=tuple(filter(None, of)), to=tuple(filter(None, to)),
            nodes=tuple(places["n"][n] for n in joint.nodes), bodies=tuple(places["b"][b] for b in joint.bodies),
            name=known.name if known is not None else _free_name(joint.name, rows),
        )  # fmt: skip
        if known is not None and before is not None:
            kept = {key: getattr(known, key) for key in OWN if getattr(known, key) != getattr(before, key)}
            made = replace(made, **kept)
        rows[made.id] = made
    return snapshot.with_kept(JOINTS, rows) if rows != snapshot.kept(JOINTS) else snapshot


def _placed(text: str, elements: Mapping[int, int], places: Mapping[str, Mapping[int, int]]) -> str | None:
    """An id of there, as f12@n5, as it is here; None where it is not."""
    found = []
    for one in text.split("@"):
        here = places.get(one[0], elements).get(int(one[1:]))
        if here is None:
            return None
        found.append(f"{one[0]}{here}")
    return "@".join(found)


def _free_name(name: str, rows: Mapping[int, Joint]) -> str:
    taken = {row.name for row in rows.values()}
    return name if name not in taken else next(n for k in range(1, 10**6) if (n := f"J{k}") not in taken)


def _said(snapshot: Snapshot, there: Snapshot, bodies: Mapping[int, int]) -> Snapshot:
    """What lists say of the parts comes along; what was said here stays."""
    rows = {bodies[b]: replace(r, body=bodies[b], number=None) for b, r in there.kept(PARTS).items() if b in bodies}
    return snapshot.with_kept(PARTS, {**rows, **snapshot.kept(PARTS)}) if rows else snapshot


def _told(before: Snapshot, after: Snapshot, link: ModelLink) -> list[str]:
    told = []
    own = [b for b, shape in link.shapes.items() if b in before.bodies and before.bodies[b].shape != shape]
    if own:
        named = ", ".join(before.bodies[b].name for b in own[:4])
        told.append(f"{named} had been changed here; the state of {link.title} is taken, step back to get yours again")
    gone = [before.bodies[b].name for b in link.bodies.values() if b in before.bodies and b not in after.bodies]
    if gone:
        named = ", ".join(gone[:8]) + (" …" if len(gone) > 8 else "")
        told.append(f"{named} {'is' if len(gone) == 1 else 'are'} no more")
    faces = {
        f for b in link.bodies.values() if b in before.bodies and b in after.bodies for f in before.bodies[b].faces
    }
    lost = faces - {f for b in after.bodies.values() for f in b.faces}
    if lost:
        told.append(f"{plural(len(lost), 'face')} of the linked parts ended")
    for name in before.sets:
        was, now = before.set_left(name), after.set_left(name)
        if len(now) < len(was):
            told.append(f"the set {name} lost {len(was) - len(now)} of {len(was)}")
    return told
