"""A solid rebuilt with the same topology on other geometry; everything untouched is shared with the old one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepTools import BRepTools, BRepTools_ReShape
from OCP.gp import gp_Pnt
from OCP.ShapeUpgrade import ShapeUpgrade_RemoveLocations
from OCP.TopAbs import TopAbs_FACE, TopAbs_FORWARD, TopAbs_REVERSED, TopAbs_WIRE
from OCP.TopExp import TopExp, TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Iterator, TopoDS_Vertex, TopoDS_Wire

from ..errors import EditError
from ..tolerances import SAME_PLACE
from .carriers import GeomHandle, is_reversed
from .history import Ids
from .shapes import Loop, Loops, Shape, ShapeIndex, as_edge, as_face, as_vertex


@dataclass
class NewEdge:
    """curve: kernel curve, None for an edge shrunk to a point; first, last: its range; flat: for each face the curve
    in its surface parameters, two of them (as used forward, as used reversed) where the edge is a seam."""

    curve: GeomHandle
    first: float
    last: float
    tolerance: float = SAME_PLACE
    flat: dict[int, tuple[GeomHandle, ...]] = field(default_factory=dict)


@dataclass(frozen=True)
class NewVertex:
    point: Sequence[float]
    tolerance: float = SAME_PLACE


def subshapes(shape: Shape) -> list[Shape]:
    """Direct parts of a shape, with their orientation in it and the placement they have through it."""
    found, walk = [], TopoDS_Iterator(shape, False, True)
    while walk.More():
        found.append(walk.Value())
        walk.Next()
    return found


def wires_of(face: Shape) -> list[Shape]:
    """The outer wire first; oriented as in the face taken FORWARD."""
    forward = as_face(face.Oriented(TopAbs_FORWARD))
    outer = BRepTools.OuterWire_s(forward)
    found, explorer = [], TopExp_Explorer(forward, TopAbs_WIRE)
    while explorer.More():
        found.append(explorer.Current())
        explorer.Next()
    return sorted(found, key=lambda w: not w.IsSame(outer))


def loops_of(index: ShapeIndex, face: int) -> Loops:
    found = index.loops.get(face)
    if found is None:
        shape = index.get("face", face)
        ordered = tuple(_edge_uses(index, wire) for wire in wires_of(shape))
        stored = tuple(_edge_uses(index, wire) for wire in subshapes(shape.Oriented(TopAbs_FORWARD)))
        found = index.loops[face] = Loops(ordered, stored)
    return found


def _edge_uses(index: ShapeIndex, wire: Shape) -> Loop:
    """As the wire runs: a wire that is itself reversed runs its list backwards."""
    uses = [(index.find("edge", e), is_reversed(e)) for e in subshapes(wire)]
    return tuple((e, not against) for e, against in reversed(uses)) if is_reversed(wire) else tuple(uses)


def with_loops(face: Shape, kept: Sequence[bool]) -> Shape:
    """The face with some of its loops only; kept: for each, in the order in which the face lists them."""
    forward = as_face(face.Oriented(TopAbs_FORWARD))
    found = as_face(forward.EmptyCopied())
    for wire, keep in zip(subshapes(forward), kept, strict=True):
        if keep:
            BRep_Builder().Add(found, wire)
    return found.Oriented(face.Orientation())


def ends_of(index: ShapeIndex, edge: int) -> tuple[int, int]:
    """Vertices at the lower and the upper end of the edge's range; -1 where it has none."""
    found = index.ends.get(edge)
    if found is None:
        forward = as_edge(index.get("edge", edge).Oriented(TopAbs_FORWARD))
        ends = (TopExp.FirstVertex_s(forward), TopExp.LastVertex_s(forward))
        lower, upper = (-1 if end.IsNull() else index.find("vertex", end) for end in ends)
        found = index.ends[edge] = lower, upper
    return found


def tolerance_of(shape: Shape, kind: str) -> float:
    if kind == "vertex":
        return BRep_Tool.Tolerance_s(as_vertex(shape))
    return BRep_Tool.Tolerance_s(as_edge(shape)) if kind == "edge" else BRep_Tool.Tolerance_s(as_face(shape))


def has_inner_locations(index: ShapeIndex) -> bool:
    """Faces that sit in the solid through a placement of their own, which rebuilding does not follow."""
    return any(not f.Location().IsIdentity() for f in index.all("face"))


def make_vertex(new: NewVertex) -> Shape:
    vertex = TopoDS_Vertex()
    BRep_Builder().MakeVertex(vertex, gp_Pnt(*map(float, new.point)), new.tolerance)
    return vertex


def make_edge(
    new: NewEdge, ends: tuple[Shape | None, Shape | None], surfaces: Mapping[int, GeomHandle], upper_first: bool = False
) -> Shape:
    """upper_first: the vertex at the upper end is listed first, which the order of a shape's parts hangs on."""
    builder, edge = BRep_Builder(), TopoDS_Edge()
    if new.curve is None:
        builder.MakeEdge(edge)
        builder.Degenerated(edge, True)
    else:
        builder.MakeEdge(edge, new.curve, new.tolerance)
    placed = list(zip(ends, (TopAbs_FORWARD, TopAbs_REVERSED), strict=True))
    for end, orientation in reversed(placed) if upper_first else placed:
        if end is not None:
            builder.Add(edge, end.Oriented(orientation))
    identity = TopLoc_Location()
    for face, curves in new.flat.items():
        builder.UpdateEdge(edge, *curves, surfaces[face], identity, new.tolerance)
    builder.Range(edge, float(new.first), float(new.last))
    return edge


