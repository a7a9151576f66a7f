"""Chamfers, datums, geometrical tolerances, surfaces, edges of undefined shape, welds, centre lines, notes and
balloons."""

from __future__ import annotations

import math

import numpy as np

from ...bill.rows import numbers_of
from ...errors import EditError
from ...local.surfaces import Floats
from ..anchors import Seen
from ..ink import CAP, beside
from ..lettering import HEIGHT, Run, width_of_runs, write_runs
from ..signs import FORM, TOLERANCES
from .base import ABOVE, Setting, Told, draws
from .rounds import ROW, leader
from .values import plain_text

BEYOND = 3.0  # mm that centre lines reach beyond what they are of
BALLOON = 5.0  # mm, radius
FRAME = 2.0  # of the height of letters, a tolerance frame


def foot_on(setting: Setting, seen: Seen) -> tuple[Floats, Floats]:
    """On the sheet: the place of what is meant that is nearest to where the item stands, and the direction that leads
    straight away from it there."""
    at = setting.at
    if seen.kind == "round" and seen.radius is not None:
        middle = setting.paper(seen.at)
        off = at - middle
        way = off / np.hypot(*off) if np.hypot(*off) > 1e-9 else np.array([0.0, 1.0])
        return middle + seen.radius * setting.view.scale * way, way
    if seen.kind == "line" and seen.ends is not None:
        a, b = (setting.paper(e) for e in seen.ends)
        along = (b - a) / np.hypot(*(b - a))
        reach = float(np.clip((at - a) @ along, 0, np.hypot(*(b - a))))
        foot = a + reach * along
        side = np.array([-along[1], along[0]])
        return foot, side if float((at - foot) @ side) >= 0 else -side
    place = setting.paper(seen.at)
    off = at - place
    return place, off / np.hypot(*off) if np.hypot(*off) > 1e-9 else np.array([0.0, 1.0])


@draws("chamfer")
def chamfer(setting: Setting) -> Told:
    seen = setting.seen[0]
    if seen.kind != "line" or seen.ends is None or not seen.level:
        raise EditError("a chamfer is noted on its sloping edge, in a view that shows it from the side")
    x, y = np.abs(seen.ends[1] - seen.ends[0])
    if min(x, y) < 1e-6:
        raise EditError(f"{seen.reference} does not slope in this view", [seen.reference])
    angle = math.degrees(math.atan2(y, x))
    legs = setting.number(float(min(x, y)) if abs(x - y) < 1e-6 else float(x))
    runs = [Run(setting.word("before"))] if setting.word("before") else []
    runs.append(Run(f"{legs} × {angle:.2f}".rstrip("0").rstrip(".") + "°"))
    foot, _ = foot_on(setting, seen)
    leader(setting.pen, foot, setting.at, [runs])
    return Told(float(x), (float(x),), plain_text(runs))


@draws("datum")
def datum(setting: Setting) -> Told:
    letter = setting.word("letter", "A")
    foot, way = foot_on(setting, setting.seen[0])
    pen, side = setting.pen, np.array([-way[1], way[0]])
    pen.fill([foot + 1.75 * side, foot - 1.75 * side, foot + 3.0 * way])
    middle = setting.at
    if np.hypot(*(middle - foot)) < 9.0:
        middle = foot + 9.0 * way
    half = HEIGHT
    off = middle - foot
    pen.line(foot + 3.0 * way, middle - half * off / max(abs(off[0]), abs(off[1])))
    pen.box(middle - half, middle + half)
    pen.text(letter, middle - (0.0, HEIGHT / 2), HEIGHT, "middle")
    return Told(text=letter)


@draws("tolerance")
def tolerance(setting: Setting) -> Told:
    kind, value = setting.word("characteristic", "position"), setting.word("value", "0.1")
    if kind not in TOLERANCES:
        raise EditError(f"there is no tolerance of {kind}", nearest=", ".join(TOLERANCES))
    datums = [d for d in setting.word("datums").replace(" ", "").split(",") if d]
    if kind in FORM and datums:
        raise EditError(f"{kind} is a tolerance of form and refers to no datum", nearest=f"{kind} {value}")
    zone = [Run("⌀" + value if setting.word("zone") == "round" else value)]
    if setting.word("modifier"):
        zone.append(Run(setting.word("modifier"), around="circle"))
    cells = [[Run(sign=kind)], zone, *([Run(d)] for d in datums)]
    wide = [max(width_of_runs(c) + 0.8 * HEIGHT, FRAME * HEIGHT) for c in cells]
    foot, _ = foot_on(setting, setting.seen[0])
    pen, high = setting.pen, FRAME * HEIGHT
    right = setting.at[0] >= foot[0]
    corner = setting.at - (0.0 if right else sum(wide), high / 2)
    pen.box(corner, beside(corner, sum(wide), high))
    x = corner[0]
    for cell, size in zip(cells, wide, strict=True):
        if x > corner[0]:
            pen.line((x, corner[1]), (x, corner[1] + high))
        write_runs(pen, cell, (x + size / 2, corner[1] + (high - HEIGHT) / 2), "middle")
        x += size
    start = setting.at
    pen.line(foot, start)
    off = foot - start
    if np.hypot(*off) > 1e-6:
        pen.arrow(foot, off / np.hypot(*off))
    return Told(text=" ".join([kind, plain_text(zone), *datums]))


