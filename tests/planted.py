"""Plates with features planted in them, and what was planted: for tests and for `./ravine bench features`."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from ravine.core.features.feature import Feature
from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape

CELL, THICK = 34.0, 18.0  # mm: room for each, and the plate
COLUMNS, ROWS = 4, 3
Spot = tuple[float, float]


@dataclass(frozen=True)
class Planted:
    """What was put there: tools to cut and matter to add, and what it has to be found as."""

    kind: str
    form: str
    sizes: dict[str, float]
    cut: tuple[Shape, ...] = ()
    add: tuple[Shape, ...] = ()


def _size(chance: random.Random, low: float, high: float) -> float:
    return round(chance.uniform(low, high), 2)


def _through(chance: random.Random, x: float, y: float) -> Planted:
    r = _size(chance, 1.5, 9)
    return Planted("hole", "through", {"diameter": 2 * r, "depth": THICK}, (build.cylinder(r, THICK + 2, (x, y, -1)),))


def _blind(chance: random.Random, x: float, y: float) -> Planted:
    r, depth = _size(chance, 1.5, 8), _size(chance, 3, 15)
    tool = build.cylinder(r, depth + 1, (x, y, THICK - depth))
    return Planted("hole", "blind, flat end", {"diameter": 2 * r, "depth": depth}, (tool,))


def _drilled(chance: random.Random, x: float, y: float) -> Planted:
    r, depth = _size(chance, 1.5, 5), _size(chance, 3, 12)
    tip = r / math.tan(math.radians(59))
    bore = build.cylinder(r, depth + 1, (x, y, THICK - depth))
    cone = build.cone(r, 0, tip, (x, y, THICK - depth), (0, 0, -1))
    sizes = {"diameter": 2 * r, "depth": depth, "tip_angle": 118.0}
    return Planted("hole", "blind, conical end", sizes, (build.unite(bore, cone),))


def _counterbored(chance: random.Random, x: float, y: float) -> Planted:
    r, deep = _size(chance, 1.5, 5), _size(chance, 2, 12)
    wide = r + _size(chance, 1, 4)
    sizes = {"diameter": 2 * r, "counterbore_diameter": 2 * wide, "counterbore_depth": deep}
    tools = build.cylinder(r, THICK + 2, (x, y, -1)), build.cylinder(wide, deep + 1, (x, y, THICK - deep))
    return Planted("hole", "counterbored, through", sizes, tools)


def _countersunk(chance: random.Random, x: float, y: float) -> Planted:
    r = _size(chance, 1.5, 5)
    wide = r * chance.uniform(1.6, 2.2)
    sink = build.cone(r, wide, wide - r, (x, y, THICK - (wide - r)))
    sizes = {"diameter": 2 * r, "countersink_diameter": 2 * wide, "countersink_angle": 90.0}
    return Planted("hole", "countersunk, through", sizes, (build.cylinder(r, THICK + 2, (x, y, -1)), sink))


def _slot_tool(x: float, y: float, length: float, width: float, low: float, high: float) -> Shape:
    r, half = width / 2, (length - width) / 2
    middle = build.box(2 * half, width, high - low, (x - half, y - r, low))
    return build.unite(middle, *(build.cylinder(r, high - low, (x + s * half, y, low)) for s in (-1, 1)))


def _slot(chance: random.Random, x: float, y: float) -> Planted:
    width, length = _size(chance, 4, 9), _size(chance, 14, 26)
    depth = THICK if chance.random() < 0.3 else _size(chance, 3, 12)
    form = "closed, round ends" + (", through" if depth == THICK else "")
    tool = _slot_tool(x, y, length, width, THICK - depth - (depth == THICK), THICK + 1)
    return Planted("slot", form, {"width": width, "length": length, "depth": depth}, (tool,))


def _pocket(chance: random.Random, x: float, y: float) -> Planted:
    length, width, depth = _size(chance, 16, 26), _size(chance, 9, 15), _size(chance, 4, 12)
    tool = build.box(length, width, depth + 1, (x - length / 2, y - width / 2, THICK - depth))
    sizes = {"length": length, "width": width, "depth": depth}
    if chance.random() < 0.6:
        r = _size(chance, 1, 3)
        tool = build.fillet(tool, r, lambda e: e.kind == "line" and abs(e.ends[0][2] - e.ends[1][2]) > 1)
        sizes["corner_radius"] = r
    return Planted("pocket", "closed", sizes, (tool,))


def _boss(chance: random.Random, x: float, y: float) -> Planted:
    r, height = _size(chance, 3, 12), _size(chance, 3, 20)
    return Planted(
        "boss", "round", {"diameter": 2 * r, "height": height}, (), (build.cylinder(r, height + 1, (x, y, THICK - 1)),)
    )


def _pad(chance: random.Random, x: float, y: float) -> Planted:
    length, width, height = _size(chance, 16, 26), _size(chance, 10, 15), _size(chance, 3, 9)
    matter = build.box(length, width, height + 1, (x - length / 2, y - width / 2, THICK - 1))
    return Planted("boss", "pad", {"length": length, "width": width, "height": height}, (), (matter,))


def _rib(chance: random.Random, x: float, y: float) -> Planted:
    length, thick, height = _size(chance, 18, 28), _size(chance, 1.5, 3), _size(chance, 7, 14)
    matter = build.box(length, thick, height + 1, (x - length / 2, y - thick / 2, THICK - 1))
    return Planted("rib", "", {"thickness": thick, "height": height, "length": length}, (), (matter,))


def _stepped(chance: random.Random, x: float, y: float) -> Planted:
    """From below: narrow, wider, widest at the mouth."""
    r = _size(chance, 1.5, 3)
    radii, depths = (r, r + _size(chance, 1, 2), r + _size(chance, 3, 5)), (THICK, _size(chance, 8, 13), 4.0)
    tools = [build.cylinder(radii[0], THICK + 2, (x, y, -1))]
    tools += [build.cylinder(w, d + 1, (x, y, THICK - d)) for w, d in zip(radii[1:], depths[1:], strict=True)]
    sizes = {f"diameter_{k}": 2 * w for k, w in enumerate(radii, 1)}
    return Planted("hole", "stepped, through", {"diameter": 2 * r, **sizes, "depth_3": 4.0}, tuple(tools))


def _tapered_boss(chance: random.Random, x: float, y: float) -> Planted:
    """With draft."""
    r, height, lean = _size(chance, 6, 12), _size(chance, 5, 15), math.tan(math.radians(_size(chance, 1, 5)))
    matter = build.cone(r + lean, r - lean * height, height + 1, (x, y, THICK - 1))
    return Planted("boss", "round, tapered", {"diameter": 2 * r, "height": height}, (), (matter,))


def _leaning_prism(x: float, y: float, sides: Spot, low: float, high: float, lean: float) -> Shape:
    """An oblong with its given sides (mm) at the height of the plate's top, growing by lean upwards on each side."""
    rings = []
    for z in (low, high):
        a, b = (side / 2 + lean * (z - THICK) for side in sides)
        rings.append([(x - a, y - b, z), (x + a, y - b, z), (x + a, y + b, z), (x - a, y + b, z)])
    walls = [(rings[0][k - 1], rings[0][k], rings[1][k], rings[1][k - 1]) for k in range(4)]
    return build.polyhedron([rings[0][::-1], rings[1], *walls])


