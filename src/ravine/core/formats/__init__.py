"""Open file formats: one module each, found by name ending and checked by content."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from ..errors import FormatError
from . import brep, dxf, idf, iges, picture, step, stl, svg, triangles
from .reading import Imported, ReadOptions, sniff

READERS: dict[str, Callable[..., Imported]] = {
    "step": step.read, "iges": iges.read, "brep": brep.read, "stl": stl.read, "dxf": dxf.read, "svg": svg.read,
    "idf": idf.read, "picture": picture.read, **{k: triangles.reader(k) for k in ("obj", "ply", "3mf", "glb", "gltf")},
}  # fmt: skip
WRITERS: dict[str, Callable[..., bytes]] = {
    "step": step.write, "iges": iges.write, "stl": stl.write, "brep": brep.write, "dxf": dxf.write, "svg": svg.write,
    **{k: partial(triangles.write, k) for k in ("obj", "ply", "3mf", "glb")},
}  # fmt: skip
ENDINGS = ("step", "stp", "p21", "igs", "iges", "brep", "stl", "obj", "ply", "3mf", "glb", "gltf", "emn", "emp", "idf",
           "dxf", "svg", "png", "jpg", "jpeg")  # fmt: skip
NO_UNIT = ("stl", "obj", "ply")  # formats that do not say their unit
SURFACES = ("iges",)  # formats whose faces usually come loose

__all__ = ["ENDINGS", "NO_UNIT", "READERS", "SURFACES", "WRITERS", "FormatError", "Imported", "ReadOptions", "sniff"]
