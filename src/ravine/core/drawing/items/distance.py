"""Distances: between two things, chains, stacks from a common start, and the width of what is round seen from the
side."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ...errors import EditError
from ...local.surfaces import Floats
from ..anchors import Seen, measure_way
from ..ink import Pen
from ..lettering import HEIGHT, Run, below_base, upright, width_of_runs, write_runs
from .base import ABOVE, ARROW, EXTENSION, Native, Setting, Told, draws
from .values import plain_text, value_runs

STACK = 8.0  # mm between the lines of a stack
Span = tuple[Floats, Floats, Floats, str]  # feet on the paper, where its line runs, what it says
SMALL = 8.0  # mm, below which ends that two dimensions share get a dot


@draws("distance")
def distance(setting: Setting) -> Told:
    seen, asked = setting.seen, setting.word("way", "aligned")
    if len(seen) == 1 and seen[0].kind != "line":
        raise EditError("one straight edge, or two things, have a distance")
    way = measure_way(seen, asked)
    if len(seen) == 1:
        return _of_line(setting, seen[0], way)
    _check_level(setting, seen, asked)
    seen = [_rim(setting, k, s, way) for k, s in enumerate(seen)]
    rows = (
        sorted(seen, key=lambda s: float(s.at @ way)) if len(seen) > 2 and setting.word("layout") != "stack" else seen
    )
    spots = [float(s.at @ way) for s in rows]
    feet = [setting.paper(_foot(s, setting, way)) for s in rows]
    if len(rows) > 2 and setting.word("layout") == "stack":
        return _stack(setting, way, spots, feet)
    values = [abs(b - a) for a, b in itertools.pairwise(spots)]
    if min(values) < 1e-7:
        raise EditError("the two lie level with one another along what is measured",
                        [s.reference for s in rows])  # fmt: skip
    chain = len(values) > 1
    texts = []
    for k, value in enumerate(values):
        runs = value_runs(setting, value)
        texts.append(plain_text(runs))
        draw_span(setting.pen, feet[k], feet[k + 1], setting.at, way, runs, chain=chain)
    spans = [(*pair, setting.at, text) for pair, text in zip(itertools.pairwise(feet), texts, strict=True)]
    native = _native(setting, way, spans, values)
    return Told(values[0] if not chain else None, tuple(values), ", ".join(texts), native)


def _of_line(setting: Setting, line: Seen, way: Floats) -> Told:
    assert line.ends is not None
    if not line.level:
        raise EditError(f"{line.reference} runs into the paper in this view, so its length is not seen; measure it in "
                        "a view that it lies parallel to", [line.reference])  # fmt: skip
    value = abs(float((line.ends[1] - line.ends[0]) @ way))
    if value < 1e-7:
        raise EditError(f"{line.reference} has no length along that way", [line.reference])
    runs = value_runs(setting, value)
    p, q = (setting.paper(e) for e in line.ends)
    draw_span(setting.pen, p, q, setting.at, way, runs)
    text = plain_text(runs)
    return Told(value, (value,), text, _native(setting, way, [(p, q, setting.at, text)], [value]))


def _check_level(setting: Setting, seen: Sequence[Seen], asked: str) -> None:
    """Along the shortest way between two places the paper must not foreshorten it."""
    if asked in ("x", "y") or any(s.kind == "line" for s in seen):
        return
    depths = [s.depth for s in seen if s.depth is not None and s.kind == "point"]
    if len(depths) > 1 and max(depths) - min(depths) > 1e-6:
        raise EditError("the two do not lie level in this view, so their distance is foreshortened; measure it along x "
                        "or y, or in another view", [s.reference for s in seen])  # fmt: skip


def _rim(setting: Setting, number: int, seen: Seen, way: Floats) -> Seen:
    """The side of a round that is meant instead of its middle: rim0, rim1 … say low or high along the way."""
    side = {"low": -1.0, "high": 1.0}.get(setting.word(f"rim{number}"))
    if side is None or seen.radius is None or seen.kind != "round":
        return seen
    return replace(seen, kind="point", at=seen.at + side * seen.radius * way)


def _foot(seen: Seen, setting: Setting, way: Floats) -> Floats:
    """Where the extension line begins: the end of a line that is nearer to what is written."""
    if seen.kind != "line" or seen.ends is None:
        return seen.at
    gaps = [float(np.hypot(*(setting.paper(e) - setting.at))) for e in seen.ends]
    end = seen.ends[int(np.argmin(gaps))]
    return np.asarray(end + ((seen.at - end) @ way) * way)


def _stack(setting: Setting, way: Floats, spots: list[float], feet: list[Floats]) -> Told:
    order = sorted(range(1, len(spots)), key=lambda k: abs(spots[k] - spots[0]))
    side = np.array([-way[1], way[0]])
    out = side if float((setting.at - feet[0]) @ side) > 0 else -side
    values: list[float] = []
    spans: list[Span] = []
    for row, k in enumerate(order):
        value = abs(spots[k] - spots[0])
        if value < 1e-7:
            continue
        runs = value_runs(setting, value)
        values.append(value)
        middle = (feet[0] + feet[k]) / 2
        level = setting.at + row * STACK * out
        draw_span(setting.pen, feet[0], feet[k], level + ((middle - level) @ way) * way, way, runs)
        spans.append((feet[0], feet[k], level, plain_text(runs)))
    return Told(None, tuple(values), ", ".join(s[3] for s in spans), _native(setting, way, spans, values))


def _native(setting: Setting, way: Floats, spans: Sequence[Span], values: Sequence[float]) -> Native | None:
    """None where a break of the view lies between, as another program would measure what is on the paper, and where
    the text is boxed, which not every program draws."""
    if setting.word("role") == "exact":
        return None
    scale = setting.view.scale
    if any(abs(abs(float((q - p) @ way)) - scale * v) > 1e-6 for (p, q, _, _), v in zip(spans, values, strict=True)):
        return None
    return lambda space: native_distances(setting, space, way, spans)


def native_distances(setting: Setting, space: Any, way: Floats, spans: Sequence[Span]) -> None:
    override = {"dimlfac": 1 / (setting.view.scale * setting.unit)}
    for p, q, at, text in spans:
        found = space.add_linear_dim(
            base=at.tolist(), p1=p.tolist(), p2=q.tolist(), angle=math.degrees(math.atan2(way[1], way[0])),
            text=text, dimstyle="ISO129", override=override, dxfattribs={"layer": "dimensions"},
        )  # fmt: skip
        found.render()


def draw_span(
    pen: Pen, p: Floats, q: Floats, at: Floats, way: Floats, runs: Sequence[Run], chain: bool = False
) -> None:
    """One dimension line through `at` with its extension lines; p, q: feet on the paper."""
    if float((q - p) @ way) < 0:
        p, q = q, p
    side = np.array([-way[1], way[0]])
    a, b = (f + float((at - f) @ side) * side for f in (p, q))
    for foot, end in ((p, a), (q, b)):
        off = float((end - foot) @ side)
        if abs(off) > 0.2:
            pen.line(foot, end + math.copysign(EXTENSION, off) * side)
    long = float((b - a) @ way)
    wide = width_of_runs(runs)
    spot = float((at - a) @ way)
    inside = long >= wide + 2 * ARROW + 1
    lean = upright(math.atan2(way[1], way[0]))
    along = np.array([math.cos(lean), math.sin(lean)])
    up = np.array([-along[1], along[0]])
    pen.line(a, b)
    if chain and long < SMALL:
        pen.dot(a, 0.6)
        pen.dot(b, 0.6)
    elif long >= 2 * ARROW + 2:
        pen.arrow(a, -way)
        pen.arrow(b, way)
    else:
        for end, out in ((a, -1.0), (b, 1.0)):
            pen.arrow(end, -out * way)
            pen.line(end, end + out * 2 * ARROW * way)
    if chain and not inside:
        middle = (a + b) / 2 + (ABOVE + 1.6 * HEIGHT) * up
        write_runs(pen, runs, middle, "middle", lean)
        return
    half = wide / 2 + 0.5
    if inside and half + ARROW <= spot <= long - half - ARROW:
        middle = a + spot * way
    elif inside and -0.01 <= spot <= long:
        middle = a + min(max(spot, half + ARROW), long - half - ARROW) * way
    else:  # beside it, on the side where it was put
        out = max(spot - long, 2 * ARROW + half) if spot > long / 2 else min(spot, -2 * ARROW - half)
        middle = (b if spot > long / 2 else a) + out * way
        far = middle + math.copysign(half, out) * way
        pen.line(b if spot > long / 2 else a, far)
    write_runs(pen, runs, middle + (ABOVE + below_base(runs)) * up, "middle", lean)
