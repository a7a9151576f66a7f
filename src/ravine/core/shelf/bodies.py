"""Solids of what is on the shelf, in their own coordinates: Z along the axis, the plane that they sit on at 0, heads
and what stands above it upwards.  Threads are plain cylinders of their nominal size, bores of nuts likewise, unless
real ones are asked for.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from ..kernel import build
from ..kernel.shapes import Shape
from ..kernel.sweep import helix, wound
from . import threads
from .items import Item

Row = Mapping[str, float]


def shape_of(item: Item, real: bool = False) -> Shape:
    """real: with its thread cut, where it has one."""
    row, length = item.row, item.length or 0.0
    if not real or not item.family.threaded:
        return _MAKERS[item.family.name](row, length)
    if item.family.kind == "nut":
        bore = row["d"] - threads.BORE * row["pitch"]
        return threads.inside(_nut({**row, "d": bore}, 0.0), row, 0.0, row["m"])
    plain = _MAKERS[item.family.name]({**row, "d": row["d"] - threads.play(row["pitch"])}, length)
    whole = {"head": -2 * row["pitch"], "flush": -row.get("k", 0.0), "plug": 2 * row["pitch"]}[item.family.seat]
    cut = threads.threaded_length(item.family.name, row["d"], length)
    return threads.outside(plain, row, -length, min(whole, cut - length) if cut < length else whole)


def _hexagon(across: float, low: float, height: float) -> Shape:
    radius = across / math.sqrt(3)
    points = [(radius * math.cos(k * math.pi / 3), radius * math.sin(k * math.pi / 3), low) for k in range(6)]
    return build.extrude(build.outline(points), (0, 0, height))


def _turned(points: list[tuple[float, float]]) -> Shape:
    """A profile (radius, height) turned about Z."""
    return build.revolve(build.outline([(r, 0.0, z) for r, z in points]))


def _shank(d: float, length: float, pitch: float) -> Shape:
    """From 0 down, with a chamfer of half a thread's depth at its end."""
    c = min(0.6 * pitch, d / 5)
    return _turned([(0, 0), (d / 2, 0), (d / 2, -length + c), (d / 2 - c, -length), (0, -length)])


def _socket(across: float, depth: float, top: float) -> Shape:
    return _hexagon(across, top - depth, depth + 1)


def _socket_screw(row: Row, length: float) -> Shape:
    k, dk = row["k"], row["dk"]
    r = dk / 10
    head = _turned([(0, 0), (dk / 2, 0), (dk / 2, k - r), (dk / 2 - r, k), (0, k)])
    return build.subtract(build.unite(head, _shank(row["d"], length, row["pitch"])), _socket(row["s"], row["t"], k))


def _hexagon_screw(row: Row, length: float) -> Shape:
    return build.unite(_hexagon(row["s"], 0, row["k"]), _shank(row["d"], length, row["pitch"]))


def _countersunk(row: Row, length: float) -> Shape:
    """Its top at 0; the length counts from there.  The cone of 90° ends at the actual head, 0.94 of the sharp one."""
    d, k = row["d"], row["k"]
    wide = 0.94 * row["dk"] / 2
    rim = k - (wide - d / 2)
    c = min(0.6 * row["pitch"], d / 5)
    profile = [(0, 0), (wide, 0), (wide, -rim), (d / 2, -k), (d / 2, -length + c), (d / 2 - c, -length), (0, -length)]
    return build.subtract(_turned(profile), _socket(row["s"], row["t"], 0))


def _button(row: Row, length: float) -> Shape:
    k, wide, narrow = row["k"], row["dk"] / 2, row["dk"] / 4
    bulge = (0.88 * wide, 0.0, 0.62 * k)
    outline = build.outline([(0, 0, 0), (wide, 0, 0), (narrow, 0, k), (0, 0, k)], [None, bulge, None, None])
    head = build.revolve(outline)
    return build.subtract(build.unite(head, _shank(row["d"], length, row["pitch"])), _socket(row["s"], row["t"], k))


