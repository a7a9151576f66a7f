"""The table of kinds of durable jobs."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ravine.store.tables import Job

from ..designs import Designs

Tell = Callable[[float, str], None]
Work = Callable[[Designs, Job, dict[str, Any], Tell], str]


@dataclass(frozen=True)
class JobKind:
    """work: does it, from the row and its parameters, and returns what is told at the end; it raises Cancelled, or
    RavineError with words; doing: what the row says while it runs, failed: and when it did not do it, both with
    parameters in braces; stopped: when somebody stopped it; kept: what
    there is nevertheless after it was interrupted again and again."""

    name: str
    work: Work
    doing: str
    failed: str
    stopped: str
    kept: str


KINDS: dict[str, JobKind] = {}


def enter(kind: JobKind) -> JobKind:
    """Into the table."""
    if kind.name in KINDS:
        raise ValueError(f"two kinds of jobs are called {kind.name}")
    KINDS[kind.name] = kind
    return kind
