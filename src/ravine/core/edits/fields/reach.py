"""Lengths out of all relation to the model: a slip of the keys, asked back before anything is worked out."""

from __future__ import annotations

import re
from typing import Any

from ...box import Box
from ...errors import EditError
from ...units import editable_length, format_length, spelled
from .base import Context

FREE = 100.0  # mm, up to which nothing is asked, whatever the model
DOUBTFUL = 100  # times the size of the model, from where a bare number is asked back
MOST = 1000  # times its size, beyond which nothing is done
EXPONENT = r"(?<=[\d.])[eE](?=[+-]?\d)"  # of 1e4, which is no unit
EMPTY = 1000.0  # mm, what a model without bodies counts as


def check_reach(label: str, raw: Any, value: float, context: Context) -> None:
    """Raises EditError for a length that is many times the size of the model; where it is typed as a bare number, also
    for one that may be meant: with its unit it is taken."""
    if abs(value) <= FREE or context.store is None:
        return
    size, units = _size(context), context.snapshot.units
    times = abs(value) / size
    often = spelled(times)
    told = f"{format_length(value, units)} is {often} times the size of the model ({format_length(size, units)})"
    if times > MOST:
        nearest = editable_length((MOST if value > 0 else -MOST) * size, units)
        raise EditError(f"{label}: {told}; up to {MOST} times are done", nearest=nearest)
    if times > DOUBTFUL and isinstance(raw, str) and not re.search(r"[^\W\d_]", re.sub(EXPONENT, "", raw)):
        nearest = editable_length(value, units)
        raise EditError(f"{label}: {told}; with its unit, as {nearest}, it is taken as meant", nearest=nearest)


def _size(context: Context) -> float:
    """The longest side of all bodies where they stand, mm."""
    boxes: list[Box] = []
    for found in context.snapshot.occurrences():
        geometry = context.geometry.get(found.body.shape)
        boxes.append(geometry.rough_box.moved(found.matrix))
    if not boxes:
        return EMPTY
    return max(*Box.around([p for box in boxes for p in box]).size, 1e-3)
