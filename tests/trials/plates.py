"""Families made of flat walls: plates, blocks, brackets, channels, with what is bored and milled into them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape

from .family import Trial, chamfer, family, move, push, remove, round_edges, set_size, tilt


def upright(x: float, y: float) -> build.EdgeTest:
    return lambda e: e.kind == "line" and math.dist(e.middle[:2], (x, y)) < 1e-6


@family(w=(60, 90), d=(40, 60), t=(6, 14), r=(2.5, 4), x=(40, 45), c=(3, 6))
def plate(w: float, d: float, t: float, r: float, x: float, c: float, r2: float = 3, c2: float = 4, b: float = 0,
          f: float = 0) -> Shape:  # fmt: skip
    """Two rounded corners, two holes; one long top edge may be chamfered, one short one rounded."""
    body = build.box(w, d, t)
    if f:
        body = build.fillet(body, f, lambda e: e.middle[0] == w and e.middle[2] == t)
    if b:
        body = build.chamfer(body, b, lambda e: e.middle[1] == d and e.middle[2] == t)
    for radius, at in ((c, (0, 0)), (c2, (w, 0))):
        if radius and not f:
            body = build.fillet(body, radius, upright(*at))
    holes = [build.cylinder(q, t + 2, (px, 15, -1)) for q, px in ((r, x), (r2, 15)) if q]
    return build.subtract(body, *holes)


@plate.trials_of
def _(s: Any) -> Iterator[Trial]:
    top, far, hole = (s.w / 2, s.d / 2, s.t), (s.w, s.d / 2, s.t / 2), (s.x + s.r, 15, s.t / 2)
    yield push("top up", top, 2.5, t=s.t + 2.5)
    yield push("top down", top, -3, t=s.t - 3)
    yield push("side out, corner rides along", far, 4, w=s.w + 4)
    yield push("side in", far, -3, w=s.w - 3)
    yield set_size("hole wider", hole, 2 * s.r + 1, r=s.r + 0.5)
    yield set_size("hole narrower", hole, 2 * s.r - 1.5, r=s.r - 0.75)
    yield push("hole wall outwards", hole, -0.4, r=s.r + 0.4)
    yield move("hole aside", hole, far, 3, x=s.x + 3)
    yield remove("hole", hole, r=0)
    q = s.c * (1 - math.sqrt(0.5))
    yield set_size("corner larger", (q, q, s.t / 2), s.c + 2, "radius", c=s.c + 2)
    yield remove("corner", (q, q, s.t / 2), c=0)
    yield chamfer("long edge", (s.w / 2, s.d, s.t), 1.5, b=1.5)
    yield set_size("hole swallows the other", hole, 2 * (s.x - 15 + s.r2 + 0.5), r=s.x - 15 + s.r2 + 0.5, r2=0)


@family(w=(50, 70), d=(35, 50), t=(6, 10), r=(6, 9), h=(5, 12), x=(20, 25))
def boss(w: float, d: float, t: float, r: float, h: float, x: float, f: float = 0, b: float = 0) -> Shape:
    if not h:
        return build.box(w, d, t)
    body = build.unite(build.box(w, d, t), build.cylinder(r, h, (x, 17, t)))
    if f:
        body = build.fillet(body, f, lambda e: e.kind == "circle" and abs(e.middle[2] - t) < 1e-6)
    if b:
        body = build.chamfer(body, b, lambda e: e.kind == "circle" and abs(e.middle[2] - t - h) < 1e-6)
    return body


@boss.trials_of
def _(s: Any) -> Iterator[Trial]:
    end, wall, plate_top = (s.x, 17, s.t + s.h), (s.x + s.r, 17, s.t + s.h / 2), (s.w - 2, s.d - 2, s.t)
    yield push("end up", end, 3, h=s.h + 3)
    yield push("end down", end, -2, h=s.h - 2)
    yield push("end flush", end, -s.h, h=0)
    yield set_size("wider", wall, 2 * s.r + 3, r=s.r + 1.5)
    yield set_size("narrower", wall, 2 * s.r - 3, r=s.r - 1.5)
    yield move("aside", wall, (s.w, s.d / 2, s.t / 2), 5, x=s.x + 5)
    yield push("plate up beside it", plate_top, 2, t=s.t + 2, h=s.h - 2)
    yield push("plate up past it", plate_top, s.h + 1, t=s.t + s.h + 1, h=0)
    yield remove("all of it", wall, h=0)
    yield round_edges("foot", (s.x + s.r, 17, s.t), 1.5, f=1.5)
    yield chamfer("rim", (s.x + s.r, 17, s.t + s.h), 1, b=1)


@family(long=(45, 60), w=(25, 40), h=(30, 45), foot=(5, 8), wall=(5, 8), f=(3, 6), r=(3, 5))
def bracket(long: float, w: float, h: float, foot: float, wall: float, f: float, r: float, e: float = 0) -> Shape:
    """An angle with a round inside and a hole in its wall."""
    body = build.unite(build.box(long, w, foot), build.box(wall, w, h))
    if f:
        body = build.fillet(body, f, lambda e: e.kind == "line" and math.dist(e.middle[::2], (wall, foot)) < 1e-6)
    if e:
        body = build.fillet(body, e, upright(long, 0))
    return build.subtract(body, build.cylinder(r, wall + 20, (-1, w / 2, 0.7 * 35), (1, 0, 0))) if r else body


@bracket.trials_of
def _(s: Any) -> Iterator[Trial]:
    z = 0.7 * 35
    inside, foot_top = (s.wall, 2, s.h - 2), (s.long - 2, s.w / 2, s.foot)
    q = s.f * (1 - math.sqrt(0.5))
    bend, hole = (s.wall + q, s.w / 2, s.foot + q), (s.wall / 2, s.w / 2 + s.r, z)
    yield push("wall thicker, its round follows", inside, 1.5, wall=s.wall + 1.5)
    yield push("wall thinner", inside, -1.5, wall=s.wall - 1.5)
    yield push("foot thicker", foot_top, 2, foot=s.foot + 2)
    yield push("foot longer", (s.long, s.w / 2, s.foot / 2), 7, long=s.long + 7)
    yield push("wall higher", (s.wall / 2, s.w / 2, s.h), 3, h=s.h + 3)
    yield push("wall lower", (s.wall / 2, s.w / 2, s.h), -1, h=s.h - 1)
    yield set_size("inner round larger", bend, s.f + 1.5, "radius", f=s.f + 1.5)
    yield set_size("inner round smaller", bend, s.f - 1.5, "radius", f=s.f - 1.5)
    yield remove("inner round", bend, f=0)
    yield remove("hole", hole, r=0)
    yield round_edges("corner of the foot", (s.long, 0, s.foot / 2), 4, e=4)


@family(w=(30, 50), d=(30, 45), t=(14, 22), r=(3, 4.5), big=(6, 8), deep=(4, 8))
def counterbore(w: float, d: float, t: float, r: float, big: float, deep: float, x: float = 15) -> Shape:
    body = build.subtract(build.box(w, d, t), build.cylinder(r, t + 2, (x, 15, -1))) if r else build.box(w, d, t)
    return build.subtract(body, build.cylinder(big, deep + 1, (x, 15, t - deep))) if deep else body


@counterbore.trials_of
def _(s: Any) -> Iterator[Trial]:
    top, floor = (s.w - 1, s.d - 1, s.t), (s.x + (s.r + s.big) / 2, 15, s.t - s.deep)
    wide, narrow = (s.x + s.big, 15, s.t - s.deep / 2), (s.x + s.r, 15, (s.t - s.deep) / 2)
    yield push("floor deeper", floor, -2, deep=s.deep + 2)
    yield push("floor shallower", floor, 2, deep=s.deep - 2)
    yield push("floor up to the top", floor, s.deep, deep=0)
    yield push("floor out below", floor, s.deep - s.t, r=s.big, deep=0)
    yield push("top up", top, 3, t=s.t + 3, deep=s.deep + 3)
    yield push("top down past the floor", top, -s.deep - 1, t=s.t - s.deep - 1, deep=0)
    yield set_size("counterbore wider", wide, 2 * s.big + 1, big=s.big + 0.5)
    yield set_size("counterbore as wide as its hole", wide, 2 * s.r, deep=0)
    yield set_size("hole wider", narrow, 2 * s.r + 1, r=s.r + 0.5)
    yield set_size("hole wider than the counterbore", narrow, 2 * s.big + 2, r=s.big + 1, deep=0)
    yield move("all of it", wide, (s.w, s.d / 2, 1), 2, x=s.x + 2)
    yield remove("counterbore", wide, floor, deep=0)
    yield remove("all of it", wide, floor, narrow, deep=0, r=0)


@family(w=(60, 80), d=(30, 40), t=(5, 9), long=(15, 25), r=(3, 5))
def slot(w: float, d: float, t: float, long: float, r: float, x: float = 15) -> Shape:
    body = build.box(w, d, t)
    if not r:
        return body
    ends = [build.cylinder(r, t + 2, (px, 15, -1)) for px in (x, x + long)]
    return build.subtract(body, build.box(long, 2 * r, t + 2, (x, 15 - r, -1)), *ends)


@slot.trials_of
def _(s: Any) -> Iterator[Trial]:
    flat, end = (s.x + s.long / 2, 15 + s.r, s.t / 2), (s.x + s.long + s.r, 15, s.t / 2)
    yield push("end out, the whole slot wider", end, -0.5, r=s.r + 0.5)
    yield set_size("wider", end, 2 * s.r + 1, r=s.r + 0.5)
    yield set_size("narrower", end, 2 * s.r - 2, r=s.r - 1)
    yield move("aside", flat, (s.w, s.d / 2, s.t / 2), 3, x=s.x + 3)
    yield remove("all of it", flat, r=0)
    yield push("plate thicker", (s.w - 1, s.d - 1, s.t), 2, t=s.t + 2)


@family(w=(60, 80), d=(45, 60), t=(14, 20), px=(25, 35), py=(18, 26), deep=(6, 10), c=(3, 5))
def pocket(w: float, d: float, t: float, px: float, py: float, deep: float, c: float, x: float = 10,
           y: float = 10) -> Shape:  # fmt: skip
    """Closed all round, its upright corners rounded."""
    if not deep:
        return build.box(w, d, t)
    core = build.box(px, py, deep + 2, (x, y, t - deep))
    if c:
        core = build.fillet(core, c, lambda e: e.kind == "line" and abs(e.length - deep - 2) < 1e-6)
    return build.subtract(build.box(w, d, t), core)


@pocket.trials_of
def _(s: Any) -> Iterator[Trial]:
    floor, wall = (s.x + s.px / 2, s.y + s.py / 2, s.t - s.deep), (s.x + s.px, s.y + s.py / 2, s.t - s.deep / 2)
    q = s.c * (1 - math.sqrt(0.5))
    corners = [(s.x + (s.px - q if i else q), s.y + (s.py - q if j else q), s.t - 1) for i in (0, 1) for j in (0, 1)]
    yield push("floor deeper", floor, -2, deep=s.deep + 2)
    yield push("floor higher", floor, 2, deep=s.deep - 2)
    yield push("floor up to the top", floor, s.deep, deep=0)
    yield push("floor out below", floor, s.deep - s.t, deep=s.t)
    yield push("wall back, its rounds follow", wall, -2, px=s.px + 2)
    yield push("wall in", wall, 2, px=s.px - 2)
    yield push(
        "side of the block in to near the pocket", (s.w, s.d / 2, s.t / 2), s.x + s.px + 2 - s.w, w=s.x + s.px + 2
    )
    yield push("side of the block in past the pocket", (s.w, s.d / 2, s.t / 2), s.x - 2 - s.w, w=s.x - 2, deep=0)
    yield set_size("all corners", corners, s.c + 1, "radius", c=s.c + 1)
    yield remove("all corners", *corners, c=0)
    yield remove("all of it", wall, deep=0)
    yield push("top down past the floor", (s.w - 1, s.d - 1, s.t), -s.deep - 1, t=s.t - s.deep - 1, deep=0)


@family(w=(50, 70), d=(40, 50), t=(5, 8), rib_t=(3, 5), h=(8, 14), y=(15, 20))
def rib(w: float, d: float, t: float, rib_t: float, h: float, y: float, f: float = 0, lean: float = 0) -> Shape:
    """A bar across a plate, from side to side; one of its flanks may lean."""
    if not h:
        return build.box(w, d, t)
    off = h * math.tan(math.radians(lean))
    corners = [(0, y, t), (0, y + rib_t, t), (0, y + rib_t + off, t + h), (0, y, t + h)]
    body = build.unite(build.box(w, d, t), build.extrude(build.outline(corners), (w, 0, 0)))
    if f:
        body = build.fillet(body, f, lambda e: math.dist(e.middle[1:], (y, t)) < 1e-6)
    return body


@rib.trials_of
def _(s: Any) -> Iterator[Trial]:
    flank, top = (s.w / 2, s.y + s.rib_t, s.t + s.h / 2), (s.w / 2, s.y + s.rib_t / 2, s.t + s.h)
    foot = (s.w / 2, s.y + s.rib_t, s.t)
    yield push("flank out", flank, 1.5, rib_t=s.rib_t + 1.5)
    yield push("top up", top, 3, h=s.h + 3)
    yield push("top flush", top, -s.h, h=0)
    yield push("flank past the other side", flank, -s.rib_t, h=0)
    yield push("flank out to the plate's end", flank, s.d - s.y - s.rib_t, rib_t=s.d - s.y)
    yield push("plate beside it up to its top", (s.w / 2, 1, s.t), s.h, rib_t=s.rib_t + s.y, y=0)
    yield remove("all of it", flank, top, (s.w / 2, s.y, s.t + s.h / 2), h=0)
    yield round_edges("foot", (s.w / 2, s.y, s.t), 2, f=2)
    yield tilt("flank", flank, foot, 5, lean=5)


@family(w=(40, 60), d=(30, 40), h=(25, 35), wide=(12, 18), deep=(10, 15))
def channel(w: float, d: float, h: float, wide: float, deep: float, x: float = 10) -> Shape:
    """An open groove across a block."""
    return build.subtract(build.box(w, d, h), build.box(wide, d + 2, deep + 1, (x, -1, h - deep))) if deep and wide \
        else build.box(w, d, h)  # fmt: skip


@channel.trials_of
def _(s: Any) -> Iterator[Trial]:
    wall, floor = (s.x + s.wide, s.d / 2, s.h - s.deep / 2), (s.x + s.wide / 2, s.d / 2, s.h - s.deep)
    yield push("wall back", wall, -3, wide=s.wide + 3)
    yield push("wall in", wall, 3, wide=s.wide - 3)
    yield push("wall to the other", wall, s.wide, wide=0)
    yield push("wall past the other", wall, s.wide + 2, wide=0)
    yield push("floor up", floor, 4, deep=s.deep - 4)
    yield push("floor past the top", floor, s.deep, deep=0)
    yield push("shoulder down to the floor", (s.x / 2, s.d / 2, s.h), -s.deep, wide=s.wide + s.x, x=0)
    yield remove("all of it", floor, wall, (s.x, s.d / 2, s.h - s.deep / 2), wide=0)


@family(w=(40, 60), d=(25, 40), low=(8, 12), high=(18, 25), x=(15, 25))
def step(w: float, d: float, low: float, high: float, x: float) -> Shape:
    """Two levels: high up to x, low from there."""
    if x <= 0 or low == high:
        return build.box(w, d, low)
    return build.unite(build.box(w, d, low), build.box(x, d, high))


@step.trials_of
def _(s: Any) -> Iterator[Trial]:
    low, high, riser = (s.w - 2, s.d / 2, s.low), (s.x / 2, s.d / 2, s.high), (s.x, s.d / 2, (s.low + s.high) / 2)
    yield push("low up", low, 2, low=s.low + 2)
    yield push("low up to the high", low, s.high - s.low, low=s.high)
    yield push("high down to the low", high, s.low - s.high, high=s.low)
    yield push("riser on", riser, 4, x=s.x + 4)
    yield push("riser out over the end", riser, s.w - s.x, x=0, low=s.high)
    yield push("riser back to the start", riser, -s.x, x=0)
    yield push("end in to before the riser", (s.w, s.d / 2, 2), s.x + 1 - s.w, w=s.x + 1)
    yield push("end in past the riser", (s.w, s.d / 2, 2), s.x - 2 - s.w, w=s.x - 2, x=s.x - 2)
