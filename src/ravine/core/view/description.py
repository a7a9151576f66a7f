"""What is said about a pick."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..edits.base import PickSummary


@dataclass(frozen=True)
class Description:
    """subject: what it is; rest: the end of the sentence; rows: (label, value) pairs."""

    subject: str
    rest: str = ""
    rows: tuple[tuple[str, str], ...] = ()
    summary: PickSummary = field(default_factory=PickSummary)
