"""What is drawn on the flat, as matter to be taken from the folded sheet: square to it everywhere, also on bends."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from shapely.geometry import Polygon

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.boolean import combine
from ..kernel.shapes import Shape, parts_of
from ..kernel.wrapped import wrapped_prism
from ..local.surfaces import Floats
from ..sketch.loops import followed, polygon
from ..sketch.plane_curves import TURN, PlaneCurve
from .flat_curves import line
from .unfold import Flat, Laid

OVER = 1.0  # mm by which cutting tools stand over
LEAST = 1e-6  # mm², of a panel that a cut has to reach
POINTS = 16  # on a spline, for each quarter turn of an arc


def circle(middle: Floats, diameter: float) -> list[PlaneCurve]:
    r = diameter / 2
    return [PlaneCurve(0, "round", 0.0, TURN, middle, np.array([r, 0.0]), np.array([0.0, r]))]


def rectangle(middle: Floats, long: float, wide: float, turn: float) -> list[PlaneCurve]:
    a, b = _axes(turn)
    spots = [middle + u * long / 2 * a + v * wide / 2 * b for u, v in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    return [line(p, q) for p, q in zip(spots, [*spots[1:], spots[0]], strict=True)]


def slot(middle: Floats, long: float, wide: float, turn: float) -> list[PlaneCurve]:
    """long: over all.  Raises EditError for one that is wider than long."""
    if long <= wide:
        raise EditError("a slot is longer than wide", field="length", nearest=f"{2 * wide:.4g} mm")
    a, b = _axes(turn)
    r, half = wide / 2, (long - wide) / 2
    ends = [middle + s * half * a for s in (1, -1)]
    found = []
    for k, end in enumerate(ends):
        sense = 1.0 if k == 0 else -1.0
        start = turn + (-math.pi / 2 if k == 0 else math.pi / 2)
        found.append(PlaneCurve(0, "round", start, start + math.pi, end, np.array([r, 0.0]), np.array([0.0, r])))
        found.append(line(end + sense * r * b, ends[1 - k] + sense * r * b))
    return found


def _axes(turn: float) -> tuple[Floats, Floats]:
    c, s = math.cos(turn), math.sin(turn)
    return np.array([c, s]), np.array([-s, c])


def cut_tools(flat: Flat, loop: Sequence[PlaneCurve], only: int | None = None) -> list[Shape]:
    """only: the face of the one panel that is cut.  Raises EditError where the loop lies beside the flat, CannotDo on a
    conical bend."""
    area = Polygon(polygon(loop))
    found = []
    for laid in flat.panels.values():
        if only not in (None, laid.face) or laid.shape.intersection(area).area < LEAST:
            continue
        if laid.plan.kind == "plane":
            tool = _through_wall(flat, laid, loop)
        elif laid.plan.kind == "cylinder":
            tool = _through_bend(flat, laid, loop)
        else:
            raise CannotDo("a cut across a conical bend has no way yet; cut the folded part there")
        found += parts_of(tool, "solid")
    if not found:
        x0, y0, x1, y1 = flat.box
        room = f"{x0:.4g} to {x1:.4g} mm across and {y0:.4g} to {y1:.4g} mm up"
        raise EditError(f"that place lies beside the flat, which goes from {room}", field="at",
                        nearest=f"{(x0 + x1) / 2:.4g}, {(y0 + y1) / 2:.4g}")  # fmt: skip
    return found


def _through_wall(flat: Flat, laid: Laid, loop: Sequence[PlaneCurve]) -> Shape:
    plan, depth = laid.plan, flat.reading.panels[laid.face].depth

    def spot(place: Floats) -> tuple[float, float, float]:
        x, y, z = (laid.folded(place[None])[0] + OVER * plan.z).tolist()
        return x, y, z

    step = tuple((-(depth + 2 * OVER) * plan.z).tolist())
    if len(loop) == 1 and loop[0].closed:
        tool = build.cylinder(loop[0].radius, depth + 2 * OVER, spot(loop[0].centre), tuple((-plan.z).tolist()))
    else:
        corners, bulges = [], []
        for curve, back in followed(loop):
            first, last = (curve.last, curve.first) if back else (curve.first, curve.last)
            start, middle = curve.at(np.array([first, (first + last) / 2]))
            corners.append(spot(start))
            bulges.append(None if curve.kind == "line" else spot(middle))
        tool = build.extrude(build.outline(corners, bulges), step)
    slab = build.extrude(flat.reading.topology.index.get("face", laid.face), tuple((-depth * plan.z).tolist()))
    return combine("common", tool, [slab])[0]


def _through_bend(flat: Flat, laid: Laid, loop: Sequence[PlaneCurve]) -> Shape:
    plan, depth = laid.plan, flat.reading.panels[laid.face].depth
    inner = plan.radius if plan.inner else plan.radius - depth
    radii = (inner - min(OVER, inner / 2), inner + depth + OVER)
    sense, neutral = (-1.0 if plan.inner else 1.0), plan.radius + plan.shift
    pieces = []
    for curve, back in followed(loop):
        count = 2 if curve.kind == "line" else max(9, math.ceil((curve.last - curve.first) / (TURN / 4) * POINTS) + 1)
        ends = (curve.last, curve.first) if back else (curve.first, curve.last)
        whole = curve.kind != "line" and curve.closed
        spans = [ends] if not whole else [(ends[0], (ends[0] + ends[1]) / 2), ((ends[0] + ends[1]) / 2, ends[1])]
        for first, last in spans:
            places = (curve.at(np.linspace(first, last, count)) - laid.shift) @ laid.turn
            pieces.append(np.column_stack([plan.middle + sense * places[:, 0] / neutral, places[:, 1]]))
    tool = wrapped_prism(plan.origin, plan.x, plan.z, radii, pieces)
    heights = np.concatenate([p[:, 1] for p in pieces])
    return combine("common", tool, [_sector(laid, radii, float(heights.min()), float(heights.max()))])[0]


def _sector(laid: Laid, radii: tuple[float, float], low: float, high: float) -> Shape:
    """The room of the bend, from where it begins to where it ends."""
    plan = laid.plan
    start = plan.middle - plan.span / 2
    out = math.cos(start) * plan.x + math.sin(start) * plan.y
    rows = [(radii[0] / 2, low - OVER), (radii[1] + OVER, low - OVER), (radii[1] + OVER, high + OVER),
            (radii[0] / 2, high + OVER)]  # fmt: skip
    ring = [tuple((plan.origin + r * out + h * plan.z).tolist()) for r, h in rows]
    return build.revolve(build.outline(ring), tuple(plan.origin.tolist()), tuple(plan.z.tolist()), plan.span)
