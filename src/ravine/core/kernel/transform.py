"""Mirrored and scaled copies, with the history to carry ids."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt, gp_Trsf

from .history import Trace
from .shapes import Shape, shape_map


def mirrored(shape: Shape, point: Sequence[float], normal: Sequence[float]) -> Shape:
    """Across the plane through a point (mm) square to a direction."""
    turn = gp_Trsf()
    turn.SetMirror(gp_Ax2(gp_Pnt(*map(float, point)), gp_Dir(*map(float, normal))))
    return BRepBuilderAPI_Transform(shape, turn, True).Shape()


def scaled(shape: Shape, centre: Sequence[float], factor: float) -> tuple[Shape, Trace]:
    """About a point (mm) by a positive factor."""
    growth = gp_Trsf()
    growth.SetScale(gp_Pnt(*map(float, centre)), float(factor))
    tool = BRepBuilderAPI_Transform(shape, growth, True)
    result = tool.Shape()
    present = {kind: shape_map(result, kind) for kind in ("face", "edge", "vertex")}

    def trace(part: Shape) -> list[Shape]:
        found = tool.ModifiedShape(part)
        return [found] if any(m.Contains(found) for m in present.values()) else []

    return result, trace
