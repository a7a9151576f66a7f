"""Faces, edges and vertices as values to ask: what are you, how big, who is beside you.

Coordinates are those of the whole model, for the body's first occurrence, in model units.  Ids survive edits, so
keep the id rather than the object: an object speaks of the state it was asked in.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from ..errors import EditError
from ..kernel import queries as kernel
from ..kernel.shapes import Shape
from ..local.chamfers import chamfer_of
from ..rigid import IDENTITY, Rigid
from ..units import LENGTHS
from .geometry import GeometryStore, Solid
from .references import resolve
from .snapshot import Body, Snapshot, split_id, text_id

Vec = tuple[float, float, float]
PARALLEL = 1e-6  # 1 − |cos|; about 1.4e-3 rad


@dataclass(frozen=True)
class Scope:
    """One body in one state: what its faces, edges and vertices look things up in.  node: the place in the tree that
    they are seen in; None for the first that shows the body."""

    snapshot: Snapshot
    geometry: GeometryStore
    body: Body
    node: int | None = None

    @cached_property
    def solid(self) -> Solid:
        if self.body.kind == "mesh":
            raise EditError(
                f"{self.body.name} is a mesh: it has triangles, not faces and edges",
                [text_id("body", self.body.id)],
            )
        return self.geometry.solid(self.body.shape)

    @cached_property
    def matrix(self) -> Rigid:
        shown = self.snapshot.occurrences(self.body.id)
        return next((o.matrix for o in shown if self.node in (None, o.node.id)), IDENTITY)

    @property
    def unit(self) -> float:
        return LENGTHS[self.snapshot.units]

    def point(self, p: Sequence[float]) -> Vec:
        x, y, z = self.matrix.point(p)
        return (x / self.unit, y / self.unit, z / self.unit)

    def direction(self, d: Sequence[float]) -> Vec:
        return self.matrix.direction(d)

    def axis(self, line: tuple[Vec, Vec] | None) -> tuple[Vec, Vec] | None:
        return None if line is None else (self.point(line[0]), self.direction(line[1]))


@dataclass(frozen=True)
class _Part:
    scope: Scope = field(repr=False)
    index: int
    element = ""

    @property
    def id(self) -> str:
        return text_id(self.element, self.scope.body.ids()[self.element][self.index])

    @property
    def shape(self) -> Shape:
        return self.scope.solid.index.get(self.element, self.index)

    @property
    def body(self) -> str:
        return text_id("body", self.scope.body.id)


@dataclass(frozen=True)
class Face(_Part):
    element = "face"

    @cached_property
    def facts(self) -> kernel.FaceFacts:
        """In the body's own coordinates, mm."""
        return kernel.face_facts(self.shape)

    @property
    def kind(self) -> str:
        """plane, cylinder, cone, sphere, torus or spline."""
        return kernel.face_kind(self.shape)

    @property
    def area(self) -> float:
        return self.facts.area / self.scope.unit**2

    @property
    def centroid(self) -> Vec:
        return self.scope.point(self.facts.centroid)

    @property
    def normal(self) -> Vec:
        """Outward unit normal at the middle of the face."""
        return self.scope.direction(self.facts.normal)

    @property
    def radius(self) -> float | None:
        return None if self.facts.radius is None else self.facts.radius / self.scope.unit

    @property
    def chamfer_widths(self) -> tuple[float, float] | None:
        """Along both walls of a chamfer, smaller first; None of any other face."""
        item = chamfer_of(self.scope.solid.topology, self.index)
        if item is None or not item.legs:
            return None
        low, high = sorted(round(leg / self.scope.unit, 9) for leg in item.legs)
        return low, high

    @property
    def axis(self) -> tuple[Vec, Vec] | None:
        """Point and unit direction."""
        return self.scope.axis(self.facts.axis)

    @property
    def edges(self) -> EdgeSet:
        return EdgeSet(Edge(self.scope, e) for e in self.scope.solid.index.edges_of_faces[self.index])

    @property
    def neighbours(self) -> FaceSet:
        """Faces that share an edge with this one."""
        return self._beside(None)

    @property
    def tangent_neighbours(self) -> FaceSet:
        return self._beside("tangent")

    def _beside(self, convexity: str | None) -> FaceSet:
        index, found = self.scope.solid.index, []
        for edge in index.edges_of_faces[self.index]:
            for face in index.faces_of_edges[edge]:
                if face == self.index or face in found:
                    continue
                if convexity is None or kernel.convexity(index, edge) == convexity:
                    found.append(face)
        return FaceSet(Face(self.scope, f) for f in found)


