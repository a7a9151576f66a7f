"""The job itself, without screen, database or network.

>>> from ravine.core import Model
>>> model = Model(units="mm")
>>> change = model.do("import", path="bracket.step")
>>> top = model.faces(change.added[0], kind="plane", normal=(0, 0, 1)).highest()
>>> model.do("push", faces=[top.id], distance="12.5 mm")
"""

from typing import TYPE_CHECKING, Any

from .edits.registry import registry
from .errors import Cancelled, EditError, FormatError, RavineError, UnitError, UnknownId

if TYPE_CHECKING:
    from .edits.perform import Change
    from .session import Model, compare

__all__ = [
    "Cancelled", "Change", "EditError", "FormatError", "Model", "RavineError", "UnitError", "UnknownId", "compare",
    "registry",
]  # fmt: skip


def __getattr__(name: str) -> Any:
    """`Model` and `Change` load the geometry library, which whoever only declares and asks does without."""
    if name == "Model":
        from .session import Model

        return Model
    if name == "compare":
        from .session import compare

        return compare
    if name == "Change":
        from .edits.perform import Change

        return Change
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
