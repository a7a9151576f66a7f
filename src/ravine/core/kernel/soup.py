"""Faces that belong together but do not share their borders yet: sewing, what stays open, and faces laid into it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from numpy.typing import NDArray
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_Copy,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_Sewing,
)
from OCP.BRepCheck import BRepCheck_Analyzer, BRepCheck_Status, BRepCheck_Wire
from OCP.BRepLib import BRepLib
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeFilling
from OCP.GeomAbs import GeomAbs_C0, GeomAbs_G1
from OCP.ShapeAnalysis import ShapeAnalysis_FreeBounds
from OCP.ShapeFix import ShapeFix_Face, ShapeFix_ShapeTolerance, ShapeFix_Shell
from OCP.TopAbs import TopAbs_SHAPE
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Shell, TopoDS_Wire

from .failures import KERNEL_FAILURES
from .properties import rough_box
from .queries import is_degenerate
from .rebuild import NewEdge, NewVertex, make_edge, make_vertex, wires_of
from .shapes import Shape, ShapeIndex, as_edge, as_face, parts_of


def shell_of(faces: Sequence[Shape]) -> Shape:
    """Faces as they are in one open shell."""
    shell = TopoDS_Shell()
    builder = BRep_Builder()
    builder.MakeShell(shell)
    for face in faces:
        builder.Add(shell, face)
    return shell


def loose(face: Shape) -> Shape:
    """A copy that shares no edge with its neighbours."""
    return BRepBuilderAPI_Copy(face, True, False).Shape()


def open_edges(index: ShapeIndex) -> list[int]:
    """Edges with a face on one side only."""
    return [
        e
        for e, beside in enumerate(index.faces_of_edges)
        if len(beside) == 1
        and not is_degenerate(index.get("edge", e))
        and not BRep_Tool.IsClosed_s(as_edge(index.get("edge", e)), as_face(index.get("face", beside[0])))
    ]


@dataclass(frozen=True)
class Sewn:
    """shape: of shells and loose faces; became: what each face that went in is now, None where it was lost."""

    shape: Shape
    became: tuple[Shape | None, ...]


def sewn_within(faces: Sequence[Shape], tolerance: float) -> Sewn:
    """Borders that run within `tolerance` mm of one another become one."""
    sewing = BRepBuilderAPI_Sewing(tolerance)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    shape = sewing.SewedShape()
    index = ShapeIndex(shape)
    became = []
    for face in faces:
        now = sewing.ModifiedSubShape(face)
        at = index.find("face", now)
        became.append(index.get("face", at) if at >= 0 else None)
    return Sewn(shape, tuple(became))


def components(shape: Shape) -> list[list[Shape]]:
    """Faces that hang together through shared edges."""
    index = ShapeIndex(shape)
    waiting, found = set(range(index.count("face"))), []
    while waiting:
        row = [waiting.pop()]
        for face in row:
            near = {f for e in index.edges_of_faces[face] for f in index.faces_of_edges[e]} & waiting
            waiting -= near
            row += near
        found.append([index.get("face", f) for f in row])
    return found


def border_loops(shape: Shape) -> tuple[list[Shape], list[Shape]]:
    """Wires along the open borders of sewn faces: those that close, and those that do not."""
    bounds = ShapeAnalysis_FreeBounds(shape, True, False, False)
    closed, left = (
        [] if found.IsNull() else parts_of(found, "wire") for found in (bounds.GetClosedWires(), bounds.GetOpenWires())
    )
    return closed, left


def outline_fault(face: Shape) -> str | None:
    """`crossing outline` or `unsound face` where the kernel's check objects to a face by itself."""
    if BRepCheck_Analyzer(face, True, False).IsValid():
        return None
    for wire in wires_of(face):
        check = BRepCheck_Wire(TopoDS.Wire(wire))
        status = check.SelfIntersect(as_face(face), TopoDS_Edge(), TopoDS_Edge(), False)
        if status == BRepCheck_Status.BRepCheck_SelfIntersectingWire:
            return "crossing outline"
    return "unsound face"


@dataclass(frozen=True)
class Shard:
    """An edge to be: its curve from first to last; ends: the numbers of the corners it runs between."""

    curve: object
    first: float
    last: float
    tolerance: float
    ends: tuple[int, int]


def edges_between(corners: Sequence[tuple[NDArray, float]], pieces: Sequence[Shard]) -> list[Shape]:
    """Edges that share their corners; corners: place (mm) and tolerance of each."""
    made = [make_vertex(NewVertex(place.tolist(), tolerance)) for place, tolerance in corners]
    return [
        make_edge(NewEdge(p.curve, p.first, p.last, p.tolerance), (made[p.ends[0]], made[p.ends[1]]), {})
        for p in pieces
    ]


