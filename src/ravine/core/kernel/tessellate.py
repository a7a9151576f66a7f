"""Triangles and edge polylines for the view and for mesh files.

Faces that already carry triangles keep them, so after an edit only the changed faces are meshed.
"""

from __future__ import annotations

import ctypes
import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
from OCP.BRepTools import BRepTools
from OCP.GCPnts import GCPnts_TangentialDeflection
from OCP.gp import gp_Pnt
from OCP.Poly import Poly_Triangle, Poly_Triangulation
from OCP.StdPrs import StdPrs_ToolTriangulatedShape
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from .classify import boxes_of
from .properties import rough_box
from .queries import is_degenerate
from .shapes import Shape, ShapeIndex, as_edge, as_face, compound, parts_of

Floats = NDArray[np.float64]
Ints = NDArray[np.int32]

ANGLE = 0.35  # rad between neighbouring facets of a curved face in the view


@dataclass(frozen=True)
class FaceMesh:
    """points (n, 3) mm; normals (n, 3) outward unit; triangles (m, 3), counter-clockwise seen from outside."""

    points: Floats
    normals: Floats
    triangles: Ints


def view_deflection(shape: Shape) -> float:
    """Chord error in mm for the view: about 1/1500 of the size, in steps of two so that it rarely changes."""
    return _deflection(rough_box(shape).diagonal)


def deflection_of(index: ShapeIndex) -> float:
    """The same of a shape that is read already; where some of its faces have triangles, as fine as these, unless that
    is far off: faces meshed at different deflections would not meet along their edges."""
    boxes = boxes_of(index)
    fit = _deflection(math.dist(boxes[:, :3].min(0), boxes[:, 3:].max(0)) if len(boxes) else 0.0)
    used = next((d for face in index.all("face") if (d := _deflection_used(face))), fit)
    return used if fit / 2 <= used <= fit * 2 else fit


def forget_others(index: ShapeIndex, deflection: float) -> None:
    """Throw all triangles away where some were made at another deflection."""
    if any(used and used != deflection for used in map(_deflection_used, index.all("face"))):
        BRepTools.Clean_s(index.shape)


def _deflection_used(face: Shape) -> float:
    """What was asked for, not what came of it; 0 where there are no triangles, or none of the kernel's mesher."""
    found = BRep_Tool.Triangulation_s(as_face(face), TopLoc_Location())
    asked = found.Parameters() if found is not None else None
    return float(asked.Deflection()) if asked is not None else 0.0


def _deflection(size: float) -> float:
    return 2.0 ** round(math.log2(max(size, 1e-3) / 1500.0))


def mesh(shape: Shape, deflection: float, angle: float = ANGLE) -> None:
    """Mesh the faces that have no triangles yet."""
    mesh_faces([f for f in parts_of(shape, "face") if not is_meshed(f)], deflection, angle)


def mesh_faces(faces: Sequence[Shape], deflection: float, angle: float = ANGLE) -> None:
    if faces:
        BRepMesh_IncrementalMesh(compound(faces), deflection, False, angle, True)


def mesh_afresh(shape: Shape, deflection: float, angle: float) -> None:
    """Throw the triangles away and mesh at a given fineness."""
    BRepTools.Clean_s(shape)
    BRepMesh_IncrementalMesh(shape, deflection, False, angle, True)


def is_meshed(face: Shape) -> bool:
    return BRep_Tool.Triangulation_s(as_face(face), TopLoc_Location()) is not None


# --- bulk reading ----------------------------------------------------------------------------------------------
# The bindings hand out arrays element by element (57 ms for 10 000 triangles).  The arrays lie in one block, and
# where it starts can be read from the C++ object behind the Python one.  That layout belongs to one exact version
# of the library, so it is tried once against the slow way and not used when they differ.


def _address(wrapped: object) -> int:
    return ctypes.c_void_p.from_address(id(wrapped) + 16).value or 0


