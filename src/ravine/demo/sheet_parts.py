"""Sheet metal of the gauging station: a battery tray and a rain hood, each a plate that edits pull into shape, and a
cover that comes in wrong."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.model.query import EdgeSet
from ravine.core.rigid import IDENTITY

TRAY, HOOD = (150.0, 100.0, 1.5), (200.0, 150.0, 1.0)  # plates: long, wide, thick
Edits = list[tuple[str, dict[str, Any]]]


def tray_plate() -> Shape:
    long, wide, thick = TRAY
    feet = [build.cylinder(2.25, 9, (x, y, -3)) for x in (15, long - 15) for y in (15, wide - 15)]
    window = build.box(60, 30, 9, (45, 35, -3))
    return build.subtract(build.box(long, wide, thick), window, *feet)


def hood_plate() -> Shape:
    return build.box(*HOOD)


def cover() -> Shape:
    """Walls of 2 mm whose left bend has its inner face about another axis, one wall thinned by a hundredth."""
    t, r, wide, high = 2.0, 3.0, 60.0, 28.0
    s = math.sqrt(0.5)
    outer, inner = r + t, r
    left, right = (0.0, outer), (wide, outer)
    ring = [
        (0, 0), (wide, 0), (wide + outer, outer), (wide + outer, outer + high), (wide + inner, outer + high),
        (wide + inner, outer), (wide, t), (0, t), (-inner, outer), (-inner, outer + high), (-outer, outer + high),
        (-outer, outer),
    ]  # fmt: skip
    middles: list[tuple[float, float] | None] = [None] * len(ring)
    middles[1] = (right[0] + outer * s, right[1] - outer * s)
    middles[5] = (right[0] + inner * s, right[1] - inner * s)
    middles[7] = (left[0] - inner * s + 0.06, left[1] - inner * s + 0.06)  # about an axis of its own
    middles[11] = (left[0] - outer * s, left[1] - outer * s)
    face = build.outline([(x, 0, z) for x, z in ring], [None if m is None else (m[0], 0, m[1]) for m in middles])
    body = build.extrude(face, (0, 45, 0))
    soft = build.fillet(body, 0.6, lambda e: abs(e.middle[0] - wide - outer) < 1e-6 and e.middle[2] > high)
    return build.subtract(soft, build.cylinder(4, 9, (wide / 2, 22, -3)))


def tree(name: str, shape: Shape, colour: str) -> tuple[list[WriteNode], list[WritePart]]:
    return [WriteNode(name, IDENTITY, 0, [])], [WritePart(name, shape, colour, {})]


def tray_edits(path: Path) -> Edits:
    model, done = _begun(path)
    rims = _rims(model, TRAY[2])
    _do(model, done, "flange", edges=list(rims.values()), length="40 mm", radius="2 mm", corners="closed", gap="0.3 mm")
    _do(model, done, "make sheet", on=model.nodes(), rule="din 6935")
    bend = max(model.flat(model.bodies()[0]).bends, key=lambda b: b.line[0][0] + b.line[1][0])
    at = [round(sum(p[k] for p in bend.line) / 2, 3) for k in (0, 1)]
    _do(model, done, "cut flat", on=model.nodes(), shape="slot", size="9 mm", length="26 mm", at=at)
    return done


def hood_edits(path: Path) -> Edits:
    model, done = _begun(path)
    low = _rims(model, 0.0)
    sides = [low["right"], low["left"], low["back"]]
    _do(model, done, "flange", edges=sides, length="34 mm", radius="1.5 mm", corners="closed", gap="0.3 mm")
    front = _rims(model, 0.0)["front"]
    _do(model, done, "flange", edges=[front], length="16 mm", angle="60°", radius="1.5 mm", first="3 mm", last="3 mm")
    _do(model, done, "make sheet", on=model.nodes(), rule="din 6935")
    return done


def _begun(path: Path) -> tuple[Model, Edits]:
    model = Model()
    model.do("import", path=str(path))
    return model, []


def _do(model: Model, done: Edits, name: str, **values: Any) -> None:
    model.do(name, **values)
    done.append((name, values))


def _rims(model: Model, height: float) -> dict[str, str]:
    """Straight edges of the plate at a height, by side."""
    rows = EdgeSet(e for e in model.edges(kind="line") if abs(e.middle[2] - height) < 1e-6 and e.length > 90)
    ways = {"right": (1, 0, 0), "left": (-1, 0, 0), "back": (0, 1, 0), "front": (0, -1, 0)}
    return {side: rows.highest(way).id for side, way in ways.items()}