def _drafted_pad(chance: random.Random, x: float, y: float) -> Planted:
    length, width, height = _size(chance, 16, 26), _size(chance, 10, 15), _size(chance, 3, 9)
    lean = math.tan(math.radians(_size(chance, 1, 5)))
    matter = _leaning_prism(x, y, (length, width), THICK - 1, THICK + height, -lean)
    return Planted("boss", "pad", {"length": length, "width": width, "height": height}, (), (matter,))


def _drafted_pocket(chance: random.Random, x: float, y: float) -> Planted:
    length, width, depth = _size(chance, 18, 26), _size(chance, 10, 15), _size(chance, 4, 12)
    lean = math.tan(math.radians(_size(chance, 1, 5)))
    tool = _leaning_prism(x, y, (length, width), THICK - depth, THICK + 1, lean)
    return Planted("pocket", "closed", {"length": length, "width": width, "depth": depth}, (tool,))


def _floored_pocket(chance: random.Random, x: float, y: float) -> Planted:
    """With rounds around its floor, in a corner as large as that between its walls."""
    length, width, depth, r = (_size(chance, *row) for row in ((18, 26), (10, 15), (5, 12), (1, 2)))
    tool = build.box(length, width, depth + 1, (x - length / 2, y - width / 2, THICK - depth))
    tool = build.fillet(tool, r + 0.5, lambda e: e.kind == "line" and abs(e.ends[0][2] - e.ends[1][2]) > 1)
    tool = build.fillet(tool, r, lambda e: e.middle[2] < THICK - depth + 1e-6)
    sizes = {"length": length, "width": width, "depth": depth, "corner_radius": r + 0.5, "floor_radius": r}
    return Planted("pocket", "closed", sizes, (tool,))


