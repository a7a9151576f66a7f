"""What a face or an edge is: kind, size, place, direction, and how it meets its neighbours."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import (
    GeomAbs_Circle,
    GeomAbs_Cone,
    GeomAbs_Cylinder,
    GeomAbs_Ellipse,
    GeomAbs_Line,
    GeomAbs_Plane,
    GeomAbs_Sphere,
    GeomAbs_Torus,
)
from OCP.GeomAPI import GeomAPI_ProjectPointOnCurve
from OCP.GeomLProp import GeomLProp_SLProps
from OCP.gp import gp_Dir, gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_EDGE, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location

from ..tolerances import TANGENT
from .properties import area_properties, edge_length
from .shapes import Shape, ShapeIndex, as_edge, as_face, as_vertex

Vec = tuple[float, float, float]

FACE_KINDS = {
    GeomAbs_Plane: "plane",
    GeomAbs_Cylinder: "cylinder",
    GeomAbs_Cone: "cone",
    GeomAbs_Sphere: "sphere",
    GeomAbs_Torus: "torus",
}
EDGE_KINDS = {GeomAbs_Line: "line", GeomAbs_Circle: "circle", GeomAbs_Ellipse: "ellipse"}


@dataclass(frozen=True)
class FaceFacts:
    """kind: plane, cylinder, cone, sphere, torus or spline; normal: outward at the middle of the face;
    radius: mm (minor radius of a torus); axis: point and unit direction; hollow: curved towards the matter
    (a hole's wall)."""

    kind: str
    area: float
    centroid: Vec
    normal: Vec
    radius: float | None = None
    axis: tuple[Vec, Vec] | None = None
    hollow: bool | None = None


@dataclass(frozen=True)
class EdgeFacts:
    """kind: line, circle, ellipse or spline; direction: of a line; axis: of a circle."""

    kind: str
    length: float
    middle: Vec
    ends: tuple[Vec, Vec]
    radius: float | None = None
    axis: tuple[Vec, Vec] | None = None
    direction: Vec | None = None


def _vec(v: gp_Pnt | gp_Dir | gp_Vec) -> Vec:
    return (v.X(), v.Y(), v.Z())


def normal_at(face: Shape, u: float, v: float) -> Vec | None:
    """Outward unit normal, None where the surface has none (a cone's tip)."""
    face = as_face(face)
    surface = BRep_Tool.Surface_s(face, TopLoc_Location())
    props = GeomLProp_SLProps(surface, u, v, 1, 1e-9)
    if not props.IsNormalDefined():
        return None
    normal = props.Normal().Transformed(face.Location().Transformation())
    sign = -1.0 if face.Orientation() == TopAbs_REVERSED else 1.0
    return (sign * normal.X(), sign * normal.Y(), sign * normal.Z())


def face_kind(face: Shape) -> str:
    return FACE_KINDS.get(BRepAdaptor_Surface(as_face(face), False).GetType(), "spline")


def plane_normal(face: Shape) -> Vec:
    """Outward unit normal of a plane face."""
    plane = BRepAdaptor_Surface(as_face(face), False).Plane()
    axis = plane.Axis().Direction()
    sign = 1.0 if plane.Direct() else -1.0
    if face.Orientation() == TopAbs_REVERSED:
        sign = -sign
    return (sign * axis.X(), sign * axis.Y(), sign * axis.Z())


def face_facts(face: Shape) -> FaceFacts:
    face = as_face(face)
    surface = BRepAdaptor_Surface(face, False)
    kind = FACE_KINDS.get(surface.GetType(), "spline")
    props = area_properties(face)
    if kind == "plane":
        return FaceFacts(kind, abs(props.amount), props.centroid, plane_normal(face))
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    normal = normal_at(face, (u0 + u1) / 2, (v0 + v1) / 2) or (0.0, 0.0, 0.0)
    radius = axis = hollow = None
    if kind in ("cylinder", "cone", "torus"):
        quadric = {"cylinder": surface.Cylinder, "cone": surface.Cone, "torus": surface.Torus}[kind]()
        line = quadric.Axis()
        axis = (_vec(line.Location()), _vec(line.Direction()))
        measure = {"cylinder": "Radius", "cone": "RefRadius", "torus": "MinorRadius"}[kind]
        radius = getattr(quadric, measure)()
    elif kind == "sphere":
        ball = surface.Sphere()
        radius, axis = ball.Radius(), (_vec(ball.Location()), _vec(ball.Position().Direction()))
    if kind in ("cylinder", "cone", "sphere", "torus"):
        # Outward normal of the natural surface points away from the axis; a reversed or left-handed one faces it.
        direct = {
            "cylinder": lambda: surface.Cylinder().Direct(),
            "cone": lambda: surface.Cone().Direct(),
            "sphere": lambda: surface.Sphere().Direct(),
            "torus": lambda: surface.Torus().Direct(),
        }[kind]()
        hollow = (face.Orientation() == TopAbs_REVERSED) == direct
    return FaceFacts(kind, abs(props.amount), props.centroid, normal, radius, axis, hollow)


def edge_facts(edge: Shape) -> EdgeFacts:
    edge = as_edge(edge)
    curve = BRepAdaptor_Curve(edge)
    kind = EDGE_KINDS.get(curve.GetType(), "spline")
    first, last = curve.FirstParameter(), curve.LastParameter()
    ends = (_vec(curve.Value(first)), _vec(curve.Value(last)))
    middle = _vec(curve.Value((first + last) / 2))
    length = edge_length(edge)
    if kind == "circle":
        circle = curve.Circle()
        axis = (_vec(circle.Location()), _vec(circle.Axis().Direction()))
        return EdgeFacts(kind, length, middle, ends, circle.Radius(), axis)
    direction = _vec(curve.Line().Direction()) if kind == "line" else None
    return EdgeFacts(kind, length, middle, ends, direction=direction)


def curve_frame(edge: Shape, place: Sequence[float]) -> tuple[Vec, Vec]:
    """The point of an edge nearest to a place, and the direction of the edge there."""
    curve = BRepAdaptor_Curve(as_edge(edge))
    first, last = curve.FirstParameter(), curve.LastParameter()
    found = GeomAPI_ProjectPointOnCurve(gp_Pnt(*map(float, place)), curve.Curve().Curve(), first, last)
    ends = [(curve.Value(t).Distance(gp_Pnt(*map(float, place))), t) for t in (first, last)]
    if found.NbPoints():
        ends.append((found.LowerDistance(), found.LowerDistanceParameter()))
    at, way = gp_Pnt(), gp_Vec()
    curve.D1(min(ends)[1], at, way)
    return _vec(at), _vec(way.Normalized())


def place_on(edge: Shape, share: float) -> tuple[Vec, Vec]:
    """The place at a share of an edge's length from its start, and the direction there."""
    curve = BRepAdaptor_Curve(as_edge(edge))
    first = curve.FirstParameter()
    length = GCPnts_AbscissaPoint.Length_s(curve)
    found = GCPnts_AbscissaPoint(curve, share * length, first)
    at, way = gp_Pnt(), gp_Vec()
    curve.D1(found.Parameter(), at, way)
    return _vec(at), _vec(way.Normalized())


def vertex_point(vertex: Shape) -> Vec:
    return _vec(BRep_Tool.Pnt_s(as_vertex(vertex)))


def is_degenerate(edge: Shape) -> bool:
    return bool(BRep_Tool.Degenerated_s(as_edge(edge)))


def _normal_beside(face: Shape, edge: Shape, share: float) -> Vec | None:
    face, edge = as_face(face), as_edge(edge)
    curve = BRep_Tool.CurveOnSurface_s(edge, face, 0.0, 0.0)
    if curve is None:
        return None
    bounds = BRepAdaptor_Curve(edge, face)
    first, last = bounds.FirstParameter(), bounds.LastParameter()
    uv = curve.Value(first + share * (last - first))
    return normal_at(face, uv.X(), uv.Y())


def convexity(index: ShapeIndex, edge_no: int, share: float = 0.5) -> str:
    """How the two faces meet along an edge: `convex`, `concave`, `tangent`, or `open` where there are not two.

    Signed by the outward normals and the direction of the edge in the first face: with t along the edge keeping
    the first face's matter on its left, (n1 × n2)·t > 0 means the solid angle is below 180°.
    """
    faces = index.faces_of_edges[edge_no]
    if len(faces) != 2:
        return "open"
    edge = as_edge(index.get("edge", edge_no))
    if faces[0] == faces[1] or is_degenerate(edge):
        return "tangent"
    face_a, face_b = index.get("face", faces[0]), index.get("face", faces[1])
    n1, n2 = _normal_beside(face_a, edge, share), _normal_beside(face_b, edge, share)
    if n1 is None or n2 is None:
        return "tangent"
    cross = (n1[1] * n2[2] - n1[2] * n2[1], n1[2] * n2[0] - n1[0] * n2[2], n1[0] * n2[1] - n1[1] * n2[0])
    sine = math.sqrt(sum(c * c for c in cross))
    if sine < TANGENT and sum(a * b for a, b in zip(n1, n2, strict=True)) > 0:
        return "tangent"
    curve = BRepAdaptor_Curve(edge)
    point, along = gp_Pnt(), gp_Vec()
    curve.D1(curve.FirstParameter() + share * (curve.LastParameter() - curve.FirstParameter()), point, along)
    used = next((e for e in _edges_in(face_a) if e.IsSame(edge)), edge)
    side = sum(c * t for c, t in zip(cross, _vec(along), strict=True))
    if used.Orientation() == TopAbs_REVERSED:
        side = -side
    return "convex" if side > 0 else "concave"


def _edges_in(face: Shape) -> list[Shape]:
    found, explorer = [], TopExp_Explorer(face, TopAbs_EDGE)
    while explorer.More():
        found.append(explorer.Current())
        explorer.Next()
    return found


def neighbours_not_square(index: ShapeIndex, face: Shape, normal: Vec) -> int:
    """How many faces beside a plane face do not run straight along its normal."""
    leaning: set[int] = set()
    own = index.find("face", face)
    for edge_no in index.edges_of_faces[own]:
        edge = index.get("edge", edge_no)
        for beside in index.faces_of_edges[edge_no]:
            if beside == own or beside in leaning:
                continue
            neighbour = index.get("face", beside)
            kind = face_kind(neighbour)
            across = _normal_beside(neighbour, edge, 0.5)
            square = across is not None and abs(sum(a * b for a, b in zip(across, normal, strict=True))) < 1e-6
            if kind in ("cone", "sphere", "torus") or not square:
                leaning.add(beside)
            elif kind == "cylinder":
                along = BRepAdaptor_Surface(as_face(neighbour), False).Cylinder().Axis().Direction()
                if abs(along.X() * normal[0] + along.Y() * normal[1] + along.Z() * normal[2]) < 1 - 1e-9:
                    leaning.add(beside)
    return len(leaning)
