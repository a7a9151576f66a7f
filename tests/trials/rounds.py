"""Families made of round walls: shafts, flanges, pipes, balls, sunk holes, crossing bores, shells with draft."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape

from .family import Trial, chamfer, family, move, push, remove, round_edges, set_size, tilt


@family(r1=(12, 16), l1=(20, 30), r2=(7, 9), l2=(18, 26), deep=(1, 2), g=(3, 5), b=(1, 2))
def shaft(r1: float, l1: float, r2: float, l2: float, deep: float, g: float, b: float, f: float = 0,
          at: float = 5) -> Shape:  # fmt: skip
    """Two thicknesses, a groove in the thick one from `at`, a chamfered thin end."""
    corners = [(0, 0, 0), (r1, 0, 0)]
    if deep:
        corners += [(r1, 0, at), (r1 - deep, 0, at), (r1 - deep, 0, at + g), (r1, 0, at + g)]
    corners += [(r1, 0, l1), (r2, 0, l1)]
    corners += [(r2, 0, l1 + l2 - b), (r2 - b, 0, l1 + l2)] if b else [(r2, 0, l1 + l2)]
    body = build.revolve(build.outline([*corners, (0, 0, l1 + l2)]))
    if f:
        body = build.fillet(body, f, lambda e: e.kind == "circle" and abs(e.length - 2 * math.pi * r2) < 1e-6
                            and abs(e.middle[2] - l1) < 1e-6)  # fmt: skip
    return body


@shaft.trials_of
def _(s: Any) -> Iterator[Trial]:
    thin = (s.r2, 0, s.l1 + s.l2 / 2)
    shoulder, end = ((s.r1 + s.r2) / 2, 0, s.l1), (0, 0, s.l1 + s.l2)
    floor, cheek = (s.r1 - s.deep, 0, s.at + s.g / 2), (s.r1 - s.deep / 2, 0, s.at + s.g)
    other, cone = (s.r1 - s.deep / 2, 0, s.at), (s.r2 - s.b / 2, 0, s.l1 + s.l2 - s.b / 2)
    yield set_size("thin part thicker", thin, 2 * s.r2 + 2, r2=s.r2 + 1, b=s.b + 1)
    yield push("shoulder on", shoulder, 3, l1=s.l1 + 3, l2=s.l2 - 3)
    yield push("shoulder back", shoulder, -3, l1=s.l1 - 3, l2=s.l2 + 3)
    yield push("end on", end, 4, l2=s.l2 + 4)
    yield set_size("groove deeper", floor, 2 * (s.r1 - s.deep) - 1, deep=s.deep + 0.5)
    yield push("groove wider", cheek, -1, g=s.g + 1)
    yield remove("groove", floor, cheek, other, deep=0)
    yield remove("groove, from its floor", floor, deep=0)
    yield remove("chamfer", cone, b=0)
    yield push("shoulder on to the chamfer", shoulder, s.l2 - s.b - 1, l1=s.l1 + s.l2 - s.b - 1, l2=s.b + 1)
    yield round_edges("root of the shoulder", (s.r2, 0, s.l1), 1.5, f=1.5)
    yield set_size("thin part nearly as thick as the other", thin, 2 * s.r1 - 4, r2=s.r1 - 2, b=s.b + s.r1 - 2 - s.r2)
    thick = [(s.r1, 0, 2), (s.r1, 0, s.l1 - 3)]
    yield set_size("thick part thinner", thick, 2 * s.r1 - 1, r1=s.r1 - 0.5, deep=s.deep - 0.5)


@family(r=(28, 36), t=(6, 9), hub=(12, 15), h=(8, 14), bore=(6, 8), q=(2, 3))
def flange(r: float, t: float, hub: float, h: float, bore: float, q: float, ring: float = 21, f: float = 0,
           n: float = 6) -> Shape:  # fmt: skip
    """A disc with a hub, bored through, and holes on a circle."""
    body = build.cylinder(r, t)
    if h:
        body = build.unite(body, build.cylinder(hub, t + h))
    if f:
        body = build.fillet(body, f, lambda e: e.kind == "circle" and abs(e.length - 2 * math.pi * hub) < 1e-6
                            and abs(e.middle[2] - t) < 1e-6)  # fmt: skip
    at = [(ring * math.cos(i * math.pi / 3), ring * math.sin(i * math.pi / 3), -1) for i in range(6 - int(n), 6)]
    tools = [build.cylinder(q, t + 2, p) for p in at]
    return build.subtract(body, *tools, *([build.cylinder(bore, t + h + 2, (0, 0, -1))] if bore else []))


@flange.trials_of
def _(s: Any) -> Iterator[Trial]:
    disc, top = ((s.hub + s.ring - s.q) / 2, 0, s.t), ((s.hub + s.bore) / 2, 0, s.t + s.h)
    hole = (s.ring + s.q, 0, s.t / 2)
    yield set_size("bore wider", (s.bore, 0, s.t), 2 * s.bore + 2, bore=s.bore + 1)
    yield set_size("rim larger", (s.r, 0, s.t / 2), 2 * s.r + 4, r=s.r + 2)
    yield set_size("hub wider", (s.hub, 0, s.t + s.h / 2), 2 * s.hub + 2, hub=s.hub + 1)
    yield push("disc thicker", disc, 2, t=s.t + 2, h=s.h - 2)
    yield push("hub higher", top, 5, h=s.h + 5)
    yield push("hub flush", top, -s.h, h=0)
    yield Trial("resize", {"faces": [hole]}, {"q": s.q + 0.5}, {"size": 2 * s.q + 1}, {"riders": "alike"}, "all holes")
    yield remove("one hole", hole, n=5)
    yield remove("bore", (s.bore, 0, s.t), bore=0)
    yield round_edges("root of the hub", (s.hub, 0, s.t), 1.5, f=1.5)


@family(x=(30, 40), a=(3, 4.5), c=(4, 6))
def crossing(x: float, a: float, c: float, y: float = 0) -> Shape:
    """A block with one bore along X, and one upright through it."""
    body = build.box(x, 30, 30, (0, -15, -15))
    tools = [build.cylinder(a, x + 2, (-1, 0, 0), (1, 0, 0))] if a else []
    return build.subtract(body, *tools, *([build.cylinder(c, 40, (x / 2, y, -20))] if c else []))


@crossing.trials_of
def _(s: Any) -> Iterator[Trial]:
    along, up = [(2, s.a, 0), (s.x - 2, s.a, 0)], [(s.x / 2, s.y + s.c, 12), (s.x / 2, s.y + s.c, -12)]
    yield set_size("lying one wider", along, 2 * s.a + 1, a=s.a + 0.5)
    yield set_size("standing one wider", up, 2 * s.c + 1, c=s.c + 0.5)
    yield set_size("lying one wider than the other", along, 2 * s.c + 2, a=s.c + 1)
    yield move("standing one aside", up, (s.x / 2, 15, 0), 1, y=s.y + 1)
    yield remove("standing one", *up, c=0)
    yield remove("lying one", *along, a=0)


@family(w=(50, 70), d=(35, 45), h=(18, 25), t=(2, 3))
def tray(w: float, d: float, h: float, t: float, floor: float = 3, x: float = 0, side: float = 2.5) -> Shape:
    """Open at its top."""
    core = build.box(w - t - side, d - 2 * t, h, (t, t, floor))
    return build.subtract(build.box(w - x, d, h, (x, 0, 0)), core)


@tray.trials_of
def _(s: Any) -> Iterator[Trial]:
    yield push("floor up", (s.w / 2, s.d / 2, s.floor), 2, floor=s.floor + 2)
    yield push("outer wall out", (s.w, s.d / 2, s.h / 2), 1.5, w=s.w + 1.5, side=s.side + 1.5)
    yield push("inner wall in", (s.w - s.side, s.d / 2, s.h / 2), 1.5, side=s.side + 1.5)
    yield push("rim up", (s.w / 2, s.t / 2, s.h), 6, h=s.h + 6)
    yield push("rim down to the floor", (s.w / 2, s.t / 2, s.h), s.floor - s.h, h=s.floor)
    yield push("floor up to the rim", (s.w / 2, s.d / 2, s.floor), s.h - s.floor, floor=s.h)
    yield push("outer wall", (s.x, s.d / 2, s.h / 2), 1, x=s.x - 1)


@family(w=(40, 60), d=(30, 40), h=(12, 20))
def drafted(w: float, d: float, h: float, lean: float = 3, west: float = 3) -> Shape:
    """A block whose long walls lean inwards by `lean` and whose end on the far side leans by `west` degrees."""
    s, e = h * math.tan(math.radians(lean)), h * math.tan(math.radians(west))
    corners = [(0, 0, 0), (w, 0, 0), (w - e, 0, h), (0, 0, h)]
    body = build.extrude(build.outline(corners), (0, d, 0))
    cheek = build.outline([(-1, 0, 0), (-1, s, h), (-1, -9, h), (-1, -9, 0)])
    other = build.outline([(-1, d, 0), (-1, d - s, h), (-1, d + 9, h), (-1, d + 9, 0)])
    return build.subtract(body, build.extrude(cheek, (w + 2, 0, 0)), build.extrude(other, (w + 2, 0, 0)))


@drafted.trials_of
def _(s: Any) -> Iterator[Trial]:
    end = (s.w - s.h * math.tan(math.radians(s.west)) / 2, s.d / 2, s.h / 2)
    yield push("top up", (s.w / 2, s.d / 2, s.h), 3, h=s.h + 3)
    yield push("top down", (s.w / 2, s.d / 2, s.h), -3, h=s.h - 3)
    yield push("leaning end out", end, 2, w=s.w + 2 / math.cos(math.radians(s.west)))
    yield tilt("leaning end upright", end, (s.w, s.d / 2, 0), s.west, west=0)
    yield tilt("leaning end more", end, (s.w, s.d / 2, 0), -2, west=s.west + 2)


@family(bend=(18, 26), a=(6, 8), wall=(1.5, 2.5), long=(8, 15))
def elbow(bend: float, a: float, wall: float, long: float, more: float = 0) -> Shape:
    """A quarter of a ring with straight ends, hollow."""

    def full(radius: float, over: float) -> Shape:
        ends = [(bend + radius, 0, 0), (bend - radius, 0, 0)]
        arc = build.outline(ends, [(bend, 0, radius), (bend, 0, -radius)])
        quarter = build.revolve(arc, angle=math.pi / 2)
        start = -long - more - over
        return build.unite(quarter, build.cylinder(radius, -start, (bend, start, 0), (0, 1, 0)),
                           build.cylinder(radius, long + over, (-long - over, bend, 0), (1, 0, 0)))  # fmt: skip

    return build.subtract(full(a, 0), full(a - wall, 0))


@elbow.trials_of
def _(s: Any) -> Iterator[Trial]:
    c = math.sqrt(0.5)
    outer = ((s.bend + s.a) * c, (s.bend + s.a) * c, 0)
    inner = ((s.bend + s.a - s.wall) * c, (s.bend + s.a - s.wall) * c, 0)
    yield push("end on", (s.bend + s.a - s.wall / 2, -s.long - s.more, 0), 4, more=s.more + 4)
    yield push("outside out, all along", outer, 0.8, a=s.a + 0.8, wall=s.wall + 0.8)
    yield push("bore wider, all along", inner, -0.4, wall=s.wall - 0.4)


@family(r=(12, 16), flat=(6, 9), q=(2, 4))
def ball(r: float, flat: float, q: float) -> Shape:
    """With a flat below and a bore upright."""
    body = build.subtract(build.sphere(r), build.box(60, 60, 30, (-30, -30, -30 - flat)))
    return build.subtract(body, build.cylinder(q, 60, (0, 0, -30))) if q else body


@ball.trials_of
def _(s: Any) -> Iterator[Trial]:
    yield set_size("larger", (s.r, 0, 0), 2 * s.r + 2, r=s.r + 1)
    yield set_size("smaller", (s.r, 0, 0), 2 * s.r - 2, r=s.r - 1)
    yield set_size("bore wider", (s.q, 0, 0), 2 * s.q + 1, q=s.q + 0.5)
    yield push("flat out", ((s.q + 4) / 2 + 1, 0, -s.flat), 1.5, flat=s.flat + 1.5)
    yield push("flat in", ((s.q + 4) / 2 + 1, 0, -s.flat), -2, flat=s.flat - 2)
    yield remove("bore", (s.q, 0, 0), q=0)


@family(w=(30, 45), d=(30, 40), t=(8, 12), r=(2, 3), big=(5, 6.5))
def countersink(w: float, d: float, t: float, r: float, big: float, x: float = 15) -> Shape:
    """A hole with a cone of 90 degrees at its top."""
    body = build.box(w, d, t)
    if r:
        body = build.subtract(body, build.cylinder(r, t + 2, (x, 15, -1)))
    if big:
        body = build.subtract(body, build.cone(r, big + 1, big + 1 - r, (x, 15, t - big + r)))
    return body


@countersink.trials_of
def _(s: Any) -> Iterator[Trial]:
    cone, hole = (s.x + (s.r + s.big) / 2, 15, s.t - (s.big - s.r) / 2), (s.x + s.r, 15, 1)
    yield set_size("hole wider, cone stays", hole, 2 * s.r + 1, r=s.r + 0.5)
    yield set_size("hole wider than the cone", hole, 2 * s.big + 1, r=s.big + 0.5, big=0)
    yield push("top down, cone along", (1, 1, s.t), -1, t=s.t - 1)
    yield move("all of it", cone, (s.w, s.d / 2, s.t / 2), 2, x=s.x + 2)
    yield remove("cone", cone, big=0)
    yield remove("all of it", cone, hole, big=0, r=0)
    yield push("cone deeper", cone, -0.5, big=s.big + math.sqrt(0.5))


@family(r=(10, 14), long=(40, 60), k=(4, 6), deep=(2, 3.5))
def keyway(r: float, long: float, k: float, deep: float, start: float = 10, run: float = 18,
           b: float = 0) -> Shape:  # fmt: skip
    """A shaft along X with a square-ended keyway on its top."""
    body = build.cylinder(r, long, axis=(1, 0, 0))
    if b:
        body = build.chamfer(body, b, lambda e: e.kind == "circle" and e.middle[0] > long - 1e-6)
    return build.subtract(body, build.box(run, k, deep + 5, (start, -k / 2, r - deep))) if deep else body


@keyway.trials_of
def _(s: Any) -> Iterator[Trial]:
    floor, wall, end = (
        (s.start + s.run / 2, 0, s.r - s.deep),
        (s.start + s.run / 2, s.k / 2, s.r - s.deep / 2),
        (s.start + s.run, 0, s.r - s.deep / 2),
    )
    yield push("deeper", floor, -1, deep=s.deep + 1)
    yield push("shallower", floor, 0.5, deep=s.deep - 0.5)
    yield push("longer", end, -4, run=s.run + 4)
    yield push("end out of the shaft", end, s.start + s.run - s.long, run=s.long - s.start)
    yield remove(
        "all of it",
        floor,
        wall,
        (s.start + s.run / 2, -s.k / 2, s.r - s.deep / 2),
        end,
        (s.start, 0, s.r - s.deep / 2),
        deep=0,
    )
    yield remove("all of it, from its floor", floor, deep=0)
    yield set_size("shaft thicker", (2, 0, -s.r), 2 * s.r + 2, r=s.r + 1, deep=s.deep + 1)
    yield push("shaft's end on", (s.long, 0, 0), 5, long=s.long + 5)
    yield chamfer("shaft's end", (s.long, 0, -s.r), 1, b=1)
