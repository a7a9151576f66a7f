"""Open file formats: one module each, found by name ending and checked by content, loaded when it is needed."""

from __future__ import annotations

import importlib
from collections.abc import Callable
from functools import partial
from typing import Any

from ..errors import FormatError
from .reading import Imported, ReadOptions, sniff

_MODULES = {
    "step": "step", "iges": "iges", "brep": "brep", "stl": "stl", "dxf": "dxf", "svg": "svg", "idf": "idf",
    "picture": "picture", "obj": "triangles", "ply": "triangles", "3mf": "triangles", "glb": "triangles",
    "gltf": "triangles",
}  # fmt: skip
READS = tuple(_MODULES)
WRITES = ("step", "iges", "stl", "brep", "dxf", "svg", "obj", "ply", "3mf", "glb")
ENDINGS = ("step", "stp", "p21", "igs", "iges", "brep", "stl", "obj", "ply", "3mf", "glb", "gltf", "emn", "emp", "idf",
           "dxf", "svg", "png", "jpg", "jpeg")  # fmt: skip
NO_UNIT = ("stl", "obj", "ply")  # formats that do not say their unit
SURFACES = ("iges",)  # formats whose faces usually come loose

__all__ = [
    "ENDINGS", "NO_UNIT", "READS", "SURFACES", "WRITES", "FormatError", "Imported", "ReadOptions", "reader", "sniff",
    "writer",
]  # fmt: skip


def _module(kind: str) -> Any:
    return importlib.import_module(f"{__name__}.{_MODULES[kind]}")


def reader(kind: str) -> Callable[..., Imported]:
    """path, ReadOptions, progress -> Imported."""
    module = _module(kind)
    return module.reader(kind) if _MODULES[kind] == "triangles" else module.read


def writer(kind: str) -> Callable[..., bytes]:
    module = _module(kind)
    return partial(module.write, kind) if _MODULES[kind] == "triangles" else module.write
