"""Signs of drawings as strokes, in units of the height of the letters: of holes (ISO 15786), of geometrical tolerances
(ISO 1101, shapes of ISO 7083).  No font at hand has all of them, and so they are one and the same in every file."""

from __future__ import annotations

import math
from dataclasses import dataclass

Point2 = tuple[float, float]


@dataclass(frozen=True)
class Sign:
    """wide: of the sign; paths: chains of places; rounds: middle x, y, radius, from, to in degrees; filled: closed
    chains."""

    wide: float
    paths: tuple[tuple[Point2, ...], ...] = ()
    rounds: tuple[tuple[float, float, float, float, float], ...] = ()
    filled: tuple[tuple[Point2, ...], ...] = ()


def _box(low: Point2, high: Point2) -> tuple[Point2, ...]:
    return (low, (high[0], low[1]), high, (low[0], high[1]), low)


def _tip(at: Point2, lean: float, size: float = 0.35) -> tuple[Point2, ...]:
    """An arrow's head that points at a place along `lean` degrees."""
    back = [math.radians(lean + 180 + off) for off in (-18, 18)]
    a, b = ((at[0] + size * math.cos(t), at[1] + size * math.sin(t)) for t in back)
    return (at, a, b)


def _runout(x: float) -> tuple[Point2, ...]:
    return ((x, 0.0), (x + 0.62, 0.95))


SIGNS: dict[str, Sign] = {
    "counterbore": Sign(1.1, (((0.0, 0.75), (0.0, 0.05), (1.1, 0.05), (1.1, 0.75)),)),
    "countersink": Sign(1.2, (((0.0, 0.75), (0.6, 0.05), (1.2, 0.75)),)),
    "depth": Sign(0.8, (((0.0, 0.95), (0.8, 0.95)), ((0.4, 0.95), (0.4, 0.3))), (), (_tip((0.4, 0.0), -90),)),
    "square": Sign(0.85, (_box((0.0, 0.0), (0.85, 0.85)),)),
    "straightness": Sign(1.2, (((0.0, 0.5), (1.2, 0.5)),)),
    "flatness": Sign(1.4, (((0.0, 0.1), (0.95, 0.1), (1.4, 0.9), (0.45, 0.9), (0.0, 0.1)),)),
    "roundness": Sign(1.0, (), ((0.5, 0.5, 0.45, 0.0, 360.0),)),
    "cylindricity": Sign(1.4, (((0.0, 0.05), (0.5, 0.95)), ((0.9, 0.05), (1.4, 0.95))),
                         ((0.7, 0.5, 0.32, 0.0, 360.0),)),
    "line profile": Sign(1.2, (), ((0.6, 0.2, 0.6, 0.0, 180.0),)),
    "surface profile": Sign(1.2, (((0.0, 0.2), (1.2, 0.2)),), ((0.6, 0.2, 0.6, 0.0, 180.0),)),
    "parallelism": Sign(1.1, (((0.0, 0.0), (0.5, 1.0)), ((0.6, 0.0), (1.1, 1.0)))),
    "perpendicularity": Sign(1.2, (((0.0, 0.0), (1.2, 0.0)), ((0.6, 0.0), (0.6, 1.0)))),
    "angularity": Sign(1.3, (((1.3, 0.0), (0.0, 0.0), (1.1, 0.9)),)),
    "position": Sign(1.2, (((0.0, 0.5), (1.2, 0.5)), ((0.6, -0.1), (0.6, 1.1))), ((0.6, 0.5, 0.35, 0.0, 360.0),)),
    "coaxiality": Sign(1.1, (), ((0.55, 0.5, 0.52, 0.0, 360.0), (0.55, 0.5, 0.26, 0.0, 360.0))),
    "symmetry": Sign(1.2, (((0.25, 0.85), (0.95, 0.85)), ((0.0, 0.5), (1.2, 0.5)), ((0.25, 0.15), (0.95, 0.15)))),
    "run-out": Sign(0.75, (_runout(0.05),), (), (_tip((0.67, 0.95), 57),)),
    "total run-out": Sign(1.4, (_runout(0.05), _runout(0.7), ((0.05, 0.0), (0.7, 0.0))), (),
                          (_tip((0.67, 0.95), 57), _tip((1.32, 0.95), 57))),
}  # fmt: skip
TOLERANCES = tuple(name for name in SIGNS if name not in ("counterbore", "countersink", "depth", "square"))
FORM = ("straightness", "flatness", "roundness", "cylindricity")  # these take no datum
