"""The one family of errors the core raises on purpose."""

from __future__ import annotations

from collections.abc import Sequence


class RavineError(Exception):
    """Something the user can act on; `str(error)` is a sentence fit to show."""


class EditError(RavineError):
    """An edit that cannot be done; the model is unchanged.

    reason:  a sentence that names what stops the edit and why
    where:   ids of the faces, edges or bodies it is about
    nearest: the nearest value that works, as text with unit, or None
    field:   the gap of the sentence the reason is about, or None
    """

    def __init__(
        self, reason: str, where: Sequence[str] = (), nearest: str | None = None, field: str | None = None
    ) -> None:
        super().__init__(reason)
        self.reason = reason
        self.where = tuple(where)
        self.nearest = nearest
        self.field = field

    def __reduce__(self) -> tuple:
        return (type(self), (self.reason, self.where, self.nearest, self.field))

    def as_dict(self) -> dict:
        return {
            "reason": self.reason,
            "where": list(self.where),
            "nearest": self.nearest,
            "field": self.field,
        }


class CannotDo(EditError):
    """The edit is well said, but the geometry does not allow it.  The reason is what stops it; whoever says the
    sentence over the operation puts before it what was being done."""

    def said_of(self, doing: str) -> CannotDo:
        """The same with what was being done before the reason."""
        return CannotDo(f"{doing}: {self.reason}", self.where, self.nearest, self.field)


class Unsettled(EditError):
    """A quick preview that leaves the slow part to the one that follows when the hand rests."""

    def as_dict(self) -> dict:
        return {**super().as_dict(), "later": True}


class UnitError(EditError):
    """A length or angle that cannot be read."""


class UnknownId(EditError):
    """An id that never was, or that ended in an earlier edit."""


class FormatError(EditError):
    """A file that cannot be read or written in the asked format."""


class Cancelled(RavineError):
    """The user stopped the work; nothing changed."""