def _word(address: int, index: int) -> int:
    return ctypes.c_uint64.from_address(address + 8 * index).value


def _points_fast(triangulation: Poly_Triangulation, count: int) -> Floats:
    array = triangulation.InternalNodes()
    at = _address(array)
    if _word(at, 1) != (count << 32) + 24:  # stride 24: three doubles
        raise LookupError
    block = (ctypes.c_double * (3 * count)).from_address(_word(at, 0))
    return np.ctypeslib.as_array(block).reshape(count, 3).copy()


def _triangles_fast(triangulation: Poly_Triangulation, count: int) -> Ints:
    array = triangulation.InternalTriangles()
    at = _address(array)
    if _word(at, 2) != count:
        raise LookupError
    block = (ctypes.c_int32 * (3 * count)).from_address(_word(at, 3))
    return np.ctypeslib.as_array(block).reshape(count, 3) - 1


def _normals_fast(triangulation: Poly_Triangulation, count: int) -> Floats:
    array = triangulation.InternalNormals()
    at = _address(array)
    if _word(at, 2) != count:
        raise LookupError
    block = (ctypes.c_float * (3 * count)).from_address(_word(at, 3))
    return np.ctypeslib.as_array(block).reshape(count, 3).astype(np.float64)


def stored_triangulation(points: Floats, triangles: Ints) -> Poly_Triangulation:
    """Points (n, 3) and triangles (m, 3) as the kernel keeps them, written into its blocks where that works."""
    found = Poly_Triangulation(len(points), len(triangles), False)
    if fast_reading_works():
        nodes, corners = _address(found.InternalNodes()), _address(found.InternalTriangles())
        if _word(nodes, 1) == (len(points) << 32) + 24 and _word(corners, 2) == len(triangles):
            place = (ctypes.c_double * (3 * len(points))).from_address(_word(nodes, 0))
            np.ctypeslib.as_array(place)[:] = points.reshape(-1)
            rows = (ctypes.c_int32 * (3 * len(triangles))).from_address(_word(corners, 3))
            np.ctypeslib.as_array(rows)[:] = triangles.reshape(-1) + 1
            return found
    for i, (x, y, z) in enumerate(points.tolist(), 1):
        found.SetNode(i, gp_Pnt(x, y, z))
    for i, (a, b, c) in enumerate((triangles + 1).tolist(), 1):
        found.SetTriangle(i, Poly_Triangle(a, b, c))
    return found


def _points_slow(triangulation: Poly_Triangulation, count: int) -> Floats:
    node = triangulation.Node
    return np.array([(p.X(), p.Y(), p.Z()) for p in map(node, range(1, count + 1))]).reshape(count, 3)


def _triangles_slow(triangulation: Poly_Triangulation, count: int) -> Ints:
    triangle = triangulation.Triangle
    rows = [triangle(i) for i in range(1, count + 1)]
    return np.array([[t.Value(k) for k in (1, 2, 3)] for t in rows], dtype=np.int32).reshape(count, 3) - 1


def _normals_slow(triangulation: Poly_Triangulation, count: int) -> Floats:
    normal = triangulation.Normal
    return np.array([(d.X(), d.Y(), d.Z()) for d in map(normal, range(1, count + 1))]).reshape(count, 3)


@functools.cache
def fast_reading_works() -> bool:
    """Self-test of the block reading on a small cylinder."""
    probe = BRepPrimAPI_MakeCylinder(3.0, 7.0).Shape()
    mesh(probe, 0.05)
    face = as_face(parts_of(probe, "face")[0])
    tri = BRep_Tool.Triangulation_s(face, TopLoc_Location())
    StdPrs_ToolTriangulatedShape.ComputeNormals_s(face, tri)
    nodes, triangles = tri.NbNodes(), tri.NbTriangles()
    try:
        return bool(
            np.array_equal(_points_fast(tri, nodes), _points_slow(tri, nodes))
            and np.array_equal(_triangles_fast(tri, triangles), _triangles_slow(tri, triangles))
            and np.allclose(_normals_fast(tri, nodes), _normals_slow(tri, nodes), atol=1e-6)
        )
    except LookupError:
        return False


