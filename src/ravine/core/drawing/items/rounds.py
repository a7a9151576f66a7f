"""Radius and diameter, on a round or on what is round seen from the side."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from ...errors import EditError
from ...local.surfaces import Floats
from ..anchors import Seen
from ..ink import Pen, beside
from ..lettering import HEIGHT, Run, below_base, upright, width_of_runs, write_runs
from .base import ABOVE, ARROW, Setting, Told, draws
from .distance import draw_span, native_distances
from .values import plain_text, value_runs

ROW = 1.6  # of the height of letters, from row to row


@draws("radius")
def radius(setting: Setting) -> Told:
    seen = _round(setting)
    assert seen.radius is not None
    runs = value_runs(setting, seen.radius, "R")
    middle = setting.paper(seen.at)
    reach = seen.radius * setting.view.scale
    tip = _rim(middle, reach, setting.at)
    outward = float(np.hypot(*(setting.at - middle))) > reach
    leader(setting.pen, tip, setting.at, [runs], arrow_from=None if outward else middle)
    return Told(
        seen.radius, (seen.radius,), plain_text(runs), lambda space: _native(setting, space, seen, plain_text(runs))
    )


@draws("diameter")
def diameter(setting: Setting) -> Told:
    seen = setting.seen[0]
    if seen.kind == "line" and seen.wide is not None:
        return _from_the_side(setting, seen)
    seen = _round(setting)
    assert seen.radius is not None
    runs = value_runs(setting, 2 * seen.radius, "⌀")
    middle, reach = setting.paper(seen.at), seen.radius * setting.view.scale
    if float(np.hypot(*(setting.at - middle))) < reach and 2 * reach > width_of_runs(runs) + 2 * ARROW + 2:
        _across(setting.pen, middle, reach, setting.at, runs)
    else:
        leader(setting.pen, _rim(middle, reach, setting.at), setting.at, [runs])
    return Told(2 * seen.radius, (2 * seen.radius,), plain_text(runs),
                lambda space: _native(setting, space, seen, plain_text(runs), True))  # fmt: skip


def _round(setting: Setting) -> Seen:
    seen = setting.seen[0]
    if seen.radius is None or seen.kind == "line":
        raise EditError(f"{seen.reference} is not round as it is seen here; pick a circle, an arc or a round face",
                        [seen.reference])  # fmt: skip
    return seen


def _from_the_side(setting: Setting, seen: Seen) -> Told:
    """Of a shaft or bore between its two outlines, or of a circle seen edge-on."""
    assert seen.wide is not None
    assert seen.ends is not None
    edge_on = seen.reference.kind == "edge"
    way = seen.way if edge_on else np.array([-seen.way[1], seen.way[0]])
    if edge_on:
        p, q = (setting.paper(e) for e in seen.ends)
    else:
        assert seen.axis is not None
        gaps = [float(np.hypot(*(setting.paper(e) - setting.at))) for e in seen.axis]
        end = seen.axis[int(np.argmin(gaps))]
        p, q = (setting.paper(end + s * seen.wide / 2 * way) for s in (-1, 1))
    runs = value_runs(setting, seen.wide, "⌀")
    draw_span(setting.pen, p, q, setting.at, way, runs)
    text = plain_text(runs)
    spans = [(p, q, setting.at, text)]
    return Told(seen.wide, (seen.wide,), text, lambda space: native_distances(setting, space, way, spans))


def _rim(middle: Floats, reach: float, at: Floats) -> Floats:
    off = at - middle
    size = math.hypot(*off)
    way = off / size if size > 1e-9 else np.array([math.sqrt(0.5), math.sqrt(0.5)])
    return np.asarray(middle + reach * way)


def _across(pen: Pen, middle: Floats, reach: float, at: Floats, runs: Sequence[Run]) -> None:
    off = at - middle
    lean = upright(math.atan2(off[1], off[0])) if np.hypot(*off) > 0.2 * reach else math.radians(45)
    way = np.array([math.cos(lean), math.sin(lean)])
    up = np.array([-way[1], way[0]])
    pen.line(middle - reach * way, middle + reach * way)
    pen.arrow(middle - reach * way, -way)
    pen.arrow(middle + reach * way, way)
    write_runs(pen, runs, middle + (ABOVE + below_base(runs)) * up, "middle", lean)


def leader(pen: Pen, tip: Floats, at: Floats, rows: Sequence[Sequence[Run]], arrow_from: Floats | None = None,
           end: str = "arrow") -> None:  # fmt: skip
    """A line from what is meant to `at`, a level landing there, and rows of words: the first above it, the others
    below.

    arrow_from: where the arrow comes from, where that is not `at`; end: arrow, dot or none."""
    wide = max(width_of_runs(r) for r in rows)
    right = at[0] >= tip[0] - 1e-9
    far = at + np.array([wide + 1.0, 0.0]) * (1 if right else -1)
    pen.line(tip, at)
    pen.line(at, far)
    source = at if arrow_from is None else arrow_from
    off = tip - source
    if end == "arrow" and math.hypot(*off) > 1e-6:
        pen.arrow(tip, off / math.hypot(*off))
        if arrow_from is not None:
            pen.line(arrow_from, tip)
    elif end == "dot":
        pen.dot(tip, 0.6)
    start = np.array([min(at[0], far[0]) + 0.5, at[1]])
    write_runs(pen, rows[0], beside(start, 0.0, ABOVE), "left")
    for k, row in enumerate(rows[1:], 1):
        write_runs(pen, row, beside(start, 0.0, -ROW * HEIGHT * k + 0.25 * HEIGHT), "left")


def _native(setting: Setting, space: Any, seen: Seen, text: str, whole: bool = False) -> None:
    assert seen.radius is not None
    middle, reach = setting.paper(seen.at), seen.radius * setting.view.scale
    off = setting.at - middle
    more = {
        "center": middle.tolist(), "radius": reach, "angle": math.degrees(math.atan2(off[1], off[0])),
        "location": setting.at.tolist(), "text": text, "dimstyle": "ISO129",
        "override": {"dimlfac": 1 / (setting.view.scale * setting.unit)}, "dxfattribs": {"layer": "dimensions"},
    }  # fmt: skip
    (space.add_diameter_dim(**more) if whole else space.add_radius_dim(**more)).render()