@draws("surface")
def surface(setting: Setting) -> Told:
    """The sign of ISO 21920-1: removal of matter asked for, forbidden, or left open."""
    text, how = setting.word("value", "Ra 3.2"), setting.word("removal", "asked")
    foot, way = foot_on(setting, setting.seen[0])
    pen = setting.pen
    far = float(np.hypot(*(setting.at - foot))) > 14.0
    if far:
        pen.line(foot, setting.at)
        pen.arrow(foot, (foot - setting.at) / np.hypot(*(foot - setting.at)))
        pen.line(setting.at, beside(setting.at, 10.0, 0.0))
        foot, way = beside(setting.at, 4.0, 0.0), np.array([0.0, 1.0])
    right = np.array([way[1], -way[0]])
    h, lean_of = 1.4 * HEIGHT, 1 / math.tan(math.radians(60))

    def place(u: float, v: float) -> Floats:
        return np.asarray(foot + u * right + v * way)

    tip = 2 * h * lean_of
    pen.path([place(-h * lean_of, h), place(0, 0), place(tip, 2 * h)])
    if how == "asked":
        pen.line(place(-h * lean_of, h), place(h * lean_of, h))
    elif how == "forbidden":
        pen.arc(place(0, 0.68 * h), 0.32 * h)
    wide = width_of_runs([Run(text)], 0.8 * HEIGHT)
    pen.line(place(tip, 2 * h), place(tip + wide + 1.5, 2 * h))
    lean = math.atan2(right[1], right[0])
    if abs(lean) > math.pi / 2 + 1e-6:  # readable from below or from the right
        write_runs(pen, [Run(text)], place(tip + 0.8 + wide, 2 * h - 0.6), "left", lean + math.pi, 0.8 * HEIGHT)
    else:
        write_runs(pen, [Run(text)], place(tip + 0.8, 2 * h - 1.2 * HEIGHT), "left", lean, 0.8 * HEIGHT)
    return Told(text=text)


@draws("edges")
def edges(setting: Setting) -> Told:
    """The state of an edge of undefined shape (ISO 13715): + burr allowed, − rounded or broken, in mm."""
    text = setting.word("value", "−0.3").replace("-", "−")
    foot, _ = foot_on(setting, setting.seen[0])
    pen, at = setting.pen, setting.at
    pen.line(foot, at)
    off = foot - at
    if np.hypot(*off) > 1e-6:
        pen.arrow(foot, off / np.hypot(*off))
    right = 1.0 if at[0] >= foot[0] else -1.0
    corner = beside(at, right * 2.0, 0.0)
    pen.path([at, corner, beside(corner, 0.0, 1.6 * HEIGHT)])
    pen.line(corner, beside(corner, right * 1.6 * HEIGHT, 0.0))
    write_runs(pen, [Run(text)], beside(corner, right * 0.6, 0.6), "left" if right > 0 else "right")
    return Told(text=text)


WELDS = ("fillet", "square", "v", "bevel", "spot")


@draws("weld")
def weld(setting: Setting) -> Told:
    """An arrow, its line, the sign and sizes of the weld (ISO 2553, system A: the broken line is the other side)."""
    kind, size, long = setting.word("joint", "fillet"), setting.word("size", "a3"), setting.word("length")
    if kind not in WELDS:
        raise EditError(f"there is no {kind} weld here", nearest=", ".join(WELDS))
    foot, _ = foot_on(setting, setting.seen[0])
    pen, at = setting.pen, setting.at
    pen.line(foot, at)
    off = foot - at
    if np.hypot(*off) > 1e-6:
        pen.arrow(foot, off / np.hypot(*off))
    wide = width_of_runs([Run(size)]) + 1.6 * HEIGHT + width_of_runs([Run(long)]) + 5.0
    right = 1.0 if at[0] >= foot[0] else -1.0
    low = np.array([at[0] if right > 0 else at[0] - wide, at[1]])
    pen.line(low, beside(low, wide, 0.0))
    pen.line(low - (0.0, 1.2), beside(low, wide, -1.2), "hidden")
    write_runs(pen, [Run(size)], beside(low, 1.0, ABOVE))
    x = low[0] + width_of_runs([Run(size)]) + 2.0
    sign = {
        "fillet": [(0.0, 0.0), (0.0, 1.1), (1.1, 0.0)], "square": [(0.2, 0.0), (0.2, 1.1)],
        "v": [(-0.1, 1.1), (0.5, 0.0), (1.1, 1.1)], "bevel": [(0.2, 1.1), (0.2, 0.0), (1.1, 1.1)], "spot": [],
    }[kind]  # fmt: skip
    pen.path([(x + u * HEIGHT, low[1] + v * HEIGHT) for u, v in sign])
    if kind == "square":
        pen.line((x + 0.6 * HEIGHT, low[1]), (x + 0.6 * HEIGHT, low[1] + 1.1 * HEIGHT))
    elif kind == "spot":
        pen.arc((x + 0.5 * HEIGHT, low[1]), 0.5 * HEIGHT)
    if long:
        write_runs(pen, [Run(long)], (x + 1.4 * HEIGHT, low[1] + ABOVE))
    if setting.word("round") == "yes":
        pen.arc(at, 1.4)
    return Told(text=" ".join(t for t in (size, kind, long) if t))