def _set_screw(row: Row, length: float) -> Shape:
    return build.subtract(_shank(row["d"], length, row["pitch"]), _socket(row["s"], row["t"], 0))


def _nut(row: Row, _: float) -> Shape:
    return build.subtract(_hexagon(row["s"], 0, row["m"]), build.cylinder(row["d"] / 2, row["m"] + 2, (0, 0, -1)))


def _washer(row: Row, _: float) -> Shape:
    return _ring(row["d1"] / 2, row["d2"] / 2, row["h"])


def _ring(inner: float, outer: float, height: float) -> Shape:
    return build.subtract(build.cylinder(outer, height), build.cylinder(inner, height + 2, (0, 0, -1)))


def _dowel(row: Row, length: float) -> Shape:
    r, c = row["d"] / 2, row["c"]
    return _turned([(0, 0), (r - c / 2, 0), (r, -c), (r, -length + c), (r - c / 2, -length), (0, -length)])


def _clevis(row: Row, length: float) -> Shape:
    return build.unite(_shank(row["d"], length, 1.0), build.cylinder(row["dk"] / 2, row["k"]))


def _retaining_ring(row: Row, _: float) -> Shape:
    """As it sits in its groove, opened from its own inner diameter; a gap of a sixth of a turn, an eye at each end."""
    inner, s = row["groove"] / 2, row["s"]
    ring = _ring(inner, inner + row["b"], s)
    far = 2 * (inner + row["b"])
    gap = build.outline([(0, 0, -1), (far, -far * math.tan(math.pi / 12), -1), (far, far * math.tan(math.pi / 12), -1)])
    ring = build.subtract(ring, build.extrude(gap, (0, 0, s + 2)))
    eye, hole = row["a"] / 2, row["a"] / 5
    reach = inner + eye
    for turn in (math.pi / 12 + eye / reach, -math.pi / 12 - eye / reach):
        at = (reach * math.cos(turn), reach * math.sin(turn))
        ring = build.subtract(
            build.unite(ring, build.cylinder(eye, s, (*at, 0))), build.cylinder(hole, s + 2, (*at, -1))
        )
    return ring


def _o_ring(row: Row, _: float) -> Shape:
    return build.torus((row["d1"] + row["d2"]) / 2, row["d2"] / 2)


def _bearing(row: Row, _: float) -> Shape:
    """From 0 down; rings with their corners, and the shields between them set back."""
    a, b, wide, r = row["d"] / 2, row["D"] / 2, row["B"], row["r"]
    third, back = (b - a) / 3, wide / 12
    low, high = a + third, b - third
    return _turned([
        (a, -r), (a + r, 0), (low, 0), (low, -back), (high, -back), (high, 0), (b - r, 0), (b, -r),
        (b, -wide + r), (b - r, -wide), (high, -wide), (high, -wide + back), (low, -wide + back), (low, -wide),
        (a + r, -wide), (a, -wide + r),
    ])  # fmt: skip


def _ball_knob(row: Row, _: float) -> Shape:
    """On its flat."""
    r = row["ball"] / 2
    centre = row["height"] - r
    ball = build.subtract(build.sphere(r, (0, 0, centre)), build.box(3 * r, 3 * r, r, (-1.5 * r, -1.5 * r, -r)))
    return build.subtract(ball, build.cylinder(row["d"] / 2, row["depth"] + 1, (0, 0, -1)))


def _standoff(row: Row, length: float) -> Shape:
    return build.subtract(_hexagon(row["s"], 0, length), build.cylinder(row["core"] / 2, length + 2, (0, 0, -1)))


def _gland(row: Row, _: float) -> Shape:
    body = build.unite(
        _hexagon(row["s"], 0, row["collar"]),
        build.cone(0.48 * row["s"], 0.4 * row["s"], row["dome"], (0, 0, row["collar"])),
        build.cylinder(row["d"] / 2, row["thread"], (0, 0, -row["thread"])),
    )
    whole = row["dome"] + row["collar"] + row["thread"]
    return build.subtract(body, build.cylinder(row["high"] / 2, whole + 2, (0, 0, -row["thread"] - 1)))


