"""One state of a model as an immutable value: bodies, the tree that places them, and the next free id.

Ids are numbers in here and text outside: `f12` a face, `e7` an edge, `v3` a vertex, `b2` a body, `n5` a place in
the tree; `s4` a sketch, and in it `p8` a point, `c9` a curve, `r10` a rule; `a4:20:5.5` the area of sketch s4 around
the place 20, 5.5 (mm in its plane); `t12:7` triangle 7 of face f12 of a mesh.
One counter serves all, so an id is never used twice in the life of a model.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Any

from ..address import digest
from ..errors import EditError, RavineError, UnknownId
from ..rigid import IDENTITY, Rigid
from ..sketch.entities import Point2, Sketch
from .dimension import ANGLE
from .pattern import Pattern
from .records import (
    DIMENSIONS,
    LINKS,
    PATTERNS,
    SETS,
    SKETCHES,
    VALUES,
    R,
    Records,
    Trade,
    addresses,
    pruned,
    read,
    written,
)
from .stored_forms import FORMAT, upgraded

PREFIXES = {
    "f": "face", "e": "edge", "v": "vertex", "b": "body", "n": "node",
    "s": "sketch", "p": "point", "c": "curve", "r": "rule", "d": "dimension", "j": "joint",
}  # fmt: skip
AREA = re.compile(r"a([0-9]{1,11}):(-?[0-9.]{1,20}(?:e-?[0-9]{1,2})?):(-?[0-9.]{1,20}(?:e-?[0-9]{1,2})?)")
FACET = re.compile(r"t([0-9]{1,11}):([0-9]{1,9})")
LETTERS = {kind: letter for letter, kind in PREFIXES.items()}


def text_id(kind: str, number: int) -> str:
    return f"{LETTERS[kind]}{number}"


def split_id(text: str) -> tuple[str, int]:
    """(kind, number); for an area the number of its sketch, for a facet that of its face.  Raises UnknownId for
    anything that is no id.  The place that an id may name besides (`f12@n5`) is left to model.references."""
    if isinstance(text, str):
        text = text.partition("@n")[0]
    if isinstance(text, str) and (area := AREA.fullmatch(text)):
        return "area", int(area[1])
    if isinstance(text, str) and (facet := FACET.fullmatch(text)):
        return "facet", int(facet[1])
    kind = PREFIXES.get(text[:1]) if isinstance(text, str) else None
    if kind is None or not text[1:].isdecimal() or len(text) > 12:
        raise UnknownId(f"“{str(text)[:20]}” is not the id of a face, edge, vertex, body, place or part of a sketch")
    return kind, int(text[1:])


def area_id(sketch: int, place: Point2) -> str:
    return f"a{sketch}:{round(place[0], 6):.12g}:{round(place[1], 6):.12g}"


def area_place(text: str) -> Point2:
    found = AREA.fullmatch(text)
    if found is None:
        raise UnknownId(f"“{text[:20]}” is not the id of an area")
    return float(found[2]), float(found[3])


def facet_number(text: str) -> int:
    """The place of a facet within its face."""
    found = FACET.fullmatch(text)
    if found is None:
        raise UnknownId(f"“{text[:20]}” is not the id of a facet")
    return int(found[2])


@dataclass(frozen=True)
class Mirrored:
    """of: id of a body; across the plane through a point (mm) square to a direction, both in that body's own
    coordinates, which are the mirrored one's as well"""

    of: int
    point: tuple[float, float, float]
    normal: tuple[float, float, float]