Planter = Callable[[random.Random, float, float], Planted]
INNER: tuple[Planter, ...] = (
    _through, _blind, _drilled, _counterbored, _countersunk, _slot, _pocket, _boss, _pad, _rib,
)  # fmt: skip
CAST = (_stepped, _tapered_boss, _drafted_pad, _drafted_pocket, _floored_pocket)  # with drafts and rounds


def _border(chance: random.Random) -> Iterator[Planted]:
    """Cut into the sides of the plate: a step along one, channels and notches in others."""
    long, wide = COLUMNS * CELL, ROWS * CELL
    if chance.random() < 0.5:
        width, depth = _size(chance, 2, 3.8), _size(chance, 3, 12)
        tool = build.box(width + 1, wide + 2, depth + 1, (-1, -1, THICK - depth))
        yield Planted("step", "", {"width": max(width, depth), "length": wide, "depth": min(width, depth)}, (tool,))
    if chance.random() < 0.5:
        width, length = _size(chance, 4, 8), _size(chance, 3, 4)
        tool = build.box(length + 1, width, THICK + 2, (long - length, CELL - width / 2, -1))
        yield Planted("slot", "open at both ends", {"width": width, "length": THICK, "depth": length}, (tool,))
    if chance.random() < 0.5:
        width, depth = _size(chance, 2, 4), _size(chance, 2, 5)
        tool = build.box(width, wide + 2, depth + 1, (2 * CELL - width / 2, -1, -1))
        yield Planted("slot", "open at both ends", {"width": width, "length": wide, "depth": depth}, (tool,))


def planted_casting(seed: int) -> tuple[Shape, list[Planted]]:
    """As the plate, half of them with drafts and rounds."""
    return planted_plate(seed, (*INNER, *CAST, *CAST))


def planted_plate(seed: int, kinds: Sequence[Planter] = INNER) -> tuple[Shape, list[Planted]]:
    chance = random.Random(seed)
    shape = build.box(COLUMNS * CELL, ROWS * CELL, THICK)
    rows = [
        chance.choice(kinds)(chance, (i + 0.5) * CELL, (j + 0.5) * CELL)
        for i in range(COLUMNS)
        for j in range(ROWS)
        if chance.random() < 0.8
    ]
    rows += _border(chance)
    added = [matter for row in rows for matter in row.add]
    shape = build.unite(shape, *added) if added else shape
    tools = [tool for row in rows for tool in row.cut]
    return (build.subtract(shape, *tools) if tools else shape), rows


def planted_shaft(seed: int) -> tuple[Shape, list[Planted]]:
    """A turned shaft with grooves, a broken edge and a bore in its end."""
    chance = random.Random(seed)
    radius, long = _size(chance, 10, 20), _size(chance, 60, 90)
    shape, rows = build.cylinder(radius, long), []
    for k in range(chance.randrange(1, 4)):
        width, depth = _size(chance, 1, 4), _size(chance, 0.5, 4)
        at = 10 + 14 * k
        ring = build.subtract(
            build.cylinder(radius + 5, width, (0, 0, at)), build.cylinder(radius - depth, width, (0, 0, at))
        )
        rows.append(
            Planted(
                "groove", "around a shaft", {"diameter": 2 * (radius - depth), "width": width, "depth": depth}, (ring,)
            )
        )
    r, deep = _size(chance, 2, 5), _size(chance, 10, 40)
    sizes = {"diameter": 2 * r, "depth": deep}
    rows.append(Planted("hole", "blind, flat end", sizes, (build.cylinder(r, deep + 1, (0, 0, long - deep)),)))
    shape = build.subtract(shape, *(tool for row in rows for tool in row.cut))
    width = _size(chance, 0.5, 1.5)
    shape = build.chamfer(shape, width, lambda e: e.kind == "circle" and abs(e.middle[2]) < 1e-6)
    return shape, [*rows, Planted("chamfer", "", {"width": width})]


def match(found: list[Feature], planted: list[Planted], within: float = 1e-5) -> tuple[list[Planted], list[Feature]]:
    """What was missed, and what was told that was not planted."""
    left, missed = list(found), []
    for want in planted:
        fits = next(
            (f for f in left if f.kind == want.kind and f.form == want.form
             and all(abs(f.sizes.get(n, -1.0) - v) < within for n, v in want.sizes.items())), None,
        )  # fmt: skip
        if fits is None:
            missed.append(want)
        else:
            left.remove(fits)
    rounds = {w.sizes.get(n) for w in planted for n in ("corner_radius", "floor_radius")}
    return missed, [
        f for f in left if not (f.kind == "fillet" and any(r and abs(f.sizes["radius"] - r) < within for r in rounds))
    ]
