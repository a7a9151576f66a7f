"""What travels between callers, the engine and its children."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from ravine.core import RavineError

Progress = Callable[[float, str], None]
BlobSource = Callable[[str], bytes]


@dataclass
class Call:
    """key: calls with one key go to one child, whose caches are warm for it; lane: `hand` for what a person waits
    for, `job` for long work; deadline: seconds; blobs: by content address."""

    task: str
    args: dict[str, Any]
    key: str = ""
    lane: str = "hand"
    deadline: float = 60.0
    blobs: Mapping[str, bytes] = field(default_factory=dict)
    token: str = ""


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
