"""A plane face swept along its normal while it turns."""

from __future__ import annotations

import math
from collections.abc import Sequence

from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepTools import BRepTools
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from ..errors import EditError
from .boolean import combine, single_solid
from .failures import KERNEL_FAILURES
from .rebuild import wires_of
from .shapes import Shape, as_face

FINEST = math.radians(4)  # between two sections; the smooth walls then miss a helix by less than 1e-6 of the radius


def twisted(face: Shape, step: Sequence[float], origin: Sequence[float], angle: float) -> Shape:
    """The solid from the face to the same face moved by `step` (mm) and turned by `angle` (rad) about the line through
    `origin` along the step; inner loops become holes.  Raises EditError when the kernel gives up."""
    count = max(4, math.ceil(abs(angle) / FINEST))
    outer = BRepTools.OuterWire_s(as_face(face))
    inner = [w for w in wires_of(face) if not w.IsSame(outer)]
    body = _lofted(outer, step, origin, angle, count)
    holes = [_lofted(wire, step, origin, angle, count) for wire in inner]
    return single_solid(combine("subtract", body, holes)[0]) if holes else body


def _lofted(wire: Shape, step: Sequence[float], origin: Sequence[float], angle: float, count: int) -> Shape:
    loft = BRepOffsetAPI_ThruSections(True, False, 1e-7)
    loft.CheckCompatibility(False)
    axis = gp_Ax1(gp_Pnt(*map(float, origin)), gp_Dir(*map(float, step)))
    for i in range(count + 1):
        turn, shift = gp_Trsf(), gp_Trsf()
        turn.SetRotation(axis, angle * i / count)
        shift.SetTranslation(gp_Vec(*(float(c) * i / count for c in step)))
        loft.AddWire(TopoDS.Wire(wire.Moved(TopLoc_Location(shift.Multiplied(turn)))))
    try:
        loft.Build()
    except KERNEL_FAILURES as error:
        raise EditError(f"the geometry kernel gave up on the twisted walls ({type(error).__name__})") from None
    if not loft.IsDone():
        raise EditError("the geometry kernel could not lay the twisted walls")
    return single_solid(loft.Shape())
