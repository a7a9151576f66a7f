"""What every study is: a computation on a state that changes nothing, declared like an edit.

From the declaration come the engine's task with its deadline, lane, progress and cancel, the cache by state, the
address and schema of the JSON API, and the script call `model.study(…)`.  See docs/writing-a-study.md.
"""

from __future__ import annotations

import logging
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, dataclass_transform

from ..edits.declared import Declared, field, no_such
from ..edits.fields import Context
from ..errors import EditError
from ..operations.work import Work

log = logging.getLogger("ravine.studies")


@dataclass(frozen=True)
class Study(Declared):
    """seconds: after which it is stopped; lane:
    hand where a person waits, job for what may wait itself; keeps: its result stays the same for a state and values,
    so it is kept beside the state; follows: it tells progress and can be stopped."""

    seconds: ClassVar[float] = 60.0
    lane: ClassVar[str] = "hand"
    keeps: ClassVar[bool] = True
    follows: ClassVar[bool] = False

    def run(self, work: Work) -> Any:
        """JSON data, or bytes.  Raises EditError; the state is never changed."""
        raise NotImplementedError


_REGISTRY: dict[str, type[Study]] = {}


@dataclass_transform(frozen_default=True, kw_only_default=True, field_specifiers=(field,))
def study(cls: type[Any]) -> Any:
    """Class decorator: make it a frozen dataclass and enter it in the registry."""
    declared = dataclass(frozen=True, kw_only=True)(cls)
    if declared.name in _REGISTRY:
        raise ValueError(f"two studies are called {declared.name}")
    _REGISTRY[declared.name] = declared
    return declared


def studies() -> dict[str, type[Study]]:
    """All by name."""
    return dict(sorted(_REGISTRY.items()))


def find_study(name: str) -> type[Study]:
    found = _REGISTRY.get(name)
    if found is None:
        raise no_such("study", name, _REGISTRY)
    return found


def study_of(name: str, raw: Mapping[str, Any], work: Work) -> Any:
    """Read and run one.  Raises EditError; what the kernel raises of its own is logged and told as one."""
    from ..operations.ladder import FAILURES, reason_of  # loads the geometry library, which declaring does without

    try:
        return find_study(name).read(raw, Context(work.snapshot, work.geometry)).run(work)
    except FAILURES as error:
        if isinstance(error, EditError):
            raise
        log.warning("%s: not caught by the study", name, exc_info=True)
        raise EditError(f"{name} could not be worked out: {reason_of(error)}") from error
