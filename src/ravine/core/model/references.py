"""What was picked, resolved once.

A reference is its text id, so it goes unchanged into errors, sentences and stored values, together with what it named
in the state it was resolved in: the body, the place in the body's index, and which of the body's places was picked.
Text may name that place, `f12@n5`: face f12 where node n5 shows it; without it, it is where the body is first shown.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from ..errors import EditError, UnknownId
from ..rigid import IDENTITY, Rigid
from .records import DIMENSIONS, JOINTS
from .snapshot import Body, Occurrence, Snapshot, split_id, text_id

INSTANCE = re.compile(r"(.+)@n([0-9]{1,11})")


class Reference(str):
    """kind: face, edge, vertex, facet, body, node, sketch, point, curve, rule or area; number: of the id (of the
    face for a facet, of the sketch for an area); body, at: of what is part of one and its place in the index, None
    and -1 of anything else; node: the place in the tree that shows it, None where nothing does; matrix: takes the
    body's own coordinates to the model's there."""

    kind: str
    number: int
    body: Body | None
    at: int
    node: int | None
    matrix: Rigid

    @property
    def owner(self) -> tuple[Body, int]:
        """The body and the place in its index.  Raises EditError for what is part of no body."""
        if self.body is None or self.at < 0:
            raise EditError(f"{self} is a {self.kind}, not part of a body", [self])
        return self.body, self.at

    @property
    def placed(self) -> str:
        """With the place it was picked in."""
        return str(self) if self.node is None or self.kind == "node" else f"{self}@{text_id('node', self.node)}"


class Places:
    """Where the bodies of a state stand, found once for many references."""

    def __init__(self, snapshot: Snapshot) -> None:
        self.snapshot = snapshot
        self._shown: dict[int, list[Occurrence]] | None = None

    def of(self, body: int) -> list[Occurrence]:
        if self._shown is None:
            self._shown = {}
            for place in self.snapshot.occurrences():
                self._shown.setdefault(place.body.id, []).append(place)
        return self._shown.get(body, [])

    def resolve(self, text: str) -> Reference:
        return resolve(self.snapshot, text, self)


def resolve(snapshot: Snapshot, text: str, places: Places | None = None) -> Reference:
    """Raises UnknownId for what is not in this state."""
    if isinstance(text, Reference):
        text = text.placed
    found = INSTANCE.fullmatch(text) if isinstance(text, str) else None
    base = found[1] if found else text
    kind, number = split_id(base)
    reference = Reference(base)
    reference.kind, reference.number = kind, number
    reference.body, reference.at, reference.node, reference.matrix = None, -1, None, IDENTITY
    if kind in ("face", "edge", "vertex", "facet"):
        reference.body, reference.at = snapshot.owner_of(kind, number)
    elif kind == "body":
        reference.body = snapshot.body(number)
    elif kind == "node":
        if number not in snapshot.nodes:
            raise snapshot.gone("node", number)
        reference.node = number
        of = snapshot.nodes[number].body
        reference.body = None if of is None else snapshot.body(of)
        reference.matrix = next(matrix for node, matrix, _ in snapshot.walk() if node.id == number)
        return reference
    elif kind in ("dimension", "joint"):
        if number not in (snapshot.kept(DIMENSIONS) if kind == "dimension" else snapshot.kept(JOINTS)):
            raise snapshot.gone(kind, number)
    elif kind in ("sketch", "area"):
        snapshot.sketch(number)
    else:
        snapshot.sketch_with(kind, number)
    if reference.body is not None:
        _place(places or Places(snapshot), reference, int(found[2]) if found else None)
    return reference


def _place(places: Places, reference: Reference, node: int | None) -> None:
    body, _ = reference.owner
    shown = places.of(body.id)
    at = next((o for o in shown if o.node.id == node), None) if node is not None else next(iter(shown), None)
    if node is not None and at is None:
        raise UnknownId(f"{text_id('node', node)} does not show {reference}", [reference])
    if at is not None:
        reference.node, reference.matrix = at.node.id, at.matrix


def moved(reference: Reference, motion: Rigid) -> Reference:
    """The same, as a motion of the model takes it."""
    found = Reference(reference)
    found.__dict__.update(reference.__dict__)
    found.matrix = motion @ reference.matrix
    return found


def references(snapshot: Snapshot, texts: Iterable[str]) -> tuple[Reference, ...]:
    """Each once, in order."""
    places = Places(snapshot)
    return tuple(dict.fromkeys(places.resolve(text) for text in texts))


def part_of(reference: Reference, kind: str, index: int) -> Reference:
    """Another face, edge or vertex of the same body, where that one was picked."""
    body, _ = reference.owner
    found = Reference(text_id(kind, body.ids()[kind][index]))
    found.kind, found.number = kind, body.ids()[kind][index]
    found.body, found.at, found.node, found.matrix = body, index, reference.node, reference.matrix
    return found
