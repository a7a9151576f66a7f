"""Cutting matter into cells along surfaces."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepTools import BRepTools_History

from ..errors import EditError
from .boolean import shape_list, tracer
from .history import Trace
from .shapes import Shape


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
