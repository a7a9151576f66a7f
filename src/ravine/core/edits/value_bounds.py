"""The bounds of a field: how far its value goes either way before the edit is refused."""

from __future__ import annotations

import time
from typing import Any

from ..model.measure import Solid
from ..operations.ladder import works
from ..operations.work import Work
from .base import context_of
from .fields import AngleField
from .registry import find_edit

SECONDS = 1.5  # for one way
HALVINGS = 9


def bounds(work: Work, name: str, values: dict[str, Any], field: str) -> dict[str, float | None]:
    """{"low": …, "high": …} in mm or rad, each None where nothing stops the value within twice the size of the body
    (or a right angle), or where not even a small step works."""
    cls = find_edit(name)
    angle = isinstance(cls.fields()[field], AngleField)
    reach = 1.5 if angle else 2 * _size(work)
    return {
        way: _wall(work, name, values, field, sense * reach, angle) for way, sense in (("low", -1.0), ("high", 1.0))
    }


def _size(work: Work) -> float:
    sizes = [1.0]
    for body in work.snapshot.bodies.values():
        geometry = work.geometry.get(body.shape)
        if isinstance(geometry, Solid):
            sizes.append(max(geometry.rough_box.size))
    return max(sizes)


def _wall(work: Work, name: str, values: dict[str, Any], field: str, far: float, angle: bool) -> float | None:
    end = time.monotonic() + SECONDS

    def does(value: float) -> bool:
        text = f"{value:.12g} rad" if angle else f"{value:.12g} mm"
        return works(work, lambda: find_edit(name).read({**values, field: text}, context_of(work)).apply(work))

    low, high = 0.0, far
    step = far / 64
    while True:  # outwards by doubling, then halving
        if time.monotonic() > end:
            return None
        if not does(step):
            high = step
            break
        low = step
        if abs(step) >= abs(far):
            return None
        step *= 2
    for _ in range(HALVINGS):
        if time.monotonic() > end:
            break
        middle = (low + high) / 2
        low, high = (middle, high) if does(middle) else (low, middle)
    return low if low else None