@dataclass(frozen=True)
class Edge(_Part):
    element = "edge"

    @cached_property
    def facts(self) -> kernel.EdgeFacts:
        return kernel.edge_facts(self.shape)

    @property
    def kind(self) -> str:
        """line, circle, ellipse or spline."""
        return self.facts.kind

    @property
    def length(self) -> float:
        return self.facts.length / self.scope.unit

    @property
    def middle(self) -> Vec:
        return self.scope.point(self.facts.middle)

    @property
    def radius(self) -> float | None:
        return None if self.facts.radius is None else self.facts.radius / self.scope.unit

    @property
    def axis(self) -> tuple[Vec, Vec] | None:
        return self.scope.axis(self.facts.axis)

    @property
    def direction(self) -> Vec | None:
        """Unit direction of a straight one."""
        return None if self.facts.direction is None else self.scope.direction(self.facts.direction)

    @property
    def convexity(self) -> str:
        """convex, concave, tangent or open."""
        return kernel.convexity(self.scope.solid.index, self.index)

    @property
    def faces(self) -> FaceSet:
        beside = self.scope.solid.index.faces_of_edges[self.index]
        return FaceSet(Face(self.scope, f) for f in dict.fromkeys(beside))


@dataclass(frozen=True)
class Vertex(_Part):
    element = "vertex"

    @property
    def point(self) -> Vec:
        return self.scope.point(kernel.vertex_point(self.shape))


ELEMENTS: dict[str, type[Face | Edge | Vertex]] = {"face": Face, "edge": Edge, "vertex": Vertex}


def things_of(snapshot: Snapshot, geometry: GeometryStore, ids: Sequence[str]) -> list[Face | Edge | Vertex]:
    """Faces, edges and vertices, each in the place it was picked in (`f12@n5`).  Raises UnknownId."""
    scopes: dict[tuple[int, int | None], Scope] = {}
    found: list[Face | Edge | Vertex] = []
    for ident in ids:
        kind, number = split_id(ident)
        body, index = snapshot.owner_of(kind, number)
        node = resolve(snapshot, ident).node if "@" in ident else None
        scope = scopes.setdefault((body.id, node), Scope(snapshot, geometry, body, node))
        found.append(ELEMENTS[kind](scope, index))
    return found


def is_hole(face: Face) -> bool:
    """The wall of a round hole: hollow, and round all the way at one end at least."""
    if face.kind != "cylinder" or not face.facts.hollow or face.radius is None:
        return False
    full = 2 * math.pi * face.radius
    return any(e.kind == "circle" and abs(e.length - full) < 1e-6 * full for e in face.edges)


def hole_of(edge: Edge) -> Face | None:
    """The wall of the hole that a round edge is the rim of."""
    if edge.kind != "circle":
        return None
    walls = [f for f in edge.faces if f.kind == "cylinder" and f.facts.hollow]
    return walls[0] if len(walls) == 1 else None


def holes_around(snapshot: Snapshot, geometry: GeometryStore, ids: Sequence[str]) -> list[str]:
    """The walls of the holes that picked edges are rims of, with their places; anything else as it is."""
    found: dict[str, None] = {}
    for ident in ids:
        edge = things_of(snapshot, geometry, [ident])[0] if ident[:1] == "e" else None
        wall = hole_of(edge) if isinstance(edge, Edge) else None
        found[ident if wall is None else wall.id + ident[len(ident.partition("@")[0]) :]] = None
    return list(found)


class FaceSet(list[Face]):
    """A list of faces with the usual ways to pick one."""

    def __init__(self, faces: Iterable[Face] = ()) -> None:
        super().__init__(faces)

    def highest(self, direction: Sequence[float] = (0, 0, 1)) -> Face:
        """The face whose centroid lies farthest along `direction`."""
        if not self:
            raise EditError("no face matches, so there is no highest one")
        return max(self, key=lambda f: sum(a * b for a, b in zip(f.centroid, direction, strict=True)))

    def largest(self) -> Face:
        if not self:
            raise EditError("no face matches, so there is no largest one")
        return max(self, key=lambda f: f.area)

    @property
    def ids(self) -> list[str]:
        return [f.id for f in self]