def ring_of(edges: Sequence[tuple[Shape, bool]]) -> Shape:
    """A closed wire along edges, each as it runs or against."""
    wire = TopoDS_Wire()
    builder = BRep_Builder()
    builder.MakeWire(wire)
    for edge, against in edges:
        builder.Add(wire, edge.Reversed() if against else edge)
    wire.Closed(True)
    return wire


def face_within(surface: object, wires: Sequence[Shape], tolerance: float) -> Shape | None:
    """A face of a kernel surface inside closed wires, the first around the others or all around a tube; None where
    it comes out unsound."""
    for _ in range(2):  # the first pass leaves curves on the surface with the edges; with them the second may succeed
        found = _once_within(surface, wires, tolerance)
        if len(found) == 1 and BRepCheck_Analyzer(found[0], True, False).IsValid():
            return found[0]
    return None


def _once_within(surface: object, wires: Sequence[Shape], tolerance: float) -> list[Shape]:
    alone = [BRepBuilderAPI_MakeFace(surface, TopoDS.Wire(w), True) for w in wires]
    if not all(f.IsDone() for f in alone):
        return []
    made = alone[0].Face()
    builder = BRep_Builder()
    for hole in alone[1:]:  # each was turned to run around its inside; a hole runs the other way
        builder.Add(made, wires_of(hole.Face())[0].Reversed())
    fix = ShapeFix_Face(made)
    fix.SetPrecision(1e-6)
    fix.SetMaxTolerance(max(tolerance, 1e-4))
    try:
        fix.Perform()
    except KERNEL_FAILURES:
        return []
    return parts_of(fix.Result(), "face")


def face_over(surface: object, bounds: Sequence[float]) -> Shape | None:
    """A face over a rectangle of a surface's parameters (u, u, v, v)."""
    made = BRepBuilderAPI_MakeFace(surface, *map(float, bounds), 1e-6)
    return made.Face() if made.IsDone() else None


def bent_into(edges: Sequence[tuple[Shape, Shape | None]]) -> Shape | None:
    """A free surface inside edges; smooth with the face that comes beside an edge, None for merely meeting it."""
    filling = BRepOffsetAPI_MakeFilling()
    for edge, beside in edges:
        if beside is None:
            filling.Add(as_edge(edge), GeomAbs_C0)
        else:
            filling.Add(as_edge(edge), as_face(beside), GeomAbs_G1)
    try:
        filling.Build()
        faces = parts_of(filling.Shape(), "face") if filling.IsDone() else []
    except KERNEL_FAILURES:
        return None
    return faces[0] if faces and BRepCheck_Analyzer(faces[0], True, False).IsValid() else None


def facing_alike(shape: Shape) -> Shape:
    """Shells whose faces all have their matter on the same side."""
    faces = parts_of(shape, "face")
    fix = ShapeFix_Shell()
    fix.FixFaceOrientation(TopoDS.Shell(shell_of(faces)), True, False)
    return fix.Shape() if parts_of(fix.Shape(), "face") else shape


def solid_of(shape: Shape) -> Shape | None:
    """The solid inside closed shells, those that lie in the largest as hollows in it; None where they do not close,
    or lie apart."""
    solids = []
    for shell in parts_of(shape, "shell"):
        solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(shell)).Solid()
        BRepLib.OrientClosedSolid_s(solid)
        solids.append((rough_box(solid), solid))
    if not solids or open_edges(ShapeIndex(shape)):
        return None
    solids.sort(key=lambda pair: -_room(pair[0]))
    (low, high), outer = solids[0]
    if any(b[0][k] < low[k] or b[1][k] > high[k] for b, _ in solids[1:] for k in range(3)):
        return None
    if len(solids) == 1:
        return outer
    maker = BRepBuilderAPI_MakeSolid(TopoDS.Shell(parts_of(outer, "shell")[0]))
    for _, hollow in solids[1:]:
        maker.Add(TopoDS.Shell(parts_of(hollow, "shell")[0].Reversed()))
    return maker.Solid()


def _room(box: Sequence[Sequence[float]]) -> float:
    (a, b, c), (d, e, f) = box
    return (d - a) * (e - b) * (f - c)


def tightened(shape: Shape) -> Shape:
    """A copy whose edges and corners claim no more tolerance than their curves need."""
    copy = BRepBuilderAPI_Copy(shape, True, False).Shape()
    fix = ShapeFix_ShapeTolerance()
    fix.LimitTolerance(copy, 1e-7, 1e-6, TopAbs_SHAPE)
    BRepLib.SameParameter_s(copy, 1e-7, True)
    BRepLib.UpdateTolerances_s(copy, False)
    return copy


def turned_over(shape: Shape, faces: Sequence[int]) -> Shape:
    """An open body with some faces (by number) looking the other way."""
    chosen = set(faces)
    return shell_of([f.Reversed() if k in chosen else f for k, f in enumerate(parts_of(shape, "face"))])
