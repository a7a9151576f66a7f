"""The job itself, without screen, database or network.

>>> from ravine.core import Model
>>> model = Model(units="mm")
>>> change = model.do("import", path="bracket.step")
>>> top = model.faces(change.added[0], kind="plane", normal=(0, 0, 1)).highest()
>>> model.do("push", faces=[top.id], distance="12.5 mm")
"""

from . import edits as _edits
from .edits.perform import Change
from .errors import Cancelled, EditError, FormatError, RavineError, UnitError, UnknownId
from .session import Model

registry = _edits.registry

__all__ = [
    "Cancelled", "Change", "EditError", "FormatError", "Model", "RavineError", "UnitError", "UnknownId", "registry",
]  # fmt: skip
