"""The job itself, without screen, database or network.

>>> from ravine.core import Model
>>> model = Model(units="mm")
>>> change = model.do("import", path="bracket.step")
>>> top = model.faces(change.added[0], kind="plane", normal=(0, 0, 1)).highest()
>>> model.do("push", faces=[top.id], distance="12.5 mm")
"""

import importlib
from typing import TYPE_CHECKING, Any

from .errors import Cancelled, EditError, FormatError, RavineError, UnitError, UnknownId

if TYPE_CHECKING:
    from .edits.perform import Change
    from .edits.registry import registry
    from .session import Model, compare

__all__ = [
    "Cancelled", "Change", "EditError", "FormatError", "Model", "RavineError", "UnitError", "UnknownId", "compare",
    "registry",
]  # fmt: skip


_HOMES = {"Change": ".edits.perform", "Model": ".session", "compare": ".session", "registry": ".edits.registry"}


def __getattr__(name: str) -> Any:
    """`Model` and `Change` load the geometry library, which whoever only declares and asks does without; `registry`
    loads every edit, which whoever only starts and stops does without."""
    if name in _HOMES:
        return getattr(importlib.import_module(_HOMES[name], __name__), name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
