"""What travels between callers, the engine and its children."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ravine.core import RavineError

Progress = Callable[[float, str], None]
BlobSource = Callable[[str], bytes]


@dataclass
class Call:
    """key: calls with one key go to one worker, whose caches are warm for it, while that one is free; lane: `hand` for
    what a person waits for, `job` for long work, `picture` for cards, `row` for variants; deadline: seconds from when
    it came; still: seconds without a word of progress after which it counts as hanging; blobs: by content address."""

    task: str
    args: dict[str, Any]
    key: str = ""
    lane: str = "hand"
    deadline: float = 60.0
    blobs: Mapping[str, bytes] = field(default_factory=dict)
    token: str = ""
    still: float = math.inf


@dataclass(frozen=True)
class Progressed:
    fraction: float
    words: str


@dataclass(frozen=True)
class Needs:
    """The child lacks these blobs; the call is to be made again with them."""

    addresses: tuple[str, ...]


@dataclass(frozen=True)
class Done:
    result: Any


@dataclass(frozen=True)
class Failed:
    """The core refused (RavineError, with words for the user), or one of the three below."""

    error: Exception


@dataclass(frozen=True)
class CancelCall:
    token: str


@dataclass(frozen=True)
class StatusCall:
    pass


class GaveUp(Exception):
    """The kernel raised something of its own."""


class OutOfMemory(Exception):
    """The worker may not have as much as the call needs."""


class ProgramFault(Exception):
    """A fault in the program: anything that nobody was prepared for."""


class EngineFailure(RavineError):
    """A worker crashed, ran out of time or memory; the model is as it was."""


class Busy(EngineFailure):
    """All workers of a lane are busy and enough others wait already."""

    def __init__(self, others: int) -> None:
        super().__init__(
            f"the geometry engine is busy with {others} other calls; nothing changed, try again in a moment"
        )
        self.others = others

    def __reduce__(self) -> tuple:
        return Busy, (self.others,)
