"""The lines of a view: what is seen and what is hidden, each place drawn once, by the line that matters most there.

A line beneath another is left out.  Straight ones lie on one another where direction and offset agree, rounds where
middle and axes do; then stretches are compared by rank: seen before hidden, sharp before smooth.
"""

from __future__ import annotations

import itertools
import math
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..kernel.carriers import curve_points
from ..kernel.hidden_lines import TracedLine, traced_lines
from ..kernel.shapes import Shape, ShapeIndex
from ..local.surfaces import Floats
from ..sketch.plane_curves import TURN, ZERO, PlaneCurve
from .projection import ViewFrame, seen_curve
from .screen import Screen

MEETS = 1e-4  # mm, within which lines lie on one another
SHORT = 1e-3  # mm, stretches below which are not drawn


@dataclass(frozen=True, eq=False)
class ViewLine:
    """curve: mm in the view's plane; source: number of the shape, whether it is an edge (else the face whose outline it
    is), number there."""

    curve: PlaneCurve
    visible: bool
    smooth: bool
    shape: int
    edge: bool
    number: int

    @property
    def rank(self) -> int:
        return 2 * (not self.visible) + self.smooth

    @property
    def source(self) -> tuple[int, bool, int]:
        return self.shape, self.edge, self.number


def lines_of(
    shapes: Sequence[Shape], frame: ViewFrame, hidden: bool = False, smooth: bool = False,
    behind: Screen | None = None,
) -> list[ViewLine]:  # fmt: skip
    """hidden, smooth: whether lines that are hidden, and edges without a kink, are wanted; behind: what else stands
    before them."""
    traced = traced_lines([ShapeIndex(s) for s in shapes], frame.eye, frame.right)
    stretches = [s for row in traced if smooth or not row.smooth for s in _stretches(row, hidden)]
    if behind is not None:
        stretches = _past(stretches, behind, hidden)
    return drawn_once(line for s in stretches if (line := _line(*s, frame)) is not None)


Stretch = tuple[TracedLine, float, float, bool]  # from, to by its parameter, whether it is seen


def _stretches(row: TracedLine, hidden: bool) -> list[Stretch]:
    covered = [(a, b, True) for a, b in sorted(row.seen)]
    if hidden and not row.smooth:
        at = row.first
        for a, b, _ in [*covered, (row.last, row.last, True)]:
            if a - at > 1e-9:
                covered.append((at, a, False))
            at = max(at, b)
    return [(row, a, b, visible) for a, b, visible in covered]


def _past(stretches: list[Stretch], screen: Screen, hidden: bool) -> list[Stretch]:
    """Those that are seen, as far as they are seen past triangles."""
    seen = [s for s in stretches if s[3] and s[0].curve.kind != "none"]
    longs = [float(np.linalg.norm(np.diff(curve_points(row.curve, np.linspace(a, b, 9)), axis=0), axis=1).sum())
             for row, a, b, _ in seen]  # fmt: skip

    def at(of: np.ndarray, share: Floats) -> Floats:
        places = np.zeros((len(of), 3))
        for k in np.unique(of):
            row, a, b, _ = seen[k]
            places[of == k] = curve_points(row.curve, a + share[of == k] * (b - a))
        return places

    found = [s for s in stretches if not s[3]]
    for k, low, high, free in screen.runs(longs, at):
        row, a, b, _ = seen[k]
        if free or (hidden and not row.smooth):
            found.append((row, a + low * (b - a), a + high * (b - a), free))
    return found


def _line(row: TracedLine, a: float, b: float, visible: bool, frame: ViewFrame) -> ViewLine | None:
    curve = seen_curve(row.curve, a, b, frame, outline=row.edge is None)
    if curve is None:
        return None
    number = row.edge if row.edge is not None else row.face
    return ViewLine(curve, visible, row.smooth, row.shape, row.edge is not None, number)


def drawn_once(lines: Iterable[ViewLine]) -> list[ViewLine]:
    straight: list[ViewLine] = []
    rounds: list[ViewLine] = []
    rest: list[ViewLine] = []
    for line in lines:
        {"line": straight, "spline": rest}.get(line.curve.kind, rounds).append(line)
    found: list[ViewLine] = []
    for row in _on_one_line(straight):
        found += _laid(row)
    for row in _on_one_round(rounds):
        found += _laid(row, TURN)
    return found + _apart(rest)


def joined(lines: Iterable[ViewLine]) -> list[PlaneCurve]:
    """Straight ones that lie on one another or meet end to end, as one each."""
    found = []
    for row in _on_one_line(list(lines)):
        spans: list[list[float]] = []
        for low, high in sorted((one.low, one.high) for one in row):
            if spans and low < spans[-1][1] + MEETS:
                spans[-1][1] = max(spans[-1][1], high)
            else:
                spans.append([low, high])
        found += [replace(row[0].carrier, first=low, last=high) for low, high in spans]
    return found


@dataclass(frozen=True, eq=False)
class _Laid:
    """A line with where it runs on its carrier: from low to high."""

    line: ViewLine
    carrier: PlaneCurve
    low: float
    high: float


