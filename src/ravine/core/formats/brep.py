"""The kernel's own text boundary representation: exact, with nothing lost, for exchange with its other users."""

from __future__ import annotations

from collections.abc import Sequence

from ..kernel.serial import to_text
from ..kernel.shapes import Shape, compound


def write(shapes: Sequence[Shape]) -> bytes:
    """One body as it is, several as a compound; lengths in mm."""
    return to_text(shapes[0] if len(shapes) == 1 else compound(shapes))
