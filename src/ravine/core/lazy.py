"""Modules that load when something is first asked of them.

The declarations of edits name operations, and operations load the geometry library, which only worker processes need.
A package whose `__getattr__` comes from here hands out its modules unloaded, so that a page may know every sentence,
field and schema without it.
"""

from __future__ import annotations

import importlib.util
import sys
from collections.abc import Callable
from types import ModuleType


def modules_of(package: str) -> Callable[[str], ModuleType]:
    """The `__getattr__` of a package (PEP 562)."""

    def found(name: str) -> ModuleType:
        full = f"{package}.{name}"
        spec = None if name.startswith("__") else importlib.util.find_spec(full)
        if spec is None or spec.loader is None:
            raise AttributeError(f"module {package!r} has no attribute {name!r}")
        if full not in sys.modules:
            spec.loader = importlib.util.LazyLoader(spec.loader)
            module = importlib.util.module_from_spec(spec)
            sys.modules[full] = module
            spec.loader.exec_module(module)
        setattr(sys.modules[package], name, sys.modules[full])
        return sys.modules[full]

    return found