Wires = list[list[tuple[int, bool]]]


@dataclass(frozen=True)
class Rebuilt:
    """shape: the new solid; made: new faces, edges and vertices by kind and number."""

    shape: Shape
    made: dict[str, dict[int, Shape]]


class Rebuild:
    """Collects what changes and makes the new solid.

    vertices, edges: made anew by number; numbers beyond those of the index are additional ones
    surfaces:        a kernel surface for each face on a new one
    ends:            vertices of an edge, lower end first, where they are not those of the old edge
    wires:           loops of a face (the face taken forward), where they are not those of the old face
    removed:         faces left out
    """

    def __init__(self, index: ShapeIndex) -> None:
        self.index = index
        self.vertices: dict[int, NewVertex] = {}
        self.edges: dict[int, NewEdge] = {}
        self.surfaces: dict[int, GeomHandle] = {}
        self.ends: dict[int, tuple[int, int]] = {}
        self.wires: dict[int, Wires] = {}
        self.removed: set[int] = set()

    def carrier(self, face: int) -> GeomHandle:
        found = self.surfaces.get(face)
        return BRep_Tool.Surface_s(as_face(self.index.get("face", face))) if found is None else found

    def solid(self, faces: set[int]) -> Rebuilt:
        """`faces` are all that have a changed surface, edge, vertex or loop."""
        vertices = {v: make_vertex(new) for v, new in self.vertices.items()}
        edges: dict[int, Shape] = {}
        for number, new in self.edges.items():
            ends = self.ends[number] if number in self.ends else ends_of(self.index, number)
            first, last = (None if v < 0 else self._now("vertex", v, vertices) for v in ends)
            carriers = {f: self.carrier(f) for f in new.flat}
            edges[number] = make_edge(new, (first, last), carriers, self._upper_first(number))
        made = {number: self._face(number, edges) for number in faces}
        swap = BRepTools_ReShape()
        for number, face in made.items():
            old = self.index.get("face", number)
            swap.Replace(old, face.Oriented(old.Orientation()))
        for number in self.removed:
            swap.Remove(self.index.get("face", number))
        shape = swap.Apply(self.index.shape, TopAbs_FACE)
        return Rebuilt(shape, {"face": made, "edge": edges, "vertex": vertices})

    def _upper_first(self, edge: int) -> bool:
        if edge >= self.index.count("edge"):
            return False
        listed = subshapes(self.index.get("edge", edge).Oriented(TopAbs_FORWARD))
        return bool(listed) and is_reversed(listed[0])

    def _now(self, kind: str, number: int, made: Mapping[int, Shape]) -> Shape:
        found = made.get(number)
        return self.index.get(kind, number) if found is None else found

    def _face(self, number: int, edges: Mapping[int, Shape]) -> Shape:
        builder = BRep_Builder()
        old = as_face(self.index.get("face", number).Oriented(TopAbs_FORWARD))
        if number in self.surfaces:
            face = TopoDS_Face()
            builder.MakeFace(face, self.surfaces[number], TopLoc_Location(), tolerance_of(old, "face"))
            builder.NaturalRestriction(face, BRep_Tool.NaturalRestriction_s(old))
        else:
            face = as_face(old.EmptyCopied())
        if number in self.wires:
            for uses in self.wires[number]:
                fresh = TopoDS_Wire()
                builder.MakeWire(fresh)
                for edge, against in uses:
                    sense = TopAbs_REVERSED if against else TopAbs_FORWARD
                    builder.Add(fresh, self._now("edge", edge, edges).Oriented(sense))
                fresh.Closed(True)
                builder.Add(face, fresh)
            return face
        for wire, loop in zip(subshapes(old), loops_of(self.index, number).stored, strict=True):
            if not any(edge in edges for edge, _ in loop):
                builder.Add(face, wire)
                continue
            fresh = TopoDS.Wire(wire.EmptyCopied())
            fresh.Orientation(TopAbs_FORWARD)
            fresh.Location(TopLoc_Location())
            for used in subshapes(wire):
                replaced = edges.get(self.index.find("edge", used))
                builder.Add(fresh, used if replaced is None else replaced.Oriented(used.Orientation()))
            fresh.Closed(wire.Closed())
            builder.Add(face, fresh.Oriented(wire.Orientation()))
        return face


def carried(index: ShapeIndex, ids: Mapping[str, Sequence[int]], rebuilt: Rebuilt, result: ShapeIndex) -> Ids:
    """Ids in the result of a rebuild that changed the topology: what was remade keeps its id, what was shared, too."""
    found: Ids = {kind: [None] * result.count(kind) for kind in ids}
    for kind, row in ids.items():
        for number, ident in enumerate(row):
            now = rebuilt.made[kind].get(number)
            at = result.find(kind, index.get(kind, number) if now is None else now)
            if at >= 0:
                found[kind][at] = ident
    return found


def rooted(index: ShapeIndex) -> ShapeIndex:
    """The same solid, part by part in the same order, with placements inside it worked into the geometry.  The very
    index where there are none.  Raises EditError should the kernel change the order."""
    if not has_inner_locations(index):
        return index
    tool = ShapeUpgrade_RemoveLocations()
    tool.Remove(index.shape)
    found = ShapeIndex(tool.GetResult())
    if found.faces_of_edges != index.faces_of_edges or found.count("vertex") != index.count("vertex"):
        raise EditError("the geometry kernel cannot work the placements inside this solid into it")
    return found
