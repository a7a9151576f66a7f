"""Why the local engine gives an edit back."""

from __future__ import annotations

from collections.abc import Sequence


class LocalFailure(Exception):
    """reason: in words that follow “…:”; faces: by number in the solid's index, the ones that stop the edit."""

    def __init__(self, reason: str, faces: Sequence[int] = ()) -> None:
        super().__init__(reason)
        self.reason = reason
        self.faces = tuple(faces)


class NoReading(LocalFailure):
    """What was asked means nothing for the face, whichever way it is tried: it would have no size any more, or has none
    of its own."""
