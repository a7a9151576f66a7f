"""Distances of many things from one origin, each written at its own line (ISO 129-1, coordinate dimensioning)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from ...errors import EditError
from ...local.surfaces import Floats
from ..lettering import HEIGHT, Run, write_runs
from .base import EXTENSION, Native, Setting, Told, draws

JOG = 6.0  # mm before the words in which a line steps aside
APART = 1.5  # of the height of letters, between neighbours


@draws("ordinate")
def ordinate(setting: Setting) -> Told:
    """The first of what is picked is the origin."""
    way = setting.word("way", "x")
    if len(setting.seen) < 2:
        raise EditError("pick the origin first, and then what is measured from it")
    k = 0 if way == "x" else 1
    origin = float(setting.seen[0].at[k])
    rows = sorted(setting.seen, key=lambda s: float(s.at[k]))
    unique = [s for n, s in enumerate(rows) if n == 0 or abs(s.at[k] - rows[n - 1].at[k]) > 1e-6]
    feet = [setting.paper(s.at) for s in unique]
    level = float(setting.at[1 - k])
    spots = _spread([float(f[k]) for f in feet], APART * HEIGHT)
    out = 1.0 if level > float(np.mean([f[1 - k] for f in feet])) else -1.0
    values: list[float] = []
    ends: list[tuple[Floats, Floats]] = []
    for seen, foot, spot in zip(unique, feet, spots, strict=True):
        value = float(seen.at[k]) - origin
        values.append(value)
        near, far = _at(k, float(foot[k]), level - out * JOG), _at(k, spot, level)
        start = _at(k, float(foot[k]), float(foot[1 - k]) + out * EXTENSION / 2)
        if (level - foot[1 - k]) * out < JOG:
            near = start
        setting.pen.path([start, near, far])
        text = [Run(setting.number(value))]
        lean = np.pi / 2 if k == 0 else 0.0
        shift = _at(k, spot + (HEIGHT / 2 if k == 0 else -HEIGHT / 2), level + out * 0.8)
        write_runs(setting.pen, text, shift, "left" if out > 0 else "right", lean)
        ends.append((foot, far))
    native = _native(setting, k, setting.paper(setting.seen[0].at), ends, values)
    return Told(None, tuple(values), ", ".join(setting.number(v) for v in values), native)


def _native(
    setting: Setting, k: int, origin: Floats, ends: Sequence[tuple[Floats, Floats]], values: Sequence[float]
) -> Native | None:
    """None where a break of the view lies between: another program would measure what is on the paper."""
    scale = setting.view.scale
    if any(abs(float((foot - origin)[k]) - scale * v) > 1e-6 for (foot, _), v in zip(ends, values, strict=True)):
        return None

    def write(space: Any) -> None:
        for (foot, end), value in zip(ends, values, strict=True):
            found = space.add_ordinate_dim(
                foot.tolist(), (end - foot).tolist(), 1 - k, origin=origin.tolist(), text=setting.number(value),
                dimstyle="ISO129", override={"dimlfac": 1 / (scale * setting.unit)},
                dxfattribs={"layer": "dimensions"},
            )  # fmt: skip
            found.render()

    return write


def _at(k: int, along: float, across: float) -> np.ndarray:
    return np.array([along, across] if k == 0 else [across, along])


def _spread(spots: list[float], least: float) -> list[float]:
    """Pushed apart until neighbours have room, each as little from its place as goes."""
    found = list(spots)
    for _ in range(200):
        moved = False
        for n in range(len(found) - 1):
            lack = least - (found[n + 1] - found[n])
            if lack > 1e-6:
                found[n] -= lack / 2
                found[n + 1] += lack / 2
                moved = True
        if not moved:
            break
    return found