@dataclass(frozen=True)
class Body:
    """shape: content address of its blob; faces, edges, vertices: ids in map order of that shape.

    kind: solid, surface (an open set of faces) or mesh (triangles only; one face id for all of them)
    finish: as model.finishes says, or None; face_finishes: the same per face id, where it differs
    material: name in the materials table, or None while nobody has said
    mirror: what it stays the mirror of; it is locked as long as it does
    """

    id: int
    name: str
    kind: str
    shape: str
    faces: tuple[int, ...]
    edges: tuple[int, ...] = ()
    vertices: tuple[int, ...] = ()
    finish: str | None = None
    face_finishes: Mapping[int, str] = field(default_factory=dict)
    material: str | None = None
    locked: bool = False
    mirror: Mirrored | None = None

    def ids(self) -> dict[str, tuple[int, ...]]:
        return {"face": self.faces, "edge": self.edges, "vertex": self.vertices}

    def to_json(self) -> dict[str, Any]:
        mirror = None if self.mirror is None else self.mirror.__dict__
        return {**self.__dict__, "face_finishes": sorted(self.face_finishes.items()), "mirror": mirror}


@dataclass(frozen=True)
class Node:
    """A place in the tree: either a group with children or one occurrence of a body.  attributes: what its file says of
    it, as the reference of a component."""

    id: int
    name: str
    placement: Rigid = IDENTITY
    children: tuple[int, ...] = ()
    body: int | None = None
    attributes: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Occurrence:
    """A body where it stands: `matrix` takes its own coordinates to the model's."""

    node: Node
    body: Body
    matrix: Rigid
    path: tuple[int, ...]


