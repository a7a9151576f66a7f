"""What a workshop would stop at: bends that the die cannot hold, holes that would be drawn, radii that crack.

Rules of thumb of press brakes: the die's opening is about six times the thickness up to 3 mm and eight times up to 10;
a leg has to reach over half of it; a hole or an edge keeps twice the thickness and the radius from a bend (DIN 6935,
Bbl. 2).  Least inner radii by material and thickness follow DIN 6935, rounded.  Force of air bending:
1.42 Rm t² l / V (N, mm), e.g. Lange, Umformtechnik 3.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from ..sketch.loops import polygon
from ..units import format_length
from . import gauges
from .outlines import plane_polygon
from .reading import SheetReading
from .unfold import BendLine, Flat

# by material: tensile strength (MPa), least inner radius in thicknesses
MATERIALS = {
    "structural steel": (400.0, 1.0), "stainless steel": (600.0, 1.0), "wrought aluminium": (240.0, 1.2),
    "tin bronze": (350.0, 1.5), "brass": (350.0, 1.0), "cast aluminium": (240.0, 2.5),
}  # fmt: skip
USUAL = (400.0, 1.0)
KINDS = {
    "short leg": "a leg is shorter than the die allows",
    "hole near bend": "a hole lies too near to a bend",
    "edge near bend": "an edge runs too near to a bend",
    "tight radius": "a bend is tighter than the material allows",
    "no tool": "no punch in stock has this radius",
    "odd gauge": "no usual sheet has this thickness",
    "no relief": "a bend ends within the sheet without a relief",
    "clash": "the flat lies over itself",
}
DOUBLE = 1e-6
OFF = 0.02  # relative, within which a radius or a thickness is one of a table
BESIDE = math.radians(45)  # off a bend's direction, up to which an edge runs beside it


@dataclass(frozen=True)
class ShopFinding:
    """kind: of KINDS; faces: numbers in the solid; has, least: mm; place: in the flat."""

    kind: str
    faces: tuple[int, ...]
    has: float
    least: float
    place: tuple[float, float]


@dataclass(frozen=True)
class PressWork:
    """force: kN for the bend; die: mm of its opening."""

    face: int
    force: float
    die: float


def die_opening(thickness: float) -> float:
    """mm."""
    return (6.0 if thickness <= 3 else 8.0) * thickness


def press_work(flat: Flat, material: str | None) -> list[PressWork]:
    strength, _ = MATERIALS.get(material or "", USUAL)
    t = flat.reading.thickness
    die = die_opening(t)
    return [PressWork(b.face, 1.42 * strength * t * t * b.length / die / 1000, die) for b in flat.bends]


def shop_findings(flat: Flat, material: str | None) -> list[ShopFinding]:
    _, tightest = MATERIALS.get(material or "", USUAL)
    t = flat.reading.thickness
    found = []
    for bend in (b for b in flat.bends if b.edge is None):
        middle = ((bend.start[0] + bend.end[0]) / 2, (bend.start[1] + bend.end[1]) / 2)
        if bend.radius < tightest * t - DOUBLE and bend.angle < math.pi - 1e-3:
            found.append(ShopFinding("tight radius", (bend.face,), bend.radius, tightest * t, middle))
        tool = gauges.nearest(bend.radius, gauges.radii())
        if abs(tool - bend.radius) > OFF * max(bend.radius, t) and not bend.cone and bend.angle < math.pi - 1e-3:
            found.append(ShopFinding("no tool", (bend.face,), bend.radius, tool, middle))
        found += _legs(flat, bend)
        found += _near(flat, bend)
        found += _unrelieved(flat, bend)
    gauge = gauges.nearest(t, gauges.gauges(material))
    if abs(gauge - t) > OFF * t:
        x, y = flat.panels[flat.reading.root].shape.representative_point().coords[0]
        found.append(ShopFinding("odd gauge", (flat.reading.root,), t, gauge, (x, y)))
    for clash in flat.clashes:
        found.append(ShopFinding("clash", clash.faces, clash.area, 0.0, clash.place))
    return found


def _across(bend: BendLine) -> np.ndarray:
    way = np.subtract(bend.end, bend.start)
    return np.array([-way[1], way[0]]) / np.hypot(*way)


def _legs(flat: Flat, bend: BendLine) -> list[ShopFinding]:
    """From the outer corner to where the leg ends: over half the die's opening and a little."""
    t = flat.reading.thickness
    if bend.angle > math.pi - 1e-3 or bend.cone:
        return []
    least = die_opening(t) / 2 + 0.5 * t
    outer = (bend.radius + t) * math.tan(min(bend.angle, math.pi / 2) / 2)
    found, across, start = [], _across(bend), np.array(bend.start)
    for face in _beside(flat.reading, bend.face):
        if flat.reading.panels[face].bend:
            continue
        ring = np.vstack([polygon(loop) for loop in flat.panels[face].loops[:1]])
        far = float(np.abs((ring - start) @ across).max()) - bend.allowance / 2 + outer
        if far < least - DOUBLE:
            x, y = ring.mean(axis=0).tolist()
            found.append(ShopFinding("short leg", (face, bend.face), far, least, (x, y)))
    return found


