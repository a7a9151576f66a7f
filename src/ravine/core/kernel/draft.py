"""Prisms with leaning walls."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from OCP.BRepOffsetAPI import BRepOffsetAPI_DraftAngle, BRepOffsetAPI_MakeOffset, BRepOffsetAPI_ThruSections
from OCP.GeomAbs import GeomAbs_Intersection
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt, gp_Trsf, gp_Vec
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from ..errors import CannotDo
from .boolean import combine, single_solid
from .check import fault
from .failures import KERNEL_FAILURES
from .queries import face_facts
from .rebuild import wires_of
from .shapes import Shape, as_face, parts_of


def drafted(prism: Shape, base: Shape, direction: Sequence[float], angle: float) -> Shape:
    """A prism pulled from the plane face `base` along a unit direction, its walls leaning inwards by `angle` (rad)
    from the base on.  Raises EditError when the walls meet before the end."""
    facts = face_facts(base)
    neutral = gp_Pln(gp_Pnt(*facts.centroid), gp_Dir(*map(float, direction)))
    pull = gp_Dir(*map(float, direction))
    maker = BRepOffsetAPI_DraftAngle(prism)
    for face in parts_of(prism, "face"):
        found = face_facts(face)
        if found.kind == "plane" and abs(float(np.dot(found.normal, direction))) > 1 - 1e-9:
            continue
        if found.kind not in ("plane", "cylinder"):
            return _between_parallels(prism, base, direction, angle)
        maker.Add(as_face(face), pull, float(angle), neutral, True)
        if not maker.AddDone():
            raise CannotDo("a wall that runs smoothly into the next one cannot lean", field="taper")
    try:
        maker.Build()
    except KERNEL_FAILURES:
        raise CannotDo("the walls meet before they get there", field="taper") from None
    if not maker.IsDone() or fault(maker.Shape()):
        raise CannotDo("the walls meet before they get there; a smaller taper works", field="taper")
    return maker.Shape()


def _between_parallels(prism: Shape, base: Shape, direction: Sequence[float], angle: float) -> Shape:
    """Straight walls from the outline to its parallel in the end plane, for outlines with free curves.  On these the
    wall leans by the angle at every place of the outline."""
    start = face_facts(base).centroid
    ends = [f for f in parts_of(prism, "face") if face_facts(f).kind == "plane"]
    height = max(float((np.array(face_facts(f).centroid) - start) @ np.array(direction)) for f in ends)
    step = gp_Trsf()
    step.SetTranslation(gp_Vec(*(height * np.array(direction)).tolist()))
    solids: list[Shape] = []
    inwards = -height * math.tan(angle)  # into the matter: the wires of holes run the other way
    for wire in wires_of(base):
        parallel = BRepOffsetAPI_MakeOffset(TopoDS.Wire(wire), GeomAbs_Intersection)
        try:
            parallel.Perform(inwards)
        except KERNEL_FAILURES:
            raise CannotDo("the walls meet before they get there", field="taper") from None
        found = parts_of(parallel.Shape(), "wire") if parallel.IsDone() else []
        if len(found) != 1:
            raise CannotDo("the walls meet before they get there; a smaller taper works", field="taper")
        through = BRepOffsetAPI_ThruSections(True, True, 1e-6)
        through.AddWire(TopoDS.Wire(wire))
        through.AddWire(TopoDS.Wire(found[0].Moved(TopLoc_Location(step))))
        through.Build()
        solid = single_solid(through.Shape())
        if fault(solid):
            raise CannotDo(f"the walls cannot lean along this outline: {fault(solid)}", field="taper")
        solids.append(solid)
    return single_solid(combine("subtract", solids[0], solids[1:])[0]) if len(solids) > 1 else solids[0]
