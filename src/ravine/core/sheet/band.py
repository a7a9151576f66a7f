"""What lies of a loop in the flat between two lines across it, as where a bend begins and ends."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np
from scipy.optimize import brentq

from ..local.surfaces import Floats
from ..sketch.loops import followed
from ..sketch.plane_curves import PlaneCurve
from .flat_curves import line

Piece = tuple[PlaneCurve, float, float]  # run from the first parameter to the last
FINE = 65  # places along a curve, between which it crosses a line at most once


def pieces_of(loop: Sequence[PlaneCurve]) -> list[Piece]:
    return [(c, c.last, c.first) if back else (c, c.first, c.last) for c, back in followed(loop)]


def within(loop: Sequence[PlaneCurve], own: Callable[[Floats], Floats], low: float, high: float) -> list[list[Piece]]:
    """Closed loops of what a closed loop encloses between two lines.  own: of places (n, 2), how far they lie across
    the lines, which are at low and high, and along them."""
    inside: list[Piece | None] = []
    for curve, first, last in pieces_of(loop):
        stops = [first, *_crossings(curve, first, last, own, (low, high)), last]
        for a, b in pairwise(stops):
            if abs(b - a) > 1e-12 * abs(last - first):
                middle = float(own(curve.at(np.array([(a + b) / 2])))[0, 0])
                inside.append((curve, a, b) if low < middle < high else None)
    if None not in inside:
        return [[p for p in inside if p is not None]]
    start = inside.index(None)
    chains: list[list[Piece]] = [[]]
    for piece in (*inside[start:], *inside[:start]):
        if piece is None:
            chains.append([])
        else:
            chains[-1].append(piece)
    return _closed([c for c in chains if c], own, (low + high) / 2)


def _crossings(
    curve: PlaneCurve, first: float, last: float, own: Callable[[Floats], Floats], lines: tuple[float, float]
) -> list[float]:
    t = np.linspace(first, last, FINE)
    there = own(curve.at(t))[:, 0]
    found = []
    for level in lines:
        off = there - level
        for k in np.flatnonzero(off[:-1] * off[1:] < 0):
            found.append(brentq(lambda s, at=level: float(own(curve.at(np.array([s])))[0, 0]) - at, t[k], t[k + 1]))
    return sorted(found, reverse=last < first)


def _closed(chains: list[list[Piece]], own: Callable[[Floats], Floats], middle: float) -> list[list[Piece]]:
    """Chains from line to line joined along the lines: between every other pair of their ends lies the inside."""
    tips = [(_tip(c[0], first=True), _tip(c[-1], first=False)) for c in chains]
    follows: dict[int, int] = {}
    for side in (False, True):
        rows = [(*own(place[None])[0].tolist(), k, e) for k, pair in enumerate(tips) for e, place in enumerate(pair)]
        ends = sorted((along, k, e) for far, along, k, e in rows if (far > middle) == side)
        for (_, k, e), (_, m, _) in zip(ends[::2], ends[1::2], strict=True):
            follows.update({m: k} if e == 0 else {k: m})
    loops, left = [], set(range(len(chains)))
    while left:
        first = at = left.pop()
        loop: list[Piece] = []
        while True:
            loop += chains[at]
            after = follows[at]
            loop.append((line(tips[at][1], tips[after][0]), 0.0, 1.0))
            if after == first:
                break
            left.discard(after)
            at = after
        loops.append(loop)
    return loops


def _tip(piece: Piece, first: bool) -> Floats:
    curve, a, b = piece
    return np.asarray(curve.at(np.array([a if first else b]))[0])
