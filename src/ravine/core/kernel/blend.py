"""Rounds and chamfers on edges by the kernel, with the history to carry ids."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.collections import Array1_gp_Pnt2d
from OCP.gp import gp_Pnt2d

from ..errors import EditError
from .boolean import single_solid
from .failures import KERNEL_FAILURES
from .history import Trace
from .shapes import Shape, as_edge, as_face, items, shape_map

_KINDS = ("face", "edge", "vertex")


@dataclass(frozen=True)
class Blended:
    """shape: the result; trace: what parts of the body became; born: new faces for each of the edges."""

    shape: Shape
    trace: Trace
    born: list[list[Shape]]


def fillet_edges(body: Shape, edges: Sequence[Shape], radii: Sequence[tuple[float, float]]) -> Blended:
    """Radii in mm at the lower and the upper end of each edge's range.  Raises EditError where they do not fit."""
    tool = BRepFilletAPI_MakeFillet(body)
    for edge, (low, high) in zip(edges, radii, strict=True):
        if abs(low - high) < 1e-12:
            tool.Add(low, as_edge(edge))
        else:
            course = Array1_gp_Pnt2d(1, 2)
            course.SetValue(1, gp_Pnt2d(0.0, low))
            course.SetValue(2, gp_Pnt2d(1.0, high))
            tool.Add(course, as_edge(edge))
    return _built(tool, body, edges)


def chamfer_edges(body: Shape, edges: Sequence[Shape], sizes: Sequence[tuple[float, float, Shape]]) -> Blended:
    """Two distances in mm for each edge, the first on the given face.  Raises EditError where they do not fit."""
    tool = BRepFilletAPI_MakeChamfer(body)
    for edge, (first, second, face) in zip(edges, sizes, strict=True):
        tool.Add(first, second, as_edge(edge), as_face(face))
    return _built(tool, body, edges)


def _built(tool: BRepFilletAPI_MakeFillet | BRepFilletAPI_MakeChamfer, body: Shape, edges: Sequence[Shape]) -> Blended:
    try:
        tool.Build()
        done = tool.IsDone()
    except KERNEL_FAILURES as error:
        raise EditError(f"the geometry kernel gave up on it ({type(error).__name__})") from None
    if not done or tool.Shape().IsNull():
        raise EditError("it does not fit between the neighbours")
    result = single_solid(tool.Shape())
    present = {kind: shape_map(result, kind) for kind in _KINDS}

    def trace(shape: Shape) -> Sequence[Shape]:
        if any(found.Contains(shape) for found in present.values()):
            return [shape]
        if tool.IsDeleted(shape):
            return []
        return items(tool.Modified(shape))

    return Blended(result, trace, [items(tool.Generated(edge)) for edge in edges])
