"""Open file formats: one module each, found by name ending and checked by content, loaded when it is needed."""

from __future__ import annotations

import importlib
import logging
from collections.abc import Callable
from functools import partial
from typing import Any

from ..errors import FormatError, RavineError
from .reading import Imported, Progress, ReadOptions, sniff

log = logging.getLogger("ravine.formats")

_MODULES = {
    "step": "step", "iges": "iges", "brep": "brep", "stl": "stl", "dxf": "dxf", "svg": "svg", "idf": "idf",
    "picture": "picture", "obj": "triangles", "ply": "triangles", "3mf": "triangles", "glb": "triangles",
    "gltf": "triangles",
}  # fmt: skip
READS = tuple(_MODULES)
_WORDS = {"step": "STEP file", "iges": "IGES file", "brep": "B-rep file", "picture": "picture", "glb": "GLB file",
          "gltf": "glTF file"}  # fmt: skip
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


def reader(kind: str) -> Callable[[str, ReadOptions, Progress], Imported]:
    """Raises FormatError in our own words, whatever a library stumbles over: what that says is in the log."""
    module = _module(kind)
    read = module.reader(kind) if _MODULES[kind] == "triangles" else module.read
    words = _WORDS.get(kind, f"{kind.upper()} file")

    def guarded(path: str, options: ReadOptions, progress: Progress) -> Imported:
        try:
            found: Imported = read(path, options, progress)
        except (RavineError, MemoryError):
            raise
        except Exception as error:  # a reader of foreign files may fail in any way
            log.warning("the reader of a %s gave up", words, exc_info=True)
            raise FormatError(
                f"the {words} cannot be read: it is damaged, or holds something that is not read here", field="path"
            ) from error
        return found

    return guarded


def writer(kind: str) -> Callable[..., bytes]:
    module = _module(kind)
    return partial(module.write, kind) if _MODULES[kind] == "triangles" else module.write
