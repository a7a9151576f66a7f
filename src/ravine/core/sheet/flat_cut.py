"""What is drawn on the flat, as matter to be taken from the folded sheet: square to it everywhere, also on bends."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np
from shapely.geometry import Polygon

from ..errors import EditError
from ..kernel import build
from ..kernel.boolean import combine, single_solid
from ..kernel.shapes import Shape, parts_of
from ..kernel.wrapped import wrapped_on_cones, wrapped_prism
from ..local.surfaces import Floats
from ..sketch.loops import followed, polygon
from ..sketch.plane_curves import TURN, PlaneCurve
from .band import Piece, pieces_of, within
from .flat_curves import line
from .unfold import Flat, Laid

BESIDE = 0.3  # rad, beyond a bend, up to where a cut is wound round its axis
OVER = 1.0  # mm by which cutting tools stand over
LEAST = 1e-6  # mm², of a panel that a cut has to reach
SQUARE = 1e-7  # of an area, by which a strip may be off a rectangle
POINTS = 32  # on a spline, for each quarter turn of an arc


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
    """only: the face of the one panel that is cut.  Raises EditError where the loop lies beside the flat."""
    area = Polygon(polygon(loop))
    found = []
    for laid in flat.panels.values():
        if only not in (None, laid.face) or laid.shape.intersection(area).area < LEAST:
            continue
        if laid.plan.kind == "plane":
            tool = _through_wall(flat, laid, loop)
        else:
            tool = (_through_bend if laid.plan.kind == "cylinder" else _through_cone)(flat, laid, loop)
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
    plan, (inner, outer) = laid.plan, _radii(flat, laid)
    place, axis = _round_axis(laid)
    start, end = plan.middle - plan.span / 2, plan.middle + plan.span / 2
    loops = _near(laid, loop, place)
    heights = np.concatenate([place(curve.at(np.array(way))) for row in loops for curve, *way in row])[:, 1]
    far = float(np.ptp(polygon(loop) @ laid.turn[:, 1])) + OVER
    block = _round_block(axis, start, end - start, (inner / 2, outer + OVER),
                         (float(heights.min()) - far, float(heights.max()) + far))  # fmt: skip
    radii = (inner - min(OVER, inner / 2), outer + OVER)
    return combine("common", block, [wound(row, place, axis, radii) for row in loops])[0]


def _near(laid: Laid, loop: Sequence[PlaneCurve], place: Callable[[Floats], Floats]) -> list[list[Piece]]:
    """What lies near a bend: more of it would go round into itself."""
    half = laid.plan.span / 2 + min(BESIDE, (TURN - laid.plan.span) / 3)
    return within(loop, place, laid.plan.middle - half, laid.plan.middle + half)


def _through_cone(flat: Flat, laid: Laid, loop: Sequence[PlaneCurve]) -> Shape:
    """Square to the sheet lies, on a cone that is offset by d, the same place d / tan(slope) further from its apex."""
    plan, depth = laid.plan, flat.reading.panels[laid.face].depth
    sense, sine, cosine = (-1.0 if plan.inner else 1.0), math.sin(plan.slope), math.cos(plan.slope)

    def place(places: Floats) -> Floats:
        """Angle, and distance from the apex of the neutral cone."""
        own = (places - laid.shift) @ laid.turn
        turn = plan.middle - sense * np.arctan2(own[:, 1], own[:, 0]) / sine
        return np.column_stack([turn, np.hypot(*own.T)])

    loops = _near(laid, loop, place)
    far = np.concatenate([place(c.at(np.linspace(a, b, 9))) for row in loops for c, a, b in row])[:, 1]
    low, high = (0.0, depth) if plan.inner else (-depth, 0.0)  # of the sheet, off the face and away from the axis
    over = min(OVER, 0.5 * float(far.min()) * math.tan(plan.slope) + low - plan.shift)
    offsets = (low - over, high + OVER)
    rows, apexes, ring = [], [], []
    for k, offset in enumerate(offsets):
        more, apex = (offset - plan.shift) / math.tan(plan.slope), plan.origin - offset / sine * plan.z
        rows.append([[p + np.array([0.0, more]) for p in _sampled(row, place, straight=False)] for row in loops])
        apexes.append(apex)
        ends = (float(far.min()) - over / 2, float(far.max()) + OVER)
        for slant in ends if k == 0 else ends[::-1]:
            ring.append(((slant + more) * sine, (slant + more) * cosine + float((apex - plan.origin) @ plan.z)))
    start = plan.middle - plan.span / 2
    out = math.cos(start) * plan.x + math.sin(start) * plan.y
    corners = [tuple((plan.origin + r * out + h * plan.z).tolist()) for r, h in ring]
    block = build.revolve(build.outline(corners), tuple(plan.origin.tolist()), tuple(plan.z.tolist()), plan.span)
    tools = [wrapped_on_cones((apexes[0], apexes[1]), plan.x, plan.z, plan.slope, pair)
             for pair in zip(*rows, strict=True)]  # fmt: skip
    return combine("common", block, tools)[0]


def wound_panel(flat: Flat, laid: Laid, over: float) -> Shape:
    """The room of a round bend within its outer border, and mm over it on both sides."""
    inner, outer = _radii(flat, laid)
    place, axis = _round_axis(laid)
    return wound_strip(laid.loops[0], place, axis, (inner - min(over, inner / 2), outer + over))


def wound_strip(
    loop: Sequence[PlaneCurve], place: Callable[[Floats], Floats], axis: Axis, radii: tuple[float, float]
) -> Shape:
    """As wound(), of a loop between two lines along the axis: of a rectangle with exact planes and cylinders."""
    rows = place(polygon(loop))
    (start, low), (end, high) = rows.min(axis=0).tolist(), rows.max(axis=0).tolist()
    block = _round_block(axis, start, end - start, radii, (low, high))
    whole = (end - start) * (high - low)
    if abs(Polygon(rows).area - whole) < SQUARE * whole:
        return block
    roomy = (radii[0] - min(OVER, radii[0] / 2), radii[1] + OVER)
    return single_solid(combine("common", block, [wound(pieces_of(loop), place, axis, roomy)], merge=False)[0])


def _round_block(
    axis: Axis, start: float, span: float, radii: tuple[float, float], heights: tuple[float, float]
) -> Shape:
    """Between two angles, two radii and two heights about an axis."""
    middle, x, z = axis
    out = math.cos(start) * x + math.sin(start) * np.cross(z, x)
    (inner, outer), (low, high) = radii, heights
    corners = [(inner, low), (outer, low), (outer, high), (inner, high)]
    ring = [tuple((middle + r * out + h * z).tolist()) for r, h in corners]
    return build.revolve(build.outline(ring), tuple(middle.tolist()), tuple(z.tolist()), span)


def _radii(flat: Flat, laid: Laid) -> tuple[float, float]:
    depth = flat.reading.panels[laid.face].depth
    inner = laid.plan.radius if laid.plan.inner else laid.plan.radius - depth
    return inner, inner + depth


Axis = tuple[Floats, Floats, Floats]  # a point of it, the direction of the angle 0, and its own


def _round_axis(laid: Laid) -> tuple[Callable[[Floats], Floats], Axis]:
    """What takes places of the flat to angle (rad) and height, and the axis of the bend."""
    plan = laid.plan
    sense, neutral = (-1.0 if plan.inner else 1.0), plan.radius + plan.shift

    def place(places: Floats) -> Floats:
        own = (places - laid.shift) @ laid.turn
        return np.column_stack([plan.middle + sense * own[:, 0] / neutral, own[:, 1]])

    return place, (plan.origin, plan.x, plan.z)


def wound(
    loop: Sequence[Piece],
    place: Callable[[Floats], Floats],
    axis: Axis,
    radii: tuple[float, float],
) -> Shape:
    """A loop of the flat round a cylinder, between two radii.  place: of the flat to angle (rad) and height."""
    return wrapped_prism(*axis, radii, _sampled(loop, place, straight=True))


def _sampled(loop: Sequence[Piece], place: Callable[[Floats], Floats], straight: bool) -> list[Floats]:
    """Places along each piece, of which the next begins where the last ended; straight: lines stay such there."""
    pieces: list[Floats] = []
    for curve, *ends in loop:
        quarters = 1.0 if curve.kind == "line" else abs(ends[1] - ends[0]) / (TURN / 4)
        count = 2 if curve.kind == "line" and straight else max(17, math.ceil(quarters * POINTS) + 1)
        middle = [sum(ends) / 2] if len(loop) == 1 else []  # a closed curve in two
        for first, last in pairwise([ends[0], *middle, ends[1]]):
            pieces.append(place(curve.at(np.linspace(first, last, count))))
    for before, piece in zip([pieces[-1], *pieces], pieces, strict=False):
        piece[0] = before[-1]  # corners of a part may be a little apart
    return pieces