class EdgeSet(list[Edge]):
    """A list of edges with the usual ways to pick one."""

    def __init__(self, edges: Iterable[Edge] = ()) -> None:
        super().__init__(edges)

    def highest(self, direction: Sequence[float] = (0, 0, 1)) -> Edge:
        """The edge whose middle lies farthest along `direction`."""
        if not self:
            raise EditError("no edge matches, so there is no highest one")
        return max(self, key=lambda e: sum(a * b for a, b in zip(e.middle, direction, strict=True)))

    def longest(self) -> Edge:
        if not self:
            raise EditError("no edge matches, so there is no longest one")
        return max(self, key=lambda e: e.length)

    @property
    def ids(self) -> list[str]:
        return [e.id for e in self]


def _same_direction(a: Sequence[float], b: Sequence[float], *, either_way: bool = False) -> bool:
    size = math.sqrt(sum(x * x for x in b))
    cosine = sum(x * y for x, y in zip(a, b, strict=True)) / size
    return (abs(cosine) if either_way else cosine) > 1 - PARALLEL


def find_faces(
    scope: Scope,
    kind: str | None = None,
    normal: Sequence[float] | None = None,
    radius: float | None = None,
    axis: Sequence[float] | None = None,
    tolerance: float = 1e-6,
) -> FaceSet:
    """Faces of a body by kind, outward normal (of planes), radius (model units, within `tolerance`), and direction
    of the axis (either way)."""

    def fits(face: Face) -> bool:
        if kind is not None and face.kind != kind:
            return False
        if normal is not None and not (face.kind == "plane" and _same_direction(face.normal, normal)):
            return False
        if radius is not None and (face.radius is None or abs(face.radius - radius) > tolerance):
            return False
        return axis is None or (face.axis is not None and _same_direction(face.axis[1], axis, either_way=True))

    return FaceSet(f for f in every(scope, Face) if fits(f))


def find_edges(
    scope: Scope,
    kind: str | None = None,
    radius: float | None = None,
    length: float | None = None,
    direction: Sequence[float] | None = None,
    convexity: str | None = None,
    tolerance: float = 1e-6,
) -> EdgeSet:
    """Edges of a body by kind, radius and length (model units, within `tolerance`), direction of straight ones (either
    way), and how their faces meet: convex, concave, tangent or open."""

    def fits(edge: Edge) -> bool:
        if kind is not None and edge.kind != kind:
            return False
        if radius is not None and (edge.radius is None or abs(edge.radius - radius) > tolerance):
            return False
        if length is not None and abs(edge.length - length) > tolerance:
            return False
        if convexity is not None and edge.convexity != convexity:
            return False
        return direction is None or (
            edge.direction is not None and _same_direction(edge.direction, direction, either_way=True)
        )

    return EdgeSet(e for e in every(scope, Edge) if fits(e))


@dataclass(frozen=True)
class Part:
    """A place in the tree that shows a body."""

    scope: Scope = field(repr=False)
    node: int
    name: str

    @property
    def id(self) -> str:
        return text_id("node", self.node)

    @property
    def body(self) -> str:
        return text_id("body", self.scope.body.id)

    @property
    def kind(self) -> str:
        return self.scope.body.kind

    @property
    def material(self) -> str | None:
        return self.scope.body.material

    @property
    def size(self) -> float:
        """Diagonal of its box."""
        return self.scope.geometry.get(self.scope.body.shape).box.diagonal / self.scope.unit


class PartSet(list[Part]):
    """A list of parts with the usual ways to pick one."""

    def __init__(self, parts: Iterable[Part] = ()) -> None:
        super().__init__(parts)

    def largest(self) -> Part:
        if not self:
            raise EditError("no part matches, so there is no largest one")
        return max(self, key=lambda p: p.size)

    @property
    def ids(self) -> list[str]:
        return [p.id for p in self]


def find_parts(
    snapshot: Snapshot,
    geometry: GeometryStore,
    name: str | None = None,
    material: str | None = None,
    kind: str | None = None,
) -> PartSet:
    """Places that show a body, by name, material, and kind of body (solid, surface or mesh)."""
    found = (Part(Scope(snapshot, geometry, o.body), o.node.id, o.node.name) for o in snapshot.occurrences())
    wanted = {"name": name, "material": material, "kind": kind}
    return PartSet(p for p in found if all(v is None or getattr(p, k) == v for k, v in wanted.items()))


def every(scope: Scope, element: type[Any]) -> Iterator[Any]:
    return (element(scope, i) for i in range(len(scope.body.ids()[element.element])))
