"""Shapes as bytes: the kernel's own binary boundary representation, without triangles."""

from __future__ import annotations

import io

from OCP.BinTools import BinTools, BinTools_FormatVersion
from OCP.BRep import BRep_Builder
from OCP.BRepTools import BRepTools
from OCP.TopoDS import TopoDS_Shape
from OCP.TopTools import TopTools_FormatVersion

from ..errors import FormatError
from .shapes import Shape


def to_bytes(shape: Shape) -> bytes:
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream, False, False, BinTools_FormatVersion.BinTools_FormatVersion_CURRENT)
    return stream.getvalue()


def from_bytes(data: bytes) -> Shape:
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    if shape.IsNull():
        raise FormatError("the stored shape cannot be read back; its bytes are damaged")
    return shape


def to_text(shape: Shape) -> bytes:
    """The text form of the same representation."""
    stream = io.BytesIO()
    BRepTools.Write_s(shape, stream, False, False, TopTools_FormatVersion.TopTools_FormatVersion_CURRENT)
    return stream.getvalue()


def from_text(data: bytes) -> Shape:
    shape = TopoDS_Shape()
    BRepTools.Read_s(shape, io.BytesIO(data), BRep_Builder())
    if shape.IsNull():
        raise FormatError("the text holds no shape")
    return shape
