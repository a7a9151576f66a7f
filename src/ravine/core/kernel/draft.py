"""Prisms with leaning walls."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRepOffsetAPI import BRepOffsetAPI_DraftAngle
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt

from ..errors import EditError
from .check import fault
from .failures import KERNEL_FAILURES
from .queries import face_facts
from .shapes import Shape, as_face, parts_of


def drafted(prism: Shape, base: Shape, direction: Sequence[float], angle: float, doing: str) -> Shape:
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
            raise EditError(f"{doing}: walls on free curves cannot lean yet; lines and arcs can", field="taper")
        maker.Add(as_face(face), pull, float(angle), neutral, True)
        if not maker.AddDone():
            raise EditError(f"{doing}: a wall that runs smoothly into the next one cannot lean", field="taper")
    try:
        maker.Build()
    except KERNEL_FAILURES:
        raise EditError(f"{doing}: the walls meet before they get there", field="taper") from None
    if not maker.IsDone() or fault(maker.Shape()):
        raise EditError(f"{doing}: the walls meet before they get there; a smaller taper works", field="taper")
    return maker.Shape()