def _beside(reading: SheetReading, face: int) -> list[int]:
    return [j.second if j.first == face else j.first for j in reading.joints if face in (j.first, j.second)]


def _near(flat: Flat, bend: BendLine) -> list[ShopFinding]:
    """Holes of the walls beside a bend."""
    t = flat.reading.thickness
    least = 2 * t + bend.radius
    line = LineString([bend.start, bend.end])
    found = []
    for face in _beside(flat.reading, bend.face):
        laid = flat.panels.get(face)
        if laid is None or flat.reading.panels[face].bend:
            continue
        for loop in laid.loops[1:]:
            hole = LineString(np.vstack([polygon(loop), polygon(loop)[:1]]))
            gap = float(line.distance(hole)) - bend.allowance / 2
            if gap < least - DOUBLE:
                x, y = np.array(hole.coords).mean(axis=0).tolist()
                found.append(ShopFinding("hole near bend", (face, bend.face), max(gap, 0.0), least, (x, y)))
        found += _notches(flat, bend, face, line, least)
    return found


def _notches(flat: Flat, bend: BendLine, face: int, line: LineString, least: float) -> list[ShopFinding]:
    """Edges of a wall's outline that run beside a bend without being its far end."""
    ring = polygon(flat.panels[face].loops[0])
    across, start = _across(bend), np.array(bend.start)
    far = float(np.abs((ring - start) @ across).max())
    along = np.array([across[1], -across[0]])
    low, high = sorted((0.0, float(np.subtract(bend.end, bend.start) @ along)))
    for a, b in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        step = b - a
        size = float(np.hypot(*step))
        if size < 0.5 * flat.reading.thickness or abs(float(step @ across)) > math.sin(BESIDE) * size:
            continue
        spots = sorted([float((a - start) @ along), float((b - start) @ along)])
        if min(spots[1], high) - max(spots[0], low) < flat.reading.thickness:
            continue  # beyond its ends
        away = float(np.abs((np.array([a, b]) - start) @ across).max())
        gap = float(line.distance(LineString([a, b]))) - bend.allowance / 2
        if DOUBLE < gap < least - DOUBLE and away < far - DOUBLE:
            x, y = ((a + b) / 2).tolist()
            return [ShopFinding("edge near bend", (face, bend.face), gap, least, (x, y))]
    return []


def _unrelieved(flat: Flat, bend: BendLine) -> list[ShopFinding]:
    """An end of a bend beside which the sheet goes on, in the bend or before it: it would tear there."""
    whole, across = _whole(flat), _across(bend)
    along = np.subtract(bend.end, bend.start)
    along = along / np.hypot(*along)
    step, half = 0.05 * flat.reading.thickness, bend.allowance / 2
    parent = flat.tree.get(bend.face, (None, None))[0]
    places = [(whole, half - step), (whole, step - half)]
    if parent is not None:
        wall = flat.panels[parent].shape
        middle = np.array(wall.centroid.coords[0]) - bend.start
        places.append((wall, math.copysign(half + step, float(middle @ across))))
    found = []
    for end, out in ((bend.start, -along), (bend.end, along)):
        beyond = [(shape, np.array(end) + step * out + off * across) for shape, off in places]
        if any(shape.covers(LineString([p, p + 1e-6 * out])) for shape, p in beyond):
            found.append(ShopFinding("no relief", (bend.face,), 0.0, flat.reading.thickness, (end[0], end[1])))
    return found


def _whole(flat: Flat) -> BaseGeometry:
    return plane_polygon([polygon(loop) for loop in flat.loops])


def least_first(rows: Sequence[ShopFinding]) -> list[ShopFinding]:
    """The gravest kinds first, as KINDS has them."""
    order = list(KINDS)
    return sorted(rows, key=lambda f: order.index(f.kind))


def words(finding: ShopFinding, units: str) -> str:
    """What it is, by how much, and the nearest that works."""
    if finding.kind in ("clash", "no relief"):
        return KINDS[finding.kind]
    has, least = (format_length(v, units, decimals=2) for v in (finding.has, finding.least))
    return f"{KINDS[finding.kind]}: {has}, {least} works"