def _on_one_line(lines: list[ViewLine]) -> list[list[_Laid]]:
    """Groups of lines on one carrier, which runs by mm from its foot."""
    if not lines:
        return []
    ways = np.array([li.curve.x for li in lines])
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    ways[(ways[:, 0] < -1e-7) | ((np.abs(ways[:, 0]) <= 1e-7) & (ways[:, 1] < 0))] *= -1
    starts = np.array([li.curve.centre for li in lines])
    offsets = ways[:, 0] * starts[:, 1] - ways[:, 1] * starts[:, 0]
    reach = max(1.0, float(np.abs(starts).max()))
    groups = []
    for row in _near(np.arange(len(lines)), np.arctan2(ways[:, 1], ways[:, 0]), MEETS / reach):
        for same in _near(row, offsets, MEETS):
            way = ways[same[0]]
            carrier = PlaneCurve(0, "line", 0.0, 1.0, offsets[same[0]] * np.array([-way[1], way[0]]), way, ZERO)
            laid = []
            for k in same:
                ends = sorted(((starts[k] @ way), (starts[k] + lines[k].curve.x) @ way))
                laid.append(_Laid(lines[k], carrier, float(ends[0]), float(ends[1])))
            groups.append(laid)
    return groups


def _on_one_round(lines: list[ViewLine]) -> list[list[_Laid]]:
    """The carrier is that of the first, its parameter an angle; all run the same way round."""
    groups: dict[tuple, list[_Laid]] = defaultdict(list)
    carriers: dict[tuple, PlaneCurve] = {}
    for line in lines:
        c = line.curve
        key = next((k for k in _keys(c) if k in carriers), None)
        if key is None:
            key = _keys(c)[0]
            carriers[key] = c
        start, end = c.at(np.array([c.first, c.last]))
        carrier = carriers[key]
        low = _angle(carrier, start)
        span = c.last - c.first
        high = low + span if span > TURN - 1e-9 else low + ((_angle(carrier, end) - low) % TURN or span)
        groups[key].append(_Laid(line, carrier, low, high))
    return list(groups.values())


def _keys(c: PlaneCurve) -> list[tuple]:
    """Of the same round: middle and the numbers of its form (which do not hang on where its parameter begins), in the
    neighbouring cells too."""
    form = np.outer(c.x, c.x) + np.outer(c.y, c.y)
    size = math.sqrt(float(np.trace(form)))
    numbers = np.array([*c.centre, form[0, 0] / size, form[0, 1] / size, form[1, 1] / size]) / (10 * MEETS)
    base = np.round(numbers).astype(int)
    keys = [tuple(base.tolist())]
    for k in np.flatnonzero(np.abs(np.abs(numbers - np.floor(numbers)) - 0.5) < 0.3):
        other = base.copy()
        other[k] += 1 if numbers[k] > base[k] else -1
        keys.append(tuple(other.tolist()))
    return keys


def _angle(carrier: PlaneCurve, place: Floats) -> float:
    off = place - carrier.centre
    x, y = carrier.x, carrier.y
    return math.atan2(float(off @ y) / float(y @ y), float(off @ x) / float(x @ x)) % TURN


def _near(rows: np.ndarray, values: Floats, within: float) -> list[np.ndarray]:
    """Split where sorted values jump."""
    order = rows[np.argsort(values[rows], kind="stable")]
    return np.split(order, np.flatnonzero(np.diff(values[order]) > within) + 1)


def _laid(rows: list[_Laid], turn: float = 0.0) -> list[ViewLine]:
    """turn: of carriers that come back to where they began."""
    spread = []
    for row in rows:
        if not turn or row.high <= turn:
            spread.append((row.low, row.high, row))
        elif row.high - row.low >= turn - 1e-9:
            spread.append((0.0, turn, row))
        else:
            spread += [(row.low, turn, row), (0.0, row.high - turn, row)]
    unit = float(np.hypot(*rows[0].carrier.x)) if turn else 1.0
    slack = MEETS / unit
    marks = sorted({v for a, b, _ in spread for v in (a, b)})
    merged = [marks[0]]
    for mark in marks[1:]:
        if mark - merged[-1] > slack:
            merged.append(mark)
    chosen: list[tuple[float, float, ViewLine]] = []
    order = sorted(spread, key=lambda s: (s[2].line.rank, s[2].line.source))
    for low, high in itertools.pairwise(merged):
        middle = (low + high) / 2
        best = next((s[2].line for s in order if s[0] <= middle <= s[1]), None)
        if best is None:
            continue
        if chosen and abs(chosen[-1][1] - low) <= slack and _same(chosen[-1][2], best):
            chosen[-1] = (chosen[-1][0], high, best)
        else:
            chosen.append((low, high, best))
    goes_round = turn and len(chosen) > 1 and chosen[0][0] <= slack and chosen[-1][1] >= turn - slack
    if goes_round and _same(chosen[0][2], chosen[-1][2]):
        last = chosen.pop()
        chosen[0] = (last[0] - turn, chosen[0][1], chosen[0][2])
    carrier = rows[0].carrier
    return [replace(line, curve=_cut(carrier, low, high, turn)) for low, high, line in chosen
            if (high - low) * unit > SHORT]  # fmt: skip


def _same(a: ViewLine, b: ViewLine) -> bool:
    return a.rank == b.rank and a.source == b.source


def _cut(carrier: PlaneCurve, low: float, high: float, turn: float) -> PlaneCurve:
    if not turn:
        return PlaneCurve(0, "line", 0.0, 1.0, carrier.centre + low * carrier.x, (high - low) * carrier.x, ZERO)
    return replace(carrier, first=low, last=high)


def _apart(lines: list[ViewLine]) -> list[ViewLine]:
    """Splines that lie on one another: the one of better rank is kept."""
    kept: list[ViewLine] = []
    known: set[tuple] = set()
    for line in sorted(lines, key=lambda li: li.rank):
        c = line.curve
        at = c.at(np.array([c.first, (c.first + c.last) / 2, c.last]))
        ends = sorted(map(tuple, np.round(at[[0, 2]], 3).tolist()))
        key = (*ends, *np.round(at[1], 3).tolist())
        if key not in known:
            known.add(key)
            kept.append(line)
    return kept
