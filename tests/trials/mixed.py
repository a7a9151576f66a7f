"""Families where flat and round walls meet in less plain ways: bars with a flat, grooves with leaning walls, branches,
bent sheet, boxes bevelled or rounded all round, fields of holes, walls that follow a curve."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape
from tests.varied import bent_sheet

from .family import Trial, chamfer, family, move, push, remove, round_edges, set_size, tilt


@family(r=(8, 12), long=(30, 45), flat=(4, 6), q=(2, 3))
def flatted(r: float, long: float, flat: float, q: float, run: float = 18, b: float = 0) -> Shape:
    """A round bar along X with a flat milled on its end, at `flat` above the axis, and a cross hole behind it."""
    body = build.subtract(build.cylinder(r, long, axis=(1, 0, 0)), build.box(run, 3 * r, r, (0, -1.5 * r, flat)))
    if q:
        body = build.subtract(body, build.cylinder(q, 4 * r, (long - 6, 0, -2 * r)))
    if b:
        body = build.chamfer(body, b, lambda e: e.kind == "circle" and e.middle[0] > long - 1e-6)
    return body


@flatted.trials_of
def _(s: Any) -> Iterator[Trial]:
    face, stop = (s.run / 2, 0, s.flat), (s.run, 0, (s.flat + s.r) / 2)
    hole = (s.long - 6 + s.q, 0, 0)
    yield push("flat deeper", face, -1, flat=s.flat - 1)
    yield push("flat higher", face, 0.8, flat=s.flat + 0.8)
    yield push("flat longer", stop, -3, run=s.run + 3)
    yield push("flat shorter", stop, 3, run=s.run - 3)
    yield set_size("cross hole wider", hole, 2 * s.q + 1, q=s.q + 0.5)
    yield remove("cross hole", hole, q=0)
    yield remove("flat", face, stop, flat=s.r)
    yield chamfer("far end", (s.long, 0, -s.r), 1, b=1)


@family(w=(16, 22), long=(20, 30), bore=(3, 5))
def hexagon(w: float, long: float, bore: float, z: float = 0, b: float = 0) -> Shape:
    """A bar of six sides, `w` across them, bored through; its lower end stands at -z."""
    far = w / math.sqrt(3)
    corners = [(far * math.cos(k * math.pi / 3), far * math.sin(k * math.pi / 3), -z) for k in range(6)]
    body = build.extrude(build.outline(corners), (0, 0, long + z))
    if bore:
        body = build.subtract(body, build.cylinder(bore, long + z + 2, (0, 0, -z - 1)))
    if b:
        body = build.chamfer(body, b, lambda e: e.kind == "circle" and e.middle[2] > long - 1e-6)
    return body


@hexagon.trials_of
def _(s: Any) -> Iterator[Trial]:
    wall = (s.bore, 0, s.long / 2)
    sides = [(s.w / 2 * math.cos(a), s.w / 2 * math.sin(a), s.long / 2) for a in
             (math.pi / 6 + k * math.pi / 3 for k in range(6))]  # fmt: skip
    yield Trial("push", {"faces": sides}, {"w": s.w + 2}, {"distance": 1}, name="all six sides out")
    yield Trial("push", {"faces": sides}, {"w": s.w - 2}, {"distance": -1}, name="all six sides in")
    yield push("end on", (s.bore + 1, 0, s.long), 4, long=s.long + 4)
    yield push("other end on", (s.bore + 1, 0, -s.z), 4, z=s.z + 4)
    yield set_size("bore wider", wall, 2 * s.bore + 1.5, bore=s.bore + 0.75)
    yield remove("bore", wall, bore=0)
    yield chamfer("mouth of the bore", (s.bore, 0, s.long), 1.2, b=1.2)


@family(w=(50, 60), d=(25, 35), h=(18, 24), mouth=(12, 16), deep=(6, 9), lean=(10, 25))
def dovetail(w: float, d: float, h: float, mouth: float, deep: float, lean: float, x: float = 25) -> Shape:
    """A groove across a block whose walls lean so that it is wider below."""
    if not deep:
        return build.box(w, d, h)
    out = deep * math.tan(math.radians(lean))
    corners = [(x - mouth / 2, -1, h), (x + mouth / 2, -1, h), (x + mouth / 2 + out, -1, h - deep),
               (x - mouth / 2 - out, -1, h - deep)]  # fmt: skip
    return build.subtract(build.box(w, d, h), build.extrude(build.outline(corners), (0, d + 2, 0)))


@dovetail.trials_of
def _(s: Any) -> Iterator[Trial]:
    slope = math.radians(s.lean)
    out = s.deep * math.tan(slope)
    floor = (s.x, s.d / 2, s.h - s.deep)
    left, right = ((s.x + way * (s.mouth + out) / 2, s.d / 2, s.h - s.deep / 2) for way in (-1, 1))
    yield push("floor deeper", floor, -2, deep=s.deep + 2)
    yield push("floor shallower", floor, 2, deep=s.deep - 2)
    yield push("floor up to the top", floor, s.deep, deep=0)
    yield Trial("push", {"faces": [left, right]}, {"mouth": s.mouth + 2 / math.cos(slope)}, {"distance": -1},
                name="both walls back")  # fmt: skip
    yield Trial("push", {"faces": [left, right]}, {"mouth": s.mouth - 2 / math.cos(slope)}, {"distance": 1},
                name="both walls in")  # fmt: skip
    yield push("end of the block", (s.w, s.d / 2, 2), 3, w=s.w + 3)
    yield move("all of it", [floor, left, right], (s.w, s.d / 2, 2), 2, x=s.x + 2)
    yield remove("all of it", floor, left, right, deep=0)


@family(r=(12, 16), a=(6, 8), up=(24, 30), half=(22, 28))
def branch(r: float, a: float, up: float, half: float, f: float = 0) -> Shape:
    """A round bar along X with a thinner one standing on it."""
    body = build.unite(build.cylinder(r, 2 * half, (-half, 0, 0), (1, 0, 0)), build.cylinder(a, up))
    if f:
        body = build.fillet(body, f, lambda e: e.kind == "circle" and e.middle[2] > up - 1e-6)
    return body


@branch.trials_of
def _(s: Any) -> Iterator[Trial]:
    wall, end = (s.a, 0, (s.r + s.up) / 2), (0, 0, s.up)
    yield push("branch longer", end, 5, up=s.up + 5)
    yield push("branch shorter", end, -3, up=s.up - 3)
    yield set_size("branch thicker", wall, 2 * s.a + 1, a=s.a + 0.5)
    yield set_size("branch thinner", wall, 2 * s.a - 2, a=s.a - 1)
    yield set_size("bar thicker", (s.half - 1, 0, -s.r), 2 * s.r + 1, r=s.r + 0.5)
    yield Trial("push", {"faces": [(-s.half, 0, 0), (s.half, 0, 0)]}, {"half": s.half + 4}, {"distance": 4},
                name="both ends on")  # fmt: skip
    yield round_edges("rim of the branch", (0, s.a, s.up), 1, f=1)


@family(t=(1.5, 2.5), inner=(1.5, 3), w=(25, 35), foot=(20, 30), wall=(18, 25), q=(2, 3))
def bent(t: float, inner: float, w: float, foot: float, wall: float, q: float, hx: float = 8) -> Shape:
    """Sheet with one bend, the foot along X and the wall up from it; a hole in the foot."""
    body = bent_sheet(t, inner, w, foot, wall)
    return build.subtract(body, build.cylinder(q, 4 * t, (hx, 12, -t))) if q else body


@bent.trials_of
def _(s: Any) -> Iterator[Trial]:
    outer, hole = s.inner + s.t, (s.hx + s.q, 12, s.t / 2)
    yield push("wall higher", (s.foot + outer - s.t / 2, s.w / 2, outer + s.wall), 4, wall=s.wall + 4)
    yield push("wall lower", (s.foot + outer - s.t / 2, s.w / 2, outer + s.wall), -4, wall=s.wall - 4)
    yield push("wider", (s.foot / 2, s.w, s.t / 2), 3, w=s.w + 3)
    yield set_size("hole wider", hole, 2 * s.q + 1, q=s.q + 0.5)
    yield move("hole along", hole, (s.foot + outer, s.w / 2, outer + s.wall / 2), 2, hx=s.hx + 2)
    yield remove("hole", hole, q=0)


@family(w=(40, 55), d=(30, 40), h=(14, 20), b=(1.5, 3))
def bevelled(w: float, d: float, h: float, b: float, deep: float = 0) -> Shape:
    """A block with its upper edges chamfered all round; a pocket may be in its top."""
    body = build.chamfer(build.box(w, d, h), b, lambda e: abs(e.middle[2] - h) < 1e-9)
    return build.subtract(body, build.box(12, 10, deep + 1, (10, 10, h - deep))) if deep else body


@bevelled.trials_of
def _(s: Any) -> Iterator[Trial]:
    slope = (s.w / 2, s.b / 2, s.h - s.b / 2)
    yield push("top up, chamfers along", (s.w / 2, s.d / 2, s.h), 2.5, h=s.h + 2.5)
    yield push("top down, chamfers along", (s.w / 2, s.d / 2, s.h), -2.5, h=s.h - 2.5)
    yield push("side out, chamfer along", (s.w, s.d / 2, s.h / 3), 3, w=s.w + 3)
    yield push("side in, chamfer along", (s.w, s.d / 2, s.h / 3), -3, w=s.w - 3)
    yield Trial("push", {"faces": [(s.w, s.d / 2, s.h / 3), (s.w / 2, s.d, s.h / 3)]}, {"w": s.w + 2, "d": s.d + 2},
                {"distance": 2}, name="two sides out")  # fmt: skip
    yield Trial("resize", {"faces": [slope]}, {"b": s.b + 0.5}, {"size": s.b + 0.5}, {"measure": "width"},
                "chamfer wider all round")  # fmt: skip


@family(w=(40, 55), d=(30, 40), h=(14, 20), c=(4, 6), f=(1.5, 2.5))
def rounded(w: float, d: float, h: float, c: float, f: float) -> Shape:
    """A block with upright corners rounded, then its upper rim."""
    body = build.fillet(build.box(w, d, h), c, lambda e: abs(e.middle[2] - h / 2) < 1e-9) if c else build.box(w, d, h)
    return build.fillet(body, f, lambda e: abs(e.middle[2] - h) < 1e-9) if f else body


@rounded.trials_of
def _(s: Any) -> Iterator[Trial]:
    k = 1 - math.sqrt(0.5)
    rim = (s.w / 2, s.f * k, s.h - s.f * k)
    yield push("top up, rounds along", (s.w / 2, s.d / 2, s.h), 3, h=s.h + 3)
    yield push("top down, rounds along", (s.w / 2, s.d / 2, s.h), -3, h=s.h - 3)
    yield push("side out, rounds along", (s.w, s.d / 2, s.h / 3), 3, w=s.w + 3)
    yield push("side in, rounds along", (s.w, s.d / 2, s.h / 3), -3, w=s.w - 3)
    yield set_size("rim larger", rim, s.f + 0.5, "radius", f=s.f + 0.5)
    yield set_size("rim smaller", rim, s.f - 0.5, "radius", f=s.f - 0.5)


@family(w=(70, 80), d=(50, 56), t=(5, 8), q=(2, 2.8))
def field(w: float, d: float, t: float, q: float, gone: float = 0) -> Shape:
    """A plate with a grid of four by three holes; the first ones may be left out."""
    at = [(12 + 15 * i, 11 + 14 * j, -1) for i in range(4) for j in range(3)][int(gone) :]
    return build.subtract(build.box(w, d, t), *(build.cylinder(q, t + 2, p) for p in at))


@field.trials_of
def _(s: Any) -> Iterator[Trial]:
    first, last = (12 + s.q, 11, s.t / 2), (57 + s.q, 39, s.t / 2)
    yield Trial(
        "resize", {"faces": [last]}, {"q": s.q + 0.75}, {"size": 2 * s.q + 1.5}, {"riders": "alike"}, "all wider"
    )
    yield Trial("push", {"faces": [last]}, {"q": s.q - 0.5}, {"distance": 0.5}, {"riders": "alike"}, "all narrower")
    if not s.gone:
        yield remove("first", first, gone=1)
    yield push("thicker", (1, 1, s.t), 2, t=s.t + 2)
    yield push("side out", (s.w, s.d / 2, s.t / 2), 3, w=s.w + 3)
    yield push("side in", (s.w, s.d / 2, s.t / 2), -4, w=s.w - 4)


@family(w=(40, 50), d=(20, 26), h=(10, 16), foot=(4, 6))
def wedge(w: float, d: float, h: float, foot: float) -> Shape:
    """A block that falls off from h at x = 0 to `foot` at its far end."""
    return build.extrude(build.outline([(0, 0, 0), (w, 0, 0), (w, 0, foot), (0, 0, h)]), (0, d, 0))


@wedge.trials_of
def _(s: Any) -> Iterator[Trial]:
    slope, fall = (s.w / 2, s.d / 2, (s.h + s.foot) / 2), (s.h - s.foot) / s.w
    up = 1.5 * math.hypot(1, fall)
    yield push("slope out", slope, 1.5, h=s.h + up, foot=s.foot + up)
    yield push("far end on", (s.w, s.d / 2, s.foot / 2), 3, w=s.w + 3, foot=s.foot - 3 * fall)
    yield push("far end back", (s.w, s.d / 2, s.foot / 2), -5, w=s.w - 5, foot=s.foot + 5 * fall)
    yield push("side out", (s.w / 3, s.d, 2), 2, d=s.d + 2)
    lean = math.degrees(math.atan(fall))
    yield tilt("slope level about its foot", slope, (s.w, s.d / 2, s.foot), -lean, h=s.foot)