@dataclass(frozen=True)
class Snapshot:
    units: str = "mm"
    roots: tuple[int, ...] = ()
    nodes: Mapping[int, Node] = field(default_factory=dict)
    bodies: Mapping[int, Body] = field(default_factory=dict)
    next_id: int = 1
    records: Records = field(default_factory=dict)

    # --- what the trades keep ----------------------------------------------------------------------------------

    def kept(self, trade: Trade[R]) -> Mapping[Any, R]:
        return self.records.get(trade.name, {})

    def with_kept(self, trade: Trade[R], rows: Mapping[Any, R]) -> Snapshot:
        others = {name: kept for name, kept in self.records.items() if name != trade.name}
        return replace(self, records={**others, trade.name: rows} if rows else others)

    @property
    def patterns(self) -> Mapping[int, Pattern]:
        return self.kept(PATTERNS)

    @property
    def sketches(self) -> Mapping[int, Sketch]:
        return self.kept(SKETCHES)

    @property
    def linked(self) -> dict[int, str]:
        """Bodies that come from another model, with the name of that."""
        return {b: link.title for link in self.kept(LINKS).values() for b in link.bodies.values()}

    @property
    def sets(self) -> Mapping[str, tuple[str, ...]]:
        """Text ids by name."""
        return self.kept(SETS)

    # --- reading ---------------------------------------------------------------------------------------------

    def walk(self) -> Iterator[tuple[Node, Rigid, tuple[int, ...]]]:
        """Every node with its place in the model and its path of ancestors, parents first."""
        stack: list[tuple[int, Rigid, tuple[int, ...]]] = [(n, IDENTITY, ()) for n in reversed(self.roots)]
        while stack:
            number, above, path = stack.pop()
            node = self.nodes[number]
            matrix = above @ node.placement
            yield node, matrix, path
            stack += [(c, matrix, (*path, number)) for c in reversed(node.children)]

    def occurrences(self, body: int | None = None) -> list[Occurrence]:
        return [
            Occurrence(node, self.bodies[node.body], matrix, path)
            for node, matrix, path in self.walk()
            if node.body is not None and body in (None, node.body)
        ]

    def leaves_below(self, node: int) -> list[int]:
        """Node ids of all occurrences in a subtree."""
        found, stack = [], [node]
        while stack:
            here = self.nodes[stack.pop()]
            if here.body is not None:
                found.append(here.id)
            stack += reversed(here.children)
        return found

    def owner_of(self, kind: str, number: int) -> tuple[Body, int]:
        """The body that has a face (or that of a facet), edge or vertex, and its index there.  Raises UnknownId when it
        ended.  Raises EditError for a kind of thing that no body has."""
        sought = "face" if kind == "facet" else kind
        if sought not in ("face", "edge", "vertex"):
            raise EditError(f"a {kind} is not part of a body; pick faces, edges or corners")
        for body in self.bodies.values():
            ids = body.ids()[sought]
            if number in ids:
                return body, ids.index(number)
        raise self.gone(kind, number)

    def gone(self, kind: str, number: int) -> UnknownId:
        name = text_id("face" if kind == "facet" else kind, number)
        if number < self.next_id:
            return UnknownId(f"{kind} {name} is not in this state of the model: an edit ended it", [name])
        return UnknownId(f"there is no {kind} {name} in this model", [name])

    def body(self, number: int) -> Body:
        if number not in self.bodies:
            raise self.gone("body", number)
        return self.bodies[number]

    def sketch(self, number: int) -> Sketch:
        if number not in self.sketches:
            raise self.gone("sketch", number)
        return self.sketches[number]

    def sketch_with(self, kind: str, number: int) -> Sketch:
        """The one that has a point, curve or rule.  Raises UnknownId when it ended."""
        for sketch in self.sketches.values():
            if number in {"point": sketch.points, "curve": sketch.curves, "rule": sketch.constraints}[kind]:
                return sketch
        raise self.gone(kind, number)

    def named_sizes(self) -> dict[str, float]:
        """What formulas know by name, mm: sizes in sketches, dimensions on solids, and values that only have a name."""
        constraints = (r for s in self.sketches.values() for r in s.constraints.values())
        return {
            **{r.name: r.value or 0.0 for r in constraints if r.name},
            **{d.name: d.value for d in self.kept(DIMENSIONS).values() if d.value is not None and d.way != ANGLE},
            **{v.name: v.value for v in self.kept(VALUES).values()},
        }

    def named_angles(self) -> dict[str, float]:
        """What formulas of angles know by name, rad: dimensions that are angles."""
        rows = self.kept(DIMENSIONS).values()
        return {d.name: d.value for d in rows if d.value is not None and d.way == ANGLE}

    def formulas(self) -> dict[str, str]:
        """Of the named ones that have one, by name."""
        constraints = (r for s in self.sketches.values() for r in s.constraints.values())
        return {
            **{r.name: r.text for r in constraints if r.name and r.text},
            **{d.name: d.text for d in self.kept(DIMENSIONS).values() if d.text},
            **{v.name: v.text for v in self.kept(VALUES).values() if v.text},
        }

    def pattern_of(self, face: int) -> Pattern | None:
        """The newest pattern with this face in one of its members."""
        found = [p for p in self.patterns.values() if any(face in m for m in p.members.values())]
        return max(found, key=lambda p: p.id, default=None)

    def set_left(self, name: str) -> tuple[str, ...]:
        """What of a named set is in this state.  Raises UnknownId for a name that no set has."""
        if name not in self.sets:
            raise UnknownId(f"there is no set “{name[:60]}”; there is {', '.join(self.sets) or 'none yet'}")
        present = {("node", n) for n in self.nodes}
        present |= {(kind, i) for b in self.bodies.values() for kind, row in b.ids().items() for i in row}
        return tuple(t for t in self.sets[name] if split_id(t) in present)

    def addresses(self) -> set[str]:
        """Of all blobs that this state needs."""
        return {b.shape for b in self.bodies.values()} | addresses(self.records)

    # --- changing: each returns a new snapshot -----------------------------------------------------------------

    def fresh(self, count: int) -> tuple[range, Snapshot]:
        return range(self.next_id, self.next_id + count), replace(self, next_id=self.next_id + count)

    def with_body(self, body: Body) -> Snapshot:
        return replace(self, bodies={**self.bodies, body.id: body})

    def with_node(self, node: Node) -> Snapshot:
        return replace(self, nodes={**self.nodes, node.id: node})

    def with_pattern(self, pattern: Pattern) -> Snapshot:
        return self.with_kept(PATTERNS, {**self.patterns, pattern.id: pattern})

    def with_sketch(self, sketch: Sketch) -> Snapshot:
        return self.with_kept(SKETCHES, {**self.sketches, sketch.id: sketch})

    def with_sets(self, sets: Mapping[str, tuple[str, ...]]) -> Snapshot:
        return self.with_kept(SETS, sets)

    def without_sketch(self, number: int) -> Snapshot:
        return self.with_kept(SKETCHES, {n: s for n, s in self.sketches.items() if n != number})

    def without_nodes(self, doomed: set[int]) -> Snapshot:
        """Without these nodes and all below them, without groups left empty, and without bodies nobody shows."""
        for number in list(doomed):
            stack = list(self.nodes[number].children)
            while stack:
                child = stack.pop()
                doomed.add(child)
                stack += self.nodes[child].children
        nodes = {n: node for n, node in self.nodes.items() if n not in doomed}
        while True:
            present = set(nodes)
            nodes = {
                n: replace(node, children=tuple(c for c in node.children if c in present)) for n, node in nodes.items()
            }
            empty = {n for n, node in nodes.items() if node.body is None and not node.children}
            if not empty:
                break
            nodes = {n: node for n, node in nodes.items() if n not in empty}
        shown = {node.body for node in nodes.values()}
        bodies = {b: body for b, body in self.bodies.items() if b in shown}
        roots = tuple(r for r in self.roots if r in nodes)
        return replace(self, roots=roots, nodes=nodes, bodies=bodies, records=pruned(self.records, bodies, nodes))

    # --- storing -----------------------------------------------------------------------------------------------

    def to_json(self) -> str:
        data: dict[str, Any] = {
            "format": FORMAT,
            "units": self.units,
            "roots": self.roots,
            "next_id": self.next_id,
            "nodes": [n.__dict__ for n in self.nodes.values()],
            "bodies": [b.to_json() for b in self.bodies.values()],
            "records": written(self.records),
        }
        return json.dumps(data, separators=(",", ":"), ensure_ascii=False)

    @classmethod
    def from_json(cls, text: str) -> Snapshot:
        """Of any format so far.  Raises RavineError for a newer one, and for what this version does not know."""
        data = upgraded(json.loads(text))
        _known(data, "the model", STORED)
        nodes = [
            Node(**{**_known(n, "a place", NODE), "placement": Rigid(n["placement"]), "children": tuple(n["children"])})
            for n in data["nodes"]
        ]
        bodies = [
            Body(
                **{
                    **_known(b, "a part", BODY),
                    "face_finishes": dict(b["face_finishes"]),
                    "mirror": _mirrored(b.get("mirror")),
                    **{key: tuple(b[key]) for key in ("faces", "edges", "vertices")},
                }
            )
            for b in data["bodies"]
        ]
        return cls(
            data["units"],
            tuple(data["roots"]),
            {n.id: n for n in nodes},
            {b.id: b for b in bodies},
            data["next_id"],
            read(data["records"]),
        )

    def stored(self) -> tuple[str, bytes]:
        """The content address of this state, and what is kept under it."""
        data = self.to_json().encode()
        return digest(data), data

    def key(self) -> str:
        return self.stored()[0]


STORED = {"format", "units", "roots", "next_id", "nodes", "bodies", "records"}
NODE = {f.name for f in fields(Node)}
BODY = {f.name for f in fields(Body)}


def _known(data: dict[str, Any], what: str, names: set[str]) -> dict[str, Any]:
    unknown = sorted(set(data) - names)
    if unknown:
        raise RavineError(
            f"{what} holds “{unknown[0]}”, which this version of Ravine does not know; open it with a newer one"
        )
    return data


def _mirrored(data: Mapping[str, Any] | None) -> Mirrored | None:
    return Mirrored(data["of"], tuple(data["point"]), tuple(data["normal"])) if data else None
