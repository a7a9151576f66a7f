"""Open surfaces: edges pulled into them, loops filled with them, and what they become when thickened."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire, BRepBuilderAPI_Sewing
from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Skin
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeFilling
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.GeomAbs import GeomAbs_C0, GeomAbs_Intersection
from OCP.gp import gp_Vec

from ..errors import CannotDo
from .boolean import combine, shape_list, single_solid
from .check import fault
from .failures import KERNEL_FAILURES
from .shapes import Shape, as_edge, as_face, parts_of

TOGETHER = 1e-6  # mm within which borders are sewn


def sewn(faces: Sequence[Shape]) -> Shape:
    """Faces as one surface where their borders meet."""
    if len(faces) == 1 and not parts_of(faces[0], "shell"):
        return faces[0]
    sewing = BRepBuilderAPI_Sewing(TOGETHER)
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    return sewing.SewedShape()


def pulled(edges: Sequence[Shape], step: Sequence[float]) -> Shape:
    """The surface that edges leave behind when they are moved by a step (mm)."""
    found = [BRepPrimAPI_MakePrism(e, gp_Vec(*map(float, step)), True).Shape() for e in edges]
    return sewn([f for shape in found for f in parts_of(shape, "face")])


def filled(edges: Sequence[Shape], field: str = "edges") -> Shape:
    """A face in a closed loop of edges: plane where they lie in a plane, else bent as little as can be."""
    maker = BRepBuilderAPI_MakeWire()
    maker.Add(shape_list(edges))
    if not maker.IsDone() or not maker.Wire().Closed():
        raise CannotDo("the edges make no closed loop", field=field)
    flat = BRepBuilderAPI_MakeFace(maker.Wire(), True)
    if flat.IsDone():
        return flat.Face()
    filling = BRepOffsetAPI_MakeFilling()
    for edge in parts_of(maker.Wire(), "edge"):
        filling.Add(as_edge(edge), GeomAbs_C0)
    try:
        filling.Build()
    except KERNEL_FAILURES:
        raise CannotDo("no surface fills this loop", field=field) from None
    if not filling.IsDone():
        raise CannotDo("no surface fills this loop", field=field)
    return as_face(parts_of(filling.Shape(), "face")[0])


def thickened(faces: Sequence[Shape], wall: float, both: bool) -> Shape:
    """The solid between faces and their parallels at `wall` mm, along their normals where it is positive; with
    `both`, half to each side."""
    sheet = sewn(faces)
    if not both:
        return _thick(sheet, wall)
    halves = [_thick(sheet, side * wall / 2) for side in (1.0, -1.0)]
    return single_solid(combine("unite", halves[0], halves[1:])[0])


def _thick(sheet: Shape, wall: float) -> Shape:
    maker = BRepOffset_MakeOffset()
    maker.Initialize(sheet, float(wall), 1e-6, BRepOffset_Skin, False, False, GeomAbs_Intersection, True)
    try:
        maker.MakeOffsetShape()
    except KERNEL_FAILURES:
        raise CannotDo("the faces have no parallel that far away", field="thickness") from None
    if not maker.IsDone():
        raise CannotDo("the faces have no parallel that far away", field="thickness")
    solid = single_solid(maker.Shape())
    found = fault(solid) if len(parts_of(solid, "solid")) == 1 else "it makes no single solid"
    if found:
        raise CannotDo(f"{found}", field="thickness")
    return solid