@draws("centre")
def centre(setting: Setting) -> Told:
    """A cross on a round, the axis of what is round seen from the side."""
    pen = setting.pen
    for seen in setting.seen:
        if seen.kind == "round" and seen.radius is not None:
            middle, reach = setting.paper(seen.at), seen.radius * setting.view.scale + BEYOND
            for way in (np.array([1.0, 0.0]), np.array([0.0, 1.0])):
                pen.line(middle - reach * way, middle + reach * way, "centre")
        elif seen.axis is not None:
            a, b = (setting.paper(e) for e in seen.axis)
            way = (b - a) / np.hypot(*(b - a))
            pen.line(a - BEYOND * way, b + BEYOND * way, "centre")
        else:
            raise EditError(f"{seen.reference} has no centre that is seen here; pick a circle or a round face",
                            [seen.reference])  # fmt: skip
    return Told()


@draws("bolt circle")
def bolt_circle(setting: Setting) -> Told:
    """Through the middles of three holes or more."""
    rounds = [s for s in setting.seen if s.kind == "round"]
    places = np.unique(np.round([s.at for s in rounds], 6), axis=0) if rounds else np.zeros((0, 2))
    if len(places) < 3 or np.linalg.matrix_rank(places - places.mean(axis=0), tol=1e-3) < 2:
        raise EditError("a bolt circle runs through the middles of three round holes or more, not all in one line")
    rows = np.column_stack([2 * places, np.ones(len(places))])
    solved = np.linalg.lstsq(rows, (places**2).sum(axis=1), rcond=None)[0]
    middle, radius = solved[:2], math.sqrt(float(solved[2] + solved[:2] @ solved[:2]))
    off = np.abs(np.hypot(*(places - middle).T) - radius).max()
    if off > 1e-3:
        raise EditError(f"the holes lie on no common circle; the nearest misses one by {setting.number(float(off))}")
    at = setting.paper(middle)
    setting.pen.arc(at, radius * setting.view.scale, layer="centre")
    for seen in rounds:
        spot = setting.paper(seen.at)
        way = (spot - at) / np.hypot(*(spot - at))
        reach = (seen.radius or 0.0) * setting.view.scale + BEYOND
        setting.pen.line(spot - reach * way, spot + reach * way, "centre")
    return Told(2 * radius, (2 * radius,), f"⌀{setting.number(2 * radius)}")


@draws("note")
def note(setting: Setting) -> Told:
    rows = [[Run(text)] for text in setting.word("text").split("\n") if text.strip()]
    if not rows:
        raise EditError("this note says nothing")
    text = "\n".join(r[0].text for r in rows)
    if setting.item.view is not None and setting.item.on:
        seen = setting.seen[0]
        foot, _ = foot_on(setting, seen)
        leader(setting.pen, foot, setting.at, rows)
        return Told(text=text)
    for k, row in enumerate(rows):
        write_runs(setting.pen, row, setting.at - (0.0, k * ROW * HEIGHT))
    return Told(text=text)


@draws("balloon")
def balloon(setting: Setting) -> Told:
    """The number of a part in the list, with a line to it."""
    reference = setting.first
    body = reference.body
    if body is None:
        raise EditError("a balloon points at a part")
    number = str(numbers_of(setting.snapshot)[body.id])
    near = np.array(setting.item.near[0]) if setting.item.near else np.zeros(2)
    tip, at, pen = setting.paper(near), setting.at, setting.pen
    off = at - tip
    size = float(np.hypot(*off))
    if size > BALLOON:
        pen.line(tip, at - BALLOON * off / size)
        pen.dot(tip, 0.7)
    pen.arc(at, BALLOON)
    pen.text(number, at - (0.0, HEIGHT * CAP * 0.7), HEIGHT, "middle")
    return Told(text=number)
