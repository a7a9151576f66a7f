"""The flat faces in which a plane cuts a solid."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt

from ..errors import EditError
from .merging import merged
from .properties import rough_box
from .shapes import Shape, parts_of


def slice_faces(shape: Shape, origin: Sequence[float], x: Sequence[float], normal: Sequence[float]) -> list[Shape]:
    """Plane faces, with their holes, of the matter of a solid that lies in a plane (mm).

    Raises EditError when the kernel gives up."""
    box = rough_box(shape)
    middle = box.middle
    off = sum((m - o) * n for m, o, n in zip(middle, origin, normal, strict=True))
    foot = [m - off * n for m, n in zip(middle, normal, strict=True)]  # the middle of the body, dropped on to the plane
    reach = box.diagonal + 1.0
    axes = gp_Ax3(gp_Pnt(*foot), gp_Dir(*map(float, normal)), gp_Dir(*map(float, x)))
    sheet: Any = BRepBuilderAPI_MakeFace(gp_Pln(axes), -reach, reach, -reach, reach).Face()
    common = BRepAlgoAPI_Common(shape, sheet)
    if not common.IsDone() or common.Shape().IsNull():
        raise EditError("the geometry kernel could not cut the body with the plane")
    faces = parts_of(common.Shape(), "face")
    if len(faces) < 2:
        return faces
    return parts_of(merged(common.Shape(), [])[0], "face")  # a plane along a face yields it in pieces
