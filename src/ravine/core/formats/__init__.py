"""Open file formats: one module each, found by name ending and checked by content."""

from __future__ import annotations

from collections.abc import Callable

from ..errors import FormatError
from . import brep, dxf, picture, step, stl, svg
from .reading import Imported, ReadOptions, sniff

READERS: dict[str, Callable[..., Imported]] = {
    "step": step.read, "stl": stl.read, "dxf": dxf.read, "svg": svg.read, "picture": picture.read,
}  # fmt: skip
WRITERS: dict[str, Callable[..., bytes]] = {
    "step": step.write, "stl": stl.write, "brep": brep.write, "dxf": dxf.write,
    "svg": svg.write,
}  # fmt: skip
ENDINGS = {"step": "step", "stp": "step", "p21": "step", "stl": "stl", "dxf": "dxf", "svg": "svg",
           "png": "picture", "jpg": "picture", "jpeg": "picture"}  # fmt: skip

__all__ = ["ENDINGS", "READERS", "WRITERS", "FormatError", "Imported", "ReadOptions", "sniff"]
