"""How long a part prints and what of it: walls, skins and fill of every layer, by a plain model of the machine.

time = Σ layers (outline · walls / v + filled area / (w v) + t); speeds capped by what the nozzle melts.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.affinity import rotate
from shapely.geometry import LineString, MultiLineString
from shapely.geometry.base import BaseGeometry

from .layers import Layers
from .machines import Machine

WALLS = 2  # lines of outline
SKINS = 4  # layers of skin above and below
FILL = 0.2  # share of the inside
EACH = 2.0  # s, from one layer to the next
SUPPORT = 0.15  # share of the room below that support fills
RESIN_LAYER, POWDER_LAYER = 8.0, 12.0  # s


@dataclass(frozen=True)
class Estimate:
    """seconds; grams of the part; support: grams; layers; cost in the currency of the machine's table."""

    seconds: float
    grams: float
    support: float
    layers: int
    cost: float


def estimated(layers: Layers, machine: Machine, support: float) -> Estimate:
    """support: mm³ of room below what hangs over."""
    count = len(layers.heights)
    below = SUPPORT * support if machine.overhang else 0.0
    if machine.process != "filament":
        volume = float(layers.areas.sum() * layers.thick)
        each = RESIN_LAYER if machine.process == "resin" else POWDER_LAYER
        return _told(count * each, volume, below, count, machine)
    line = 1.1 * machine.nozzle
    speed = min(machine.speed, machine.flow / (line * layers.thick))
    walls = np.minimum(layers.outlines * WALLS * line, layers.areas)
    inner = layers.areas - walls
    skin = np.zeros(count)
    for k in range(1, min(SKINS, count - 1) + 1):  # what the layers above and below leave bare, by their areas
        above, below_it = np.zeros(count), np.zeros(count)
        above[:-k], below_it[k:] = layers.areas[k:], layers.areas[:-k]
        skin = np.maximum(skin, layers.areas - np.minimum(above, below_it))
    skin[:SKINS] = inner[:SKINS]
    skin[-SKINS:] = inner[-SKINS:]
    skin = np.minimum(skin, inner)
    filled = skin + FILL * (inner - skin)
    area = walls + filled
    seconds = float((area / line / speed + EACH).sum()) + below / (line * layers.thick) / speed
    return _told(seconds, float(area.sum() * layers.thick), below, count, machine)


def _told(seconds: float, volume: float, support: float, count: int, machine: Machine) -> Estimate:
    grams, extra = volume * machine.density / 1000, support * machine.density / 1000
    return Estimate(seconds, grams, extra, count, (grams + extra) * machine.rate)


@dataclass(frozen=True)
class LayerView:
    """Of one layer: outlines, wall lines, fill and support as plane geometry, mm on the bed."""

    outline: BaseGeometry
    walls: list[BaseGeometry]
    fill: BaseGeometry
    support: BaseGeometry


def layer_view(layers: Layers, layer: int, machine: Machine) -> LayerView:
    """Support: below what the next layers above reach beyond this one, by the angle that needs none."""
    shape = layers.shape(layer)
    line = 1.1 * machine.nozzle if machine.nozzle else 0.4
    walls = [shape.buffer(-(k + 0.5) * line).boundary for k in range(WALLS)] if machine.nozzle else []
    inner = shape.buffer(-WALLS * line)
    count = len(layers.heights)
    skin = layer < SKINS or layer >= count - SKINS
    gap = line if skin else line / FILL
    fill = _hatched(inner, gap, 45 if layer % 2 else -45) if machine.nozzle else MultiLineString()
    return LayerView(shape, walls, fill, _support(layers, layer, shape, machine))


def _support(layers: Layers, layer: int, shape: BaseGeometry, machine: Machine) -> BaseGeometry:
    if not machine.overhang:
        return shapely.Polygon()
    reach = layers.thick * math.tan(math.radians(machine.overhang))
    found, above = shapely.Polygon(), len(layers.heights)
    step = max(1, (above - layer) // 40)
    for k in range(layer + step, above, step):
        here = layers.shape(k)
        below = layers.shape(k - 1)
        found = found.union(here.difference(below.buffer(reach + 1e-3)).buffer(0))
    return found.difference(shape.buffer(0.3))


def _hatched(area: BaseGeometry, gap: float, degrees: float) -> BaseGeometry:
    if area.is_empty:
        return MultiLineString()
    turned = rotate(area, -degrees, origin=(0, 0))
    x0, y0, x1, y1 = turned.bounds
    lines = MultiLineString([LineString([(x0, y), (x1, y)]) for y in np.arange(y0 + gap / 2, y1, gap)])
    return rotate(turned.intersection(lines), degrees, origin=(0, 0))


def packed(sizes: list[tuple[float, float]], machine: Machine, room: float = 5.0) -> list[tuple[int, float, float]]:
    """Where parts of these sizes (mm across, deep) lie on beds: bed, x, y of the lower left corner; shelves of falling
    depth, first fit (Coffman, Garey, Johnson 1980).  -1 for a bed where one does not fit."""
    order = sorted(range(len(sizes)), key=lambda k: -sizes[k][1])
    found: list[tuple[int, float, float]] = [(-1, 0.0, 0.0)] * len(sizes)
    shelves: list[list[float]] = []  # bed, y, height, x so far
    tops: dict[int, float] = {}
    for k in order:
        wide, deep = sizes[k]
        if wide > machine.long or deep > machine.wide:
            continue
        shelf = next((s for s in shelves if s[3] + wide <= machine.long and deep <= s[2]), None)
        if shelf is None:
            bed = next((b for b, top in tops.items() if top + deep <= machine.wide), len(tops))
            shelf = [bed, tops.get(bed, 0.0), deep, 0.0]
            tops[bed] = shelf[1] + deep + room
            shelves.append(shelf)
        found[k] = (int(shelf[0]), shelf[3], shelf[1])
        shelf[3] += wide + room
    return found
