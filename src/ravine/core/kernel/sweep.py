"""Profiles taken along a helix or along edges, and lofts through several."""

from __future__ import annotations

import math
from collections.abc import Sequence

from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_TransitionMode,
)
from OCP.BRepLib import BRepLib
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakePipeShell, BRepOffsetAPI_ThruSections
from OCP.BRepTools import BRepTools
from OCP.Geom import Geom_ConicalSurface, Geom_CylindricalSurface
from OCP.Geom2d import Geom2d_Line
from OCP.gp import gp_Ax3, gp_Dir, gp_Dir2d, gp_Pnt, gp_Pnt2d, gp_Vec
from OCP.TopoDS import TopoDS

from ..errors import EditError
from .boolean import combine, single_solid
from .failures import KERNEL_FAILURES
from .rebuild import wires_of
from .shapes import Shape, as_edge, as_face

Vec = Sequence[float]
PIECES = 1.0  # of a helix a turn: over longer ones the kernel's booleans lose their way


def helix(start: Vec, point: Vec, axis: Vec, pitch: float, height: float, lean: float, right_handed: bool) -> Shape:
    """A wire from `start` around the line through `point` along unit `axis`, climbing `height` (mm, along the axis,
    may be negative) with `pitch` a turn; its radius grows by tan(lean) a mm of climb."""
    origin, z = gp_Pnt(*map(float, point)), gp_Dir(*map(float, axis))
    gap = gp_Vec(origin, gp_Pnt(*map(float, start)))
    foot = gap.Dot(gp_Vec(z))
    arm = gap.Subtracted(gp_Vec(z).Multiplied(foot))
    radius = arm.Magnitude()
    if radius < 1e-6:
        raise EditError("the profile sits on the axis, so there is nothing to wind around", field="axis")
    base = origin.Translated(gp_Vec(z).Multiplied(foot))
    frame = gp_Ax3(base, z, gp_Dir(arm))
    turns = abs(height) / pitch
    sense = (1.0 if right_handed else -1.0) * math.copysign(1.0, height)
    around = 2 * math.pi * turns * sense
    if abs(lean) < 1e-9:
        surface = Geom_CylindricalSurface(frame, radius)
        climb = height
    else:
        if radius + height * math.tan(lean) < 1e-3:
            raise EditError("the taper runs into the axis; a smaller taper or height works", field="taper")
        surface = Geom_ConicalSurface(frame, lean, radius)
        climb = height / math.cos(lean)
    length = math.hypot(around, climb)
    line = Geom2d_Line(gp_Pnt2d(0.0, 0.0), gp_Dir2d(around, climb))
    maker = BRepBuilderAPI_MakeWire()
    count = max(1, math.ceil(turns * PIECES - 1e-9))
    for k in range(count):
        edge = BRepBuilderAPI_MakeEdge(line, surface, length * k / count, length * (k + 1) / count).Edge()
        BRepLib.BuildCurve3d_s(edge, 1e-6)
        maker.Add(edge)
    return maker.Wire()


def wound(face: Shape, spine: Shape, axis: Vec, doing: str) -> Shape:
    """The solid of a plane face taken along a helix, upright on its axis all the way."""
    return _piped(face, spine, lambda pipe: pipe.SetMode(gp_Dir(*map(float, axis))), doing)


def swept(face: Shape, edges: Sequence[Shape], doing: str) -> Shape:
    """The solid of a plane face taken along edges that follow one another, without turning about them."""
    maker = BRepBuilderAPI_MakeWire()
    for edge in edges:
        maker.Add(as_edge(edge))
        if not maker.IsDone():
            raise EditError(f"{doing}: the edges of the way do not follow one another", field="along")
    return _piped(face, maker.Wire(), lambda pipe: pipe.SetTransitionMode(BRepBuilderAPI_TransitionMode(1)), doing)


def _piped(face: Shape, spine: Shape, ready: object, doing: str) -> Shape:
    outer = BRepTools.OuterWire_s(as_face(face))
    wires = [outer, *(w for w in wires_of(face) if not w.IsSame(outer))]
    solids = []
    for wire in wires:
        pipe = BRepOffsetAPI_MakePipeShell(TopoDS.Wire(spine))
        ready(pipe)  # type: ignore[operator]
        pipe.Add(TopoDS.Wire(wire), False, False)
        try:
            pipe.Build()
            if not pipe.IsDone() or not pipe.MakeSolid():
                raise EditError(f"{doing}: the profile cannot be taken along this way", field="areas")
        except KERNEL_FAILURES:
            raise EditError(f"{doing}: the profile cannot be taken along this way", field="areas") from None
        solids.append(single_solid(pipe.Shape()))
    return single_solid(combine("subtract", solids[0], solids[1:])[0]) if len(solids) > 1 else solids[0]


def _outline(face: Shape, doing: str) -> Shape:
    if len(wires_of(face)) > 1:
        raise EditError(f"{doing}: an area with a hole cannot be lofted through yet", field="areas")
    return TopoDS.Wire(BRepTools.OuterWire_s(as_face(face)))


def led(faces: Sequence[Shape], edges: Sequence[Shape], doing: str) -> Shape:
    """A solid through plane faces, led from one to the next by edges that follow one another."""
    maker = BRepBuilderAPI_MakeWire()
    for edge in edges:
        maker.Add(as_edge(edge))
        if not maker.IsDone():
            raise EditError(f"{doing}: the edges of the guide do not follow one another", field="guide")
    pipe = BRepOffsetAPI_MakePipeShell(maker.Wire())
    for face in faces:
        pipe.Add(_outline(face, doing), False, False)
    try:
        pipe.Build()
        if not pipe.IsDone() or not pipe.MakeSolid():
            raise EditError(f"{doing}: no surface runs through these outlines along the guide", field="guide")
    except KERNEL_FAILURES:
        raise EditError(f"{doing}: no surface runs through these outlines along the guide", field="guide") from None
    return single_solid(pipe.Shape())


def lofted(faces: Sequence[Shape], smooth: bool, doing: str) -> Shape:
    """A solid through plane faces in their order."""
    through = BRepOffsetAPI_ThruSections(True, not smooth, 1e-6)
    for face in faces:
        through.AddWire(_outline(face, doing))
    try:
        through.Build()
    except KERNEL_FAILURES:
        raise EditError(f"{doing}: no surface runs through these outlines", field="areas") from None
    if not through.IsDone():
        raise EditError(f"{doing}: no surface runs through these outlines", field="areas")
    return single_solid(through.Shape())
