"""Loops of curves that follow one another, each of them either way."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .plane_curves import Floats, PlaneCurve


def followed(loop: Sequence[PlaneCurve]) -> list[tuple[PlaneCurve, bool]]:
    """Each with whether it is gone along against its parameter."""
    ends = [c.at(np.array([c.first, c.last])) for c in loop]
    found: list[tuple[PlaneCurve, bool]] = []
    tip = None
    for k, curve in enumerate(loop):
        if tip is None and len(loop) > 1:
            gaps = [np.hypot(*(ends[0][e] - ends[1]).T).min() for e in (0, 1)]
            against = bool(gaps[0] < gaps[1])
        else:
            against = tip is not None and bool(np.hypot(*(ends[k][1] - tip)) < np.hypot(*(ends[k][0] - tip)))
        found.append((curve, against))
        tip = ends[k][0 if against else 1]
    return found


def polygon(loop: Sequence[PlaneCurve]) -> Floats:
    """Places (n, 2) round a loop."""
    return np.concatenate([c.line[1][::-1] if against else c.line[1] for c, against in followed(loop)])
