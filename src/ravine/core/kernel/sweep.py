"""Profiles taken along a helix or along edges, and lofts through several."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
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
from OCP.TopoDS import TopoDS, TopoDS_Shape

from ..errors import CannotDo, EditError
from .boolean import combine, single_solid
from .failures import KERNEL_FAILURES
from .properties import length_properties
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


def wound(face: Shape, spine: Shape, axis: Vec) -> Shape:
    """The solid of a plane face taken along a helix, upright on its axis all the way."""
    return _piped(face, spine, lambda pipe: pipe.SetMode(gp_Dir(*map(float, axis))))


def swept(face: Shape, edges: Sequence[Shape]) -> Shape:
    """The solid of a plane face taken along edges that follow one another, without turning about them."""
    maker = BRepBuilderAPI_MakeWire()
    for edge in edges:
        maker.Add(as_edge(edge))
        if not maker.IsDone():
            raise CannotDo("the edges of the way do not follow one another", field="along")
    return _piped(face, maker.Wire(), lambda pipe: pipe.SetTransitionMode(BRepBuilderAPI_TransitionMode(1)))


def _piped(face: Shape, spine: Shape, ready: Callable[[BRepOffsetAPI_MakePipeShell], None]) -> Shape:
    outer = BRepTools.OuterWire_s(as_face(face))
    wires = [outer, *(w for w in wires_of(face) if not w.IsSame(outer))]
    solids = []
    for wire in wires:
        pipe = BRepOffsetAPI_MakePipeShell(TopoDS.Wire(spine))
        ready(pipe)
        pipe.Add(TopoDS.Wire(wire), False, False)
        try:
            pipe.Build()
            if not pipe.IsDone() or not pipe.MakeSolid():
                raise CannotDo("the profile cannot be taken along this way", field="areas")
        except KERNEL_FAILURES:
            raise CannotDo("the profile cannot be taken along this way", field="areas") from None
        solids.append(single_solid(pipe.Shape()))
    return single_solid(combine("subtract", solids[0], solids[1:])[0]) if len(solids) > 1 else solids[0]


def _outlines(faces: Sequence[Shape]) -> list[list[Shape]]:
    """The outer wires of faces, then rows of the holes that go together: nearest by their place within the face."""
    outer = [BRepTools.OuterWire_s(as_face(f)) for f in faces]
    holes = [[w for w in wires_of(f) if not w.IsSame(o)] for f, o in zip(faces, outer, strict=True)]
    if len({len(row) for row in holes}) > 1:
        counts = ", ".join(str(len(row)) for row in holes)
        raise CannotDo(f"the areas have different numbers of holes ({counts})", field="areas")
    rows = [[TopoDS.Wire(w) for w in outer]]
    middles = [np.array([length_properties(w).centroid for w in (o, *row)])
               for o, row in zip(outer, holes, strict=True)]  # fmt: skip
    for k, hole in enumerate(holes[0]):
        row, place = [hole], middles[0][k + 1] - middles[0][0]
        for others, there in zip(holes[1:], middles[1:], strict=True):
            away = np.linalg.norm(there[1:] - there[0] - place, axis=1)
            row.append(others[int(np.argmin(away))])
            place = there[1:][int(np.argmin(away))] - there[0]
        rows.append([TopoDS.Wire(w) for w in row])
    if len({hash(w) for row in rows[1:] for w in row}) < sum(map(len, rows[1:])):
        raise CannotDo("it is not clear which holes of the areas go together", field="areas")
    return rows


def led(faces: Sequence[Shape], edges: Sequence[Shape]) -> Shape:
    """A solid through plane faces, led from one to the next by edges that follow one another."""
    maker = BRepBuilderAPI_MakeWire()
    for edge in edges:
        maker.Add(as_edge(edge))
        if not maker.IsDone():
            raise CannotDo("the edges of the guide do not follow one another", field="guide")
    guide = maker.Wire()

    def lay(wires: list[Shape]) -> Shape:
        pipe = BRepOffsetAPI_MakePipeShell(guide)
        for wire in wires:
            pipe.Add(wire, False, False)
        pipe.Build()
        return pipe.Shape() if pipe.IsDone() and pipe.MakeSolid() else TopoDS_Shape()

    return _laid(faces, lay, "no surface runs through these outlines along the guide", "guide")


def lofted(faces: Sequence[Shape], smooth: bool) -> Shape:
    """A solid through plane faces in their order."""

    def lay(wires: list[Shape]) -> Shape:
        through = BRepOffsetAPI_ThruSections(True, not smooth, 1e-6)
        for wire in wires:
            through.AddWire(wire)
        through.Build()
        return through.Shape() if through.IsDone() else TopoDS_Shape()

    return _laid(faces, lay, "no surface runs through these outlines", "areas")


def _laid(faces: Sequence[Shape], lay: Callable[[list[Shape]], Shape], refusal: str, field: str) -> Shape:
    """The outer wires laid through, less the holes laid through."""
    solids = []
    for row in _outlines(faces):
        try:
            found = lay(row)
        except KERNEL_FAILURES:
            found = TopoDS_Shape()
        if found.IsNull():
            raise EditError(refusal, field=field)
        solids.append(single_solid(found))
    return single_solid(combine("subtract", solids[0], solids[1:])[0]) if len(solids) > 1 else solids[0]
