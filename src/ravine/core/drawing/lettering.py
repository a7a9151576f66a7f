"""What is written on drawings: letters with signs, stacked limits, frames and circles, as one row."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..local.surfaces import Floats
from .ink import Pen, text_width
from .signs import SIGNS, Sign

HEIGHT = 3.5  # mm of letters on dimensions (ISO 3098)
STACKED = 0.7  # of the height, letters of limits
GAP = 0.3  # of the height, between runs
PAD = 0.35  # of the height, between letters and the box around them


@dataclass(frozen=True)
class Run:
    """text, or the name of a sign, or two limits one above the other; around: box, circle or nothing."""

    text: str = ""
    sign: str = ""
    above: str = ""
    below: str = ""
    around: str = ""

    def wide(self, height: float) -> float:
        if self.sign:
            return SIGNS[self.sign].wide * height
        if self.above or self.below:
            return max(text_width(t, STACKED * height) for t in (self.above, self.below))
        inner = text_width(self.text, height)
        if self.around == "circle":
            return max(inner + 0.6 * height, 1.6 * height)
        return inner + (height if self.around == "box" else 0.0)


def below_base(runs: Sequence[Run], height: float = HEIGHT) -> float:
    """How far a box around any of them reaches under the base line, mm."""
    return PAD * height if any(r.around == "box" for r in runs) else 0.0


def width_of_runs(runs: Sequence[Run], height: float = HEIGHT) -> float:
    return sum(r.wide(height) for r in runs) + GAP * height * max(len(runs) - 1, 0)


@dataclass(frozen=True)
class Spot:
    """Places of the paper in the measure of what is written there."""

    start: Floats
    along: Floats
    up: Floats

    def __call__(self, x: float, y: float) -> Floats:
        return np.asarray(self.start + x * self.along + y * self.up)


def write_runs(pen: Pen, runs: Sequence[Run], at: Sequence[float] | Floats, align: str = "left", lean: float = 0.0,
               height: float = HEIGHT) -> None:  # fmt: skip
    """at: on the base line."""
    back = {"left": 0.0, "middle": 0.5, "right": 1.0}[align] * width_of_runs(runs, height)
    along = np.array([math.cos(lean), math.sin(lean)])
    up = np.array([-along[1], along[0]])
    start = np.asarray(at, float) - back * along

    place = Spot(start, along, up)
    x = 0.0
    for run in runs:
        wide = run.wide(height)
        if run.sign:
            _sign(pen, SIGNS[run.sign], Spot(start + x * along, along * height, up * height), height, lean)
        elif run.above or run.below:
            pen.text(run.above, place(x, 0.75 * height), STACKED * height, "left", lean)
            pen.text(run.below, place(x, -0.25 * height), STACKED * height, "left", lean)
        else:
            pen.text(run.text, place(x + wide / 2, 0.0), height, "middle", lean)
            if run.around == "box":
                corners = [(x, -PAD), (x + wide, -PAD), (x + wide, 1 + PAD), (x, 1 + PAD)]
                pen.path([place(u, v * height) for u, v in corners], closed=True)
            elif run.around == "circle":
                pen.arc(place(x + wide / 2, 0.5 * height), max(wide / 2, 0.8 * height))
        x += wide + GAP * height


def _sign(pen: Pen, sign: Sign, spot: Spot, height: float, lean: float) -> None:
    for path in sign.paths:
        pen.path([spot(*p) for p in path])
    for x, y, radius, first, last in sign.rounds:
        pen.arc(spot(x, y), radius * height, math.radians(first) + lean, math.radians(last) + lean)
    for path in sign.filled:
        pen.fill([spot(*p) for p in path])


def upright(angle: float) -> float:
    """The same line, so that what is written along it reads from below or from the right (ISO 129-1)."""
    found = (angle + math.pi / 2) % math.pi - math.pi / 2
    return math.pi / 2 if abs(found + math.pi / 2) < 1e-6 else found
