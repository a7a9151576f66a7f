"""What was worked out of faces or edges (lines, bounds, volumes), kept from edit to edit for those that stay."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any


class FaceNotes:
    """By kind and number.  What belongs to those that changed since the last settled solid is kept apart, since the
    solid it hangs on may be a mere try."""

    def __init__(self, kept: dict[tuple[str, int], Any] | None = None) -> None:
        self._kept = {} if kept is None else kept
        self._changed: frozenset[int] = frozenset()
        self._own: dict[tuple[str, int], Any] = {}

    def of(self, kind: str, number: int, make: Callable[[int], Any]) -> Any:
        row = self._own if number in self._changed else self._kept
        key = (kind, number)
        if key not in row:
            row[key] = make(number)
        return row[key]

    def after(self, numbers: Iterable[int]) -> FaceNotes:
        """For a solid in which these are others."""
        new = FaceNotes(self._kept)
        gone = frozenset(numbers)
        new._changed = self._changed | gone
        new._own = {key: v for key, v in self._own.items() if key[1] not in gone}
        return new

    def settled(self) -> FaceNotes:
        return FaceNotes({**{k: v for k, v in self._kept.items() if k[1] not in self._changed}, **self._own})
