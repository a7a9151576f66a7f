"""Open file formats: one module each, found by name ending and checked by content."""

from __future__ import annotations

from collections.abc import Callable

from ..errors import FormatError
from . import brep, step, stl
from .reading import Imported, ReadOptions, sniff

READERS: dict[str, Callable[..., Imported]] = {"step": step.read, "stl": stl.read}
WRITERS: dict[str, Callable[..., bytes]] = {"step": step.write, "stl": stl.write, "brep": brep.write}
ENDINGS = {"step": "step", "stp": "step", "p21": "step", "stl": "stl"}

__all__ = ["ENDINGS", "READERS", "WRITERS", "FormatError", "Imported", "ReadOptions", "sniff"]
