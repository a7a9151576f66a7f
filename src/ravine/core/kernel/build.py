"""Building shapes from nothing: what edits cut with, and what the demo scenario and the tests make their parts of."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence

from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Sewing,
    BRepBuilderAPI_Transform,
)
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepLib import BRepLib
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakePrism,
    BRepPrimAPI_MakeRevol,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.GC import GC_MakeArcOfCircle
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS

from ..errors import EditError
from .boolean import combine, single_solid
from .queries import EdgeFacts, edge_facts
from .shapes import Shape, as_edge, parts_of, transform_of

Vec = Sequence[float]
Z: Vec = (0.0, 0.0, 1.0)


def _frame(origin: Vec, axis: Vec) -> gp_Ax2:
    return gp_Ax2(gp_Pnt(*map(float, origin)), gp_Dir(*map(float, axis)))


def box(x: float, y: float, z: float, corner: Vec = (0, 0, 0)) -> Shape:
    return BRepPrimAPI_MakeBox(gp_Pnt(*map(float, corner)), float(x), float(y), float(z)).Solid()


def cylinder(radius: float, height: float, origin: Vec = (0, 0, 0), axis: Vec = Z) -> Shape:
    return BRepPrimAPI_MakeCylinder(_frame(origin, axis), float(radius), float(height)).Solid()


def cone(low: float, high: float, height: float, origin: Vec = (0, 0, 0), axis: Vec = Z) -> Shape:
    """Radii at the origin and at `height`."""
    return BRepPrimAPI_MakeCone(_frame(origin, axis), float(low), float(high), float(height)).Solid()


def sphere(radius: float, centre: Vec = (0, 0, 0)) -> Shape:
    return BRepPrimAPI_MakeSphere(gp_Pnt(*map(float, centre)), float(radius)).Solid()


def torus(major: float, minor: float, centre: Vec = (0, 0, 0), axis: Vec = Z) -> Shape:
    return BRepPrimAPI_MakeTorus(_frame(centre, axis), float(major), float(minor)).Solid()


def outline(points: Sequence[Vec], bulges: Sequence[Vec | None] | None = None) -> Shape:
    """A face from a closed chain of corners; `bulges[i]` is a point of the arc from corner i to the next."""
    wire = BRepBuilderAPI_MakeWire()
    corners = [gp_Pnt(*map(float, p)) for p in points]
    for i, start in enumerate(corners):
        end = corners[(i + 1) % len(corners)]
        through = bulges[i] if bulges else None
        if through is None:
            wire.Add(BRepBuilderAPI_MakeEdge(start, end).Edge())
        else:
            arc = GC_MakeArcOfCircle(start, gp_Pnt(*map(float, through)), end).Value()
            wire.Add(BRepBuilderAPI_MakeEdge(arc).Edge())
    return BRepBuilderAPI_MakeFace(wire.Wire(), True).Face()


def segment(a: Vec, b: Vec) -> Shape:
    """A straight edge."""
    return BRepBuilderAPI_MakeEdge(gp_Pnt(*map(float, a)), gp_Pnt(*map(float, b))).Edge()


def extrude(face: Shape, step: Vec) -> Shape:
    return BRepPrimAPI_MakePrism(face, gp_Vec(*map(float, step))).Shape()


def revolve(face: Shape, origin: Vec = (0, 0, 0), axis: Vec = Z, angle: float = 2 * math.pi) -> Shape:
    line = gp_Ax1(gp_Pnt(*map(float, origin)), gp_Dir(*map(float, axis)))
    return BRepPrimAPI_MakeRevol(face, line, angle).Shape()


def loft(faces: Sequence[Shape], *, ruled: bool = False) -> Shape:
    """A solid through plane faces with one outline each."""
    through = BRepOffsetAPI_ThruSections(True, ruled, 1e-6)
    for face in faces:
        wire = BRepBuilderAPI_MakeWire()
        for edge in parts_of(face, "edge"):
            wire.Add(as_edge(edge))
        through.AddWire(wire.Wire())
    through.Build()
    return single_solid(through.Shape())


def unite(body: Shape, *others: Shape) -> Shape:
    return single_solid(combine("unite", body, list(others))[0])


def subtract(body: Shape, *tools: Shape) -> Shape:
    return single_solid(combine("subtract", body, list(tools))[0])


def moved(shape: Shape, matrix: Sequence[float]) -> Shape:
    """A copy at another place with its geometry moved too (placed() only notes the place)."""
    return BRepBuilderAPI_Transform(shape, transform_of(matrix), True).Shape()


EdgeTest = Callable[[EdgeFacts], bool]


def _chosen(body: Shape, choose: EdgeTest) -> Iterable[Shape]:
    return [as_edge(e) for e in parts_of(body, "edge") if choose(edge_facts(e))]


def fillet(body: Shape, radius: float, choose: EdgeTest) -> Shape:
    """Fillet the edges that `choose` picks.  Raises EditError when the kernel cannot."""
    tool = BRepFilletAPI_MakeFillet(body)
    for edge in _chosen(body, choose):
        tool.Add(float(radius), edge)
    return _built(tool, "round")


def chamfer(body: Shape, width: float, choose: EdgeTest) -> Shape:
    tool = BRepFilletAPI_MakeChamfer(body)
    for edge in _chosen(body, choose):
        tool.Add(float(width), edge)
    return _built(tool, "chamfer")


def _built(tool: BRepFilletAPI_MakeFillet | BRepFilletAPI_MakeChamfer, what: str) -> Shape:
    tool.Build()
    if not tool.IsDone():
        raise EditError(f"the kernel could not {what} these edges")
    return single_solid(tool.Shape())


def polyhedron(faces: Iterable[Sequence[Vec]]) -> Shape:
    """A solid of plane faces, each by its corners in order, which meet one another along whole edges."""
    sewing = BRepBuilderAPI_Sewing(1e-6)
    for corners in faces:
        sewing.Add(outline(corners))
    sewing.Perform()
    (shell,) = parts_of(sewing.SewedShape(), "shell")
    solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(shell)).Solid()
    BRepLib.OrientClosedSolid_s(solid)
    return solid