def _row_of(count: int, pitch: float) -> list[float]:
    return [(k - (count - 1) / 2) * pitch for k in range(count)]


def _pin_header(row: Row, count: float) -> Shape:
    """Standing on the board."""
    pitch, body, pin = row["pitch"], row["body"], row["pin"]
    whole = build.box(pitch * count, body, body, (-pitch * count / 2, -body / 2, 0))
    height = row["below"] + body + row["above"]
    pins = [build.box(pin, pin, height, (x - pin / 2, -pin / 2, -row["below"])) for x in _row_of(int(count), pitch)]
    return build.unite(whole, *pins)


def _terminal(row: Row, count: float) -> Shape:
    """Standing on the board, wires from the front."""
    pitch, depth, height = row["pitch"], row["depth"], row["height"]
    whole = build.box(pitch * count, depth, height, (-pitch * count / 2, -depth / 2, 0))
    wires = [build.cylinder(row["wire"] / 2, depth / 2, (x, -depth / 2 - 1, height / 4), (0, 1, 0))
             for x in _row_of(int(count), pitch)]  # fmt: skip
    screws = [build.cylinder(pitch / 3, height / 4, (x, 0, 0.85 * height)) for x in _row_of(int(count), pitch)]
    pins = [build.cylinder(row["pin"] / 2, 4, (x, 0, -3.5)) for x in _row_of(int(count), pitch)]
    return build.unite(build.subtract(whole, *wires, *screws), *pins)


def _spring(row: Row, length: float) -> Shape:
    """A helix of round wire, its two ends in the planes at 0 and at its length."""
    wire, radius = row["wire"] / 2, (row["outer"] - row["wire"]) / 2
    climb = length - 2 * wire
    start = (radius, 0.0, wire)
    ring = build.outline([(radius - wire, 0, wire), (radius + wire, 0, wire)], [(radius, 0, 2 * wire), (radius, 0, 0)])
    spine = helix(start, (0, 0, 0), (0, 0, 1), climb / row["turns"], climb, 0.0, True)
    return wound(ring, spine, (0, 0, 1))


def _profile(row: Row, length: float) -> Shape:
    """A square bar with a slot for hammer nuts on each side and a bore in its middle."""
    half, opening = row["side"] / 2, row["opening"] / 2
    lip, deep = row["side"] / 11, row["side"] / 4
    wide = row["slot"] * 0.9
    slot = [(-opening, half + 1), (opening, half + 1), (opening, half - lip), (wide, half - lip),
            (opening, half - deep), (-opening, half - deep), (-wide, half - lip), (-opening, half - lip)]  # fmt: skip
    bar = build.box(2 * half, 2 * half, length, (-half, -half, 0))
    cuts = []
    for turn in range(4):
        c, s = round(math.cos(turn * math.pi / 2)), round(math.sin(turn * math.pi / 2))
        points = [(c * x - s * y, s * x + c * y, -1.0) for x, y in slot]
        cuts.append(build.extrude(build.outline(points), (0, 0, length + 2)))
    return build.subtract(bar, *cuts, build.cylinder(row["core"] / 2, length + 2, (0, 0, -1)))


def _tube(row: Row, length: float) -> Shape:
    return _ring(row["inner"] / 2, row["outer"] / 2, length)


_MAKERS: dict[str, Callable[[Row, float], Shape]] = {
    "iso4762": _socket_screw, "iso4017": _hexagon_screw, "iso10642": _countersunk, "iso7380": _button,
    "iso4026": _set_screw, "iso4032": _nut, "iso7089": _washer, "iso2338": _dowel, "iso2341": _clevis,
    "din471": _retaining_ring, "iso3601": _o_ring, "iso15": _bearing, "din319": _ball_knob, "standoff": _standoff,
    "gland": _gland, "pin_header": _pin_header, "terminal": _terminal, "spring": _spring, "profile": _profile,
    "tube": _tube,
}  # fmt: skip