def face_mesh(face: Shape) -> FaceMesh:
    """Triangles of a meshed face in the shape's coordinates; empty when the face could not be meshed."""
    face = as_face(face)
    location = TopLoc_Location()
    tri = BRep_Tool.Triangulation_s(face, location)
    if tri is None:
        return FaceMesh(np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 3), np.int32))
    if not tri.HasNormals():
        StdPrs_ToolTriangulatedShape.ComputeNormals_s(face, tri)
    nodes, count = tri.NbNodes(), tri.NbTriangles()
    if fast_reading_works():
        points, triangles = _points_fast(tri, nodes), _triangles_fast(tri, count)
        normals = _normals_fast(tri, nodes)
    else:
        points, triangles = _points_slow(tri, nodes), _triangles_slow(tri, count)
        normals = _normals_slow(tri, nodes)
    if not location.IsIdentity():
        trsf = location.Transformation()
        matrix = np.array([[trsf.Value(r, c) for c in (1, 2, 3, 4)] for r in (1, 2, 3)])
        points = points @ matrix[:, :3].T + matrix[:, 3]
        normals = normals @ matrix[:, :3].T
    if face.Orientation() == TopAbs_REVERSED:
        triangles = triangles[:, ::-1]
        normals = -normals
    return FaceMesh(points, normals, triangles)


def edge_polyline(edge: Shape, index: ShapeIndex, number: int, deflection: float) -> Floats:
    """Points (n, 3) along an edge: those of the triangles beside it where they exist, so that lines lie on them.
    Seams of closed surfaces and edges shrunk to a point are no edges to the eye and give none."""
    known = index.polylines.get(number)
    if known is None:
        known = index.polylines[number] = _edge_polyline(edge, index, number, deflection)
    return known


def _edge_polyline(edge: Shape, index: ShapeIndex, number: int, deflection: float) -> Floats:
    edge = as_edge(edge)
    beside = index.faces_of_edges[number]
    if is_degenerate(edge) or (len(beside) == 2 and beside[0] == beside[1]):
        return np.zeros((0, 3))
    for face_number in beside:
        location = TopLoc_Location()
        face = as_face(index.get("face", face_number))
        tri = BRep_Tool.Triangulation_s(face, location)
        if tri is None:
            continue
        polygon = BRep_Tool.PolygonOnTriangulation_s(edge, tri, location)
        if polygon is None:
            continue
        numbers = [polygon.Node(i) for i in range(1, polygon.NbNodes() + 1)]
        found = [tri.Node(i) for i in numbers]
        if not location.IsIdentity():
            trsf = location.Transformation()
            found = [p.Transformed(trsf) for p in found]
        return np.array([(p.X(), p.Y(), p.Z()) for p in found])
    curve = BRepAdaptor_Curve(edge)
    walk = GCPnts_TangentialDeflection(curve, ANGLE, deflection)
    return np.array([(p.X(), p.Y(), p.Z()) for p in (walk.Value(i) for i in range(1, walk.NbPoints() + 1))])


def whole_mesh(shape: Shape) -> tuple[Floats, Ints]:
    """All faces as one list of points (n, 3) and triangles (m, 3); points are not shared between faces."""
    meshes = [face_mesh(face) for face in parts_of(shape, "face")]
    return join_meshes(meshes)


def join_meshes(meshes: Sequence[FaceMesh]) -> tuple[Floats, Ints]:
    starts = np.cumsum([0, *(len(m.points) for m in meshes)])
    points = np.concatenate([m.points for m in meshes]) if meshes else np.zeros((0, 3))
    triangles = [m.triangles + start for m, start in zip(meshes, starts, strict=False)]
    return points, np.concatenate(triangles) if triangles else np.zeros((0, 3), np.int32)
