"""Modules that load when something is first asked of them.

The declarations of edits name operations, and operations load the geometry library, which only worker processes need.
A package whose `__getattr__` comes from here hands out its modules unloaded, so that a page may know every sentence,
field and schema without it.
"""

from __future__ import annotations

import importlib
import importlib.util
import sys
from collections.abc import Callable
from types import ModuleType
from typing import Any


class _Later(ModuleType):
    """Stands for a module until it is used.  The import lock sees to it that threads load it once."""

    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        return getattr(importlib.import_module(self.__name__), name)

    def __setattr__(self, name: str, value: Any) -> None:
        setattr(importlib.import_module(self.__name__), name, value)

    def __delattr__(self, name: str) -> None:
        delattr(importlib.import_module(self.__name__), name)


def later(name: str) -> ModuleType:
    """A module that is only loaded when it is used: for large libraries that few calls need."""
    return sys.modules.get(name) or _Later(name)


def modules_of(package: str) -> Callable[[str], ModuleType]:
    """The `__getattr__` of a package (PEP 562)."""

    def found(name: str) -> ModuleType:
        full = f"{package}.{name}"
        if name.startswith("__") or importlib.util.find_spec(full) is None:
            raise AttributeError(f"module {package!r} has no attribute {name!r}")
        return later(full)

    return found
