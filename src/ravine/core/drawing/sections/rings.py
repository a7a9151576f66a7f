"""Closed chains of curves as rings of places."""

from __future__ import annotations

import numpy as np

from ...local.surfaces import Floats
from ...sketch.loops import followed
from ...sketch.plane_curves import PlaneCurve


def ring_of(curves: list[PlaneCurve]) -> Floats:
    """Places around a closed chain of curves in any order."""
    left, row = list(curves), []
    end = None
    while left:
        if end is None:
            at = 0
        else:
            gaps = [min(np.hypot(*(p - end)) for p in c.at(np.array([c.first, c.last]))) for c in left]
            at = int(np.argmin(gaps))
        curve = left.pop(at)
        row.append(curve)
        end = curve.at(np.array([curve.last]))[0]
        if len(row) > 1:
            start = curve.at(np.array([curve.first]))[0]
            before = row[-2].at(np.array([row[-2].first, row[-2].last]))
            if min(np.hypot(*(p - end)) for p in before) < min(np.hypot(*(p - start)) for p in before):
                end = start
    places = []
    for curve, against in followed(row):
        line = curve.at(curve.steps(curve.first, curve.last))
        places.append((line[::-1] if against else line)[:-1])
    return np.concatenate(places) if places else np.zeros((0, 2))
