"""Runs of many short segments as few lines, arcs, circles and splines within a deviation.

From each place on, the longest line or arc within the deviation is looked for by doubling and halving; arcs run
through the two end places, with the one free number (how far their middle lies off the chord) by linear least
squares.  Splines run through as few of the places as keep within the deviation.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..lazy import later
from .strokes import Stroke

interpolate = later("scipy.interpolate")

Floats = NDArray[np.float64]
CORNER = 0.7  # rad by which a run may turn from one segment to the next before a spline is broken there
TRIES, FEW = 6, 14  # other starts of a ring, where it has that few strokes
WIDEST_ARC = 5.8  # rad: what turns further is a circle, or two arcs


@dataclass(frozen=True)
class Fitted:
    """strokes: what stands for the runs; off: the largest distance (mm) of a place from its stroke."""

    strokes: tuple[Stroke, ...]
    off: float


@dataclass(frozen=True)
class Wanted:
    """deviation: mm; arcs, splines: whether these may stand for segments; shortest: mm, what is shorter is left out."""

    deviation: float
    arcs: bool = True
    splines: bool = False
    shortest: float = 0.0


def fit(chains: Sequence[Floats], wanted: Wanted) -> Fitted:
    """chains: places (n, 2) in order; a closed one repeats its first place at the end."""
    strokes: list[Stroke] = []
    off = 0.0
    for chain in chains:
        length = float(np.hypot(*np.diff(chain, axis=0).T).sum())
        if len(chain) < 2 or length < max(wanted.shortest, 1e-9):
            continue
        found, away = _fit_one(chain, wanted)
        strokes += found
        off = max(off, away)
    return Fitted(tuple(strokes), off)


def _fit_one(chain: Floats, wanted: Wanted) -> tuple[list[Stroke], float]:
    closed = len(chain) > 3 and bool(np.hypot(*(chain[0] - chain[-1])) < 1e-9)
    if wanted.arcs and closed:
        circle = _circle(chain, wanted.deviation)
        if circle is not None:
            return circle
    if closed:
        chain = _from_a_corner(chain)
    if wanted.splines:
        return _splines(chain, wanted, closed)
    strokes, off, breaks = _run(chain, wanted)
    if closed:  # begun at another break, what runs over the start may be one piece, and fewer are needed
        for start in breaks[: TRIES if len(strokes) <= FEW else 1]:
            ring = np.roll(chain[:-1], -start, axis=0)
            other = _run(np.vstack([ring, ring[:1]]), wanted)
            if len(other[0]) < len(strokes):
                strokes, off, _ = other
    return strokes, off


def _run(chain: Floats, wanted: Wanted) -> tuple[list[Stroke], float, list[int]]:
    """Strokes one after the other from the first place, and where each ends."""
    strokes, off, breaks, at = [], 0.0, [], 0
    while at < len(chain) - 1:
        stroke, at, away = _longest(chain, at, wanted)
        strokes.append(stroke)
        breaks.append(at)
        off = max(off, away)
    return strokes, off, breaks


def _pair(row: Floats) -> tuple[float, float]:
    return float(row[0]), float(row[1])


def _circle(chain: Floats, deviation: float) -> tuple[list[Stroke], float] | None:
    """A ring that is one circle, by least squares (I. Kåsa, 1976)."""
    places = chain[:-1]
    if len(places) < 6:
        return None
    middle = places.mean(axis=0)
    rows = places - middle
    found = np.linalg.lstsq(np.column_stack([2 * rows, np.ones(len(rows))]), (rows**2).sum(axis=1), rcond=None)[0]
    centre = found[:2] + middle
    radius = float(np.sqrt(max(found[2] + found[:2] @ found[:2], 0.0)))
    off = float(np.abs(np.hypot(*(places - centre).T) - radius).max())
    turn = np.unwrap(np.arctan2(*(chain - centre).T[::-1]))
    if off > deviation or abs(abs(turn[-1] - turn[0]) - 2 * np.pi) > 1e-6:
        return None
    return [Stroke("circle", (_pair(centre),), radius)], off


def _from_a_corner(chain: Floats) -> Floats:
    """A ring begun where it turns most sharply, so that no long piece is cut at a chance place."""
    ring = chain[:-1]
    before, after = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    turn = np.abs(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1)))
    ring = np.roll(ring, -int(np.argmax(turn)), axis=0)
    return np.vstack([ring, ring[:1]])


def _longest(chain: Floats, start: int, wanted: Wanted) -> tuple[Stroke, int, float]:
    """The stroke from a place that reaches furthest; a line where both reach as far."""
    line_end = _reach(chain, start, lambda end: _line_off(chain[start : end + 1]) <= wanted.deviation)
    if wanted.arcs:
        arc_end = _reach(chain, start, lambda end: _arc(chain[start : end + 1], wanted.deviation) is not None, 3)
        if arc_end > line_end:
            found = _arc(chain[start : arc_end + 1], wanted.deviation)
            if found is not None:
                return found[0], arc_end, found[1]
    piece = chain[start : line_end + 1]
    return Stroke("line", (_pair(piece[0]), _pair(piece[-1]))), line_end, _line_off(piece)


def _reach(chain: Floats, start: int, fits: Callable[[int], bool], least: int = 1) -> int:
    """The last place up to which a form fits: by doubling, then halving."""
    last = len(chain) - 1
    if start + least > last:
        return start + 1
    good, step = start + 1, least
    while start + step <= last and fits(start + step):
        good, step = start + step, 2 * step
    low, high = good, min(start + step, last)
    if start + step > last and fits(last):
        return last
    while high - low > 1:
        middle = (low + high) // 2
        if fits(middle):
            low = middle
        else:
            high = middle
    return low


def _line_off(piece: Floats) -> float:
    way = piece[-1] - piece[0]
    size = float(np.hypot(*way))
    if size < 1e-12:
        return float(np.hypot(*(piece - piece[0]).T).max())
    rows = piece - piece[0]
    along = rows @ way / size
    off = np.abs(rows[:, 0] * way[1] - rows[:, 1] * way[0]) / size
    beyond = np.maximum(np.maximum(-along, along - size), 0.0)
    return float(np.hypot(off, beyond).max())


def _arc(piece: Floats, deviation: float) -> tuple[Stroke, float] | None:
    """The arc from end to end of a piece, where it keeps within the deviation."""
    a, b = piece[0], piece[-1]
    way = b - a
    size = float(np.hypot(*way))
    if size < 1e-9 or len(piece) < 4:
        return None
    across = np.array([-way[1], way[0]]) / size
    middle = (a + b) / 2
    rows = piece[1:-1] - middle
    # |p − c|² = |a − c|² with c = middle + t across:  |p|² − |a|² = 2 t p·across
    slopes = 2 * rows @ across
    square = float(slopes @ slopes)
    if square < 1e-18:
        return None
    t = float(slopes @ ((rows**2).sum(axis=1) - size**2 / 4) / square)
    centre = middle + t * across
    radius = float(np.hypot(*(a - centre)))
    if radius > 1e5:
        return None
    gap = np.hypot(*(piece - centre).T) - radius
    turn = np.unwrap(np.arctan2(*(piece - centre).T[::-1]))
    steps = np.diff(turn)
    chord = np.hypot(*np.diff(piece, axis=0).T)
    sagitta = float((chord**2).max() / (8 * radius))  # the segments themselves lie inside the arc
    off = float(np.abs(gap).max())
    if off > deviation or sagitta > max(8 * deviation, 0.02 * radius) or not (
        (steps > 0).all() or (steps < 0).all()
    ) or abs(turn[-1] - turn[0]) > WIDEST_ARC:  # fmt: skip
        return None
    ends = (_pair(a), _pair(b)) if turn[-1] > turn[0] else (_pair(b), _pair(a))
    return Stroke("arc", (_pair(centre), *ends), radius), off


def _splines(chain: Floats, wanted: Wanted, closed: bool) -> tuple[list[Stroke], float]:
    before, after = chain[1:-1] - chain[:-2], chain[2:] - chain[1:-1]
    turn = np.abs(np.arctan2(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0], (before * after).sum(axis=1)))
    breaks = [0, *(np.flatnonzero(turn > CORNER) + 1).tolist(), len(chain) - 1]
    strokes, off = [], 0.0
    for first, last in itertools.pairwise(breaks):
        piece = chain[first : last + 1]
        if _line_off(piece) <= wanted.deviation:
            strokes.append(Stroke("line", (_pair(piece[0]), _pair(piece[-1]))))
            off = max(off, _line_off(piece))
            continue
        stroke, away = _spline(piece, wanted.deviation)
        strokes.append(stroke)
        off = max(off, away)
    return strokes, off


def _spline(piece: Floats, deviation: float) -> tuple[Stroke, float]:
    """Through places evenly apart along the run, so many that all others keep within the deviation."""
    length = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(piece, axis=0).T))])
    count = 3
    while True:
        chosen = np.unique(np.searchsorted(length, np.linspace(0, length[-1], count + 1)).clip(0, len(piece) - 1))
        chosen[-1] = len(piece) - 1
        places = piece[chosen]
        spline = interpolate.CubicSpline(np.arange(len(chosen)), places)
        at = np.interp(length, length[chosen], np.arange(len(chosen)))
        gap, way = spline(at) - piece, spline(at, 1)
        across = np.abs(gap[:, 0] * way[:, 1] - gap[:, 1] * way[:, 0]) / (np.hypot(*way.T) + 1e-30)
        off = float(across.max())  # along the spline, a place may lie anywhere
        if off <= deviation or len(chosen) >= len(piece) or count > 400:
            return Stroke("spline", tuple(map(_pair, places))), off
        count = int(count * 1.5) + 1
