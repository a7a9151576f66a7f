"""The walls of a gap: how far its value goes either way before the edit is refused."""

from __future__ import annotations

import time
from typing import Any

from ..errors import EditError
from ..model.measure import Solid
from .base import Work, find_edit
from .gaps import AngleGap

SECONDS = 1.5  # for one way
HALVINGS = 9


def walls(work: Work, name: str, values: dict[str, Any], gap: str) -> dict[str, float | None]:
    """{"low": …, "high": …} in mm or rad, each None where nothing stops the value within twice the size of the body
    (or a right angle), or where not even a small step works."""
    cls = find_edit(name)
    angle = isinstance(cls.gaps()[gap], AngleGap)
    reach = 1.5 if angle else 2 * _size(work)
    return {way: _wall(work, name, values, gap, sense * reach, angle) for way, sense in (("low", -1.0), ("high", 1.0))}


def _size(work: Work) -> float:
    sizes = [1.0]
    for body in work.snapshot.bodies.values():
        geometry = work.geometry.get(body.shape)
        if isinstance(geometry, Solid):
            low, high = geometry.rough_box
            sizes.append(max(b - a for a, b in zip(low, high, strict=True)))
    return max(sizes)


def _wall(work: Work, name: str, values: dict[str, Any], gap: str, far: float, angle: bool) -> float | None:
    end = time.monotonic() + SECONDS

    def works(value: float) -> bool:
        text = f"{value:.12g} rad" if angle else f"{value:.12g} mm"
        try:
            find_edit(name).read({**values, gap: text}, work.context()).apply(work)
        except EditError:
            return False
        return True

    low, high = 0.0, far
    step = far / 64
    while True:  # outwards by doubling, then halving
        if time.monotonic() > end:
            return None
        if not works(step):
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
        low, high = (middle, high) if works(middle) else (low, middle)
    return low if low else None
