"""Cutting matter into cells along surfaces."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from OCP.BRep import BRep_Tool
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Section, BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace
from OCP.BRepTools import BRepTools, BRepTools_History
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt

from ..errors import EditError
from .boolean import shape_list, tracer
from .history import Trace
from .shapes import Shape, as_face, parts_of


def patch(surface: Any, low: tuple[float, float], high: tuple[float, float]) -> Shape:
    """A face on a kernel surface between parameters (u, v)."""
    return BRepBuilderAPI_MakeFace(surface, low[0], high[0], low[1], high[1], 1e-7).Face()


def split(shape: Shape, patches: Sequence[Shape]) -> tuple[Shape, Trace]:
    """The shape in pieces, cut wherever a patch passes through it.  Raises EditError when the kernel gives up."""
    splitter = BRepAlgoAPI_Splitter()
    splitter.SetArguments(shape_list([shape]))
    splitter.SetTools(shape_list(patches))
    splitter.SetNonDestructive(True)
    splitter.SetToFillHistory(True)
    splitter.Build()
    if not splitter.IsDone() or splitter.Shape().IsNull():
        raise EditError("the geometry kernel could not cut the matter along its neighbours")
    history = BRepTools_History()
    history.Merge(splitter.History())
    return splitter.Shape(), tracer(history, splitter.Shape())


def section(face: Shape, tool: Shape) -> list[Shape]:
    """The edges in which a face meets another shape, as far as the face reaches."""
    cut = BRepAlgoAPI_Section(face, tool, False)
    cut.Approximation(True)
    cut.Build()
    if not cut.IsDone():
        raise EditError("the geometry kernel could not work out where they meet")
    return parts_of(cut.Shape(), "edge")


def parameter_line(face: Shape, across: bool, share: float) -> list[Shape]:
    """The pieces inside a face of a parameter line of its surface, at a share of the face's reach across it."""
    low_u, high_u, low_v, high_v = BRepTools.UVBounds_s(as_face(face))
    surface = BRep_Tool.Surface_s(as_face(face))
    if across:
        curve, first, last = surface.VIso(low_v + share * (high_v - low_v)), low_u, high_u
    else:
        curve, first, last = surface.UIso(low_u + share * (high_u - low_u)), low_v, high_v
    edge = BRepBuilderAPI_MakeEdge(curve, first, last).Edge()
    common = BRepAlgoAPI_Common(edge, face)
    if not common.IsDone():
        raise EditError("the geometry kernel could not lay the line on the face")
    return parts_of(common.Shape(), "edge")


def plane_section(shape: Shape, origin: Sequence[float], normal: Sequence[float]) -> list[Shape]:
    """The edges in which a plane meets a shape.  Raises EditError when the kernel gives up."""
    plane = gp_Pln(gp_Pnt(*map(float, origin)), gp_Dir(*map(float, normal)))
    cut = BRepAlgoAPI_Section(shape, plane, False)
    cut.Approximation(True)
    cut.Build()
    if not cut.IsDone():
        raise EditError("the geometry kernel could not cut the body with the plane")
    return parts_of(cut.Shape(), "edge")
