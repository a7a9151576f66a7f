"""Matter of a flange: a bend about an axis beside the edge, a flat leg beyond it, and what is cut away for them.

Lengths of a leg are counted from the outer corner (where the outer faces would meet), from the inner corner, or from
where the bend ends (DIN 6935).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import CannotDo, EditError
from ..kernel import build
from ..kernel.shapes import Shape
from .rim import Rim

COUNTED = {"outside": "to the outside", "inside": "to the inside", "tangent": "beyond the bend"}
PLACED = {"beyond": "beyond the edge", "flush": "flush with the edge"}
RELIEFS = {"none": "torn", "rectangular": "square reliefs", "round": "round reliefs"}
SHARPEST = 1e-3  # of the thickness: inner radius of a bend that is to have none
OVER = 1.0  # mm by which cutting tools stand over


@dataclass(frozen=True)
class FlangeSizes:
    """length: of the leg, counted as `counted` says; angle: rad; radius: inner; first, last: mm left free at the start
    and at the end of the edge; placed: of PLACED; relief: of RELIEFS, wide and deep mm."""

    length: float
    angle: float
    radius: float
    counted: str = "outside"
    placed: str = "beyond"
    first: float = 0.0
    last: float = 0.0
    relief: str = "rectangular"
    wide: float | None = None
    deep: float | None = None


@dataclass(frozen=True, eq=False)
class FlangeMatter:
    """What is cut from the sheet, then what is added."""

    cut: tuple[Shape, ...]
    added: tuple[Shape, ...]


def leg(sizes: FlangeSizes, thickness: float) -> float:
    """mm of the flat part.  Raises EditError with the least length that leaves one."""
    half = math.tan(min(sizes.angle, math.pi / 2) / 2)
    taken = {"outside": sizes.radius + thickness, "inside": sizes.radius, "tangent": 0.0}[sizes.counted] * half
    flat = sizes.length - taken
    if flat < 1e-6:
        least = taken + max(1.0, thickness)
        raise EditError(
            f"the bend alone takes {taken:.4g} mm of that length, so no leg is left",
            field="length",
            nearest=f"{least:.4g} mm",
        )
    return flat


def setback(sizes: FlangeSizes, thickness: float) -> float:
    """mm by which the bend begins before the edge."""
    if sizes.placed == "beyond":
        return 0.0
    return (sizes.radius + thickness) * math.tan(min(sizes.angle, math.pi / 2) / 2)


@dataclass(frozen=True)
class Mitre:
    """Where the leg of a flange has to end beside another one: at `at` along the edge (mm) for what lies over the edge,
    and `slope` further for each mm that it stands out; closed: it goes on up to there, else it only makes room."""

    at: float
    slope: float
    closed: bool


def flange_matter(rim: Rim, sizes: FlangeSizes, start: Mitre | None = None, end: Mitre | None = None) -> FlangeMatter:
    """start, end: beside other flanges at either end of the edge.  Raises EditError for sizes that leave nothing."""
    t = rim.thickness
    if not 0 < sizes.angle <= math.pi:
        raise EditError("the angle is above 0 and up to 180°", field="angle", nearest="90°")
    if sizes.radius < 0:
        raise EditError("the inner radius is 0 or more", field="radius", nearest=f"{t:.4g} mm")
    low, high = sizes.first, rim.length - sizes.last
    if high - low < 1e-6:
        raise EditError("nothing of the edge is left between the two ends", field="first", nearest="0 mm")
    flat, back = leg(sizes, t), setback(sizes, t)
    radius = max(sizes.radius, SHARPEST * t)
    bend = _swept(rim, _bend_profile(rim, sizes.angle, radius, back), low, high)
    ends = (low if start is None else start, high if end is None else end)
    matter = build.unite(bend, _leg(rim, sizes.angle, radius, back, flat, (low, high), ends))
    return FlangeMatter(tuple(_cuts(rim, sizes, low, high, back)), (matter,))


def _bend_profile(rim: Rim, angle: float, radius: float, back: float) -> Shape:
    def at(r: float, turn: float) -> tuple[float, float]:
        return -back + r * math.sin(turn), radius - r * math.cos(turn)

    outer, inner = radius + rim.thickness, radius
    corners = [at(inner, 0.0), at(outer, 0.0), at(outer, angle), at(inner, angle)]
    middles = [None, at(outer, angle / 2), None, at(inner, angle / 2)]
    return build.outline([_spot(rim, p) for p in corners], [None if m is None else _spot(rim, m) for m in middles])


def _leg(
    rim: Rim, angle: float, radius: float, back: float, flat: float, own: tuple[float, float],
    ends: tuple[float | Mitre, float | Mitre],
) -> Shape:  # fmt: skip
    """The flat part.  Its ends are square to it, so the inner side, which meets a neighbour first, says where they
    are."""
    sine, cosine = math.sin(angle), math.cos(angle)
    stands = (-back + radius * sine, -back + radius * sine + flat * cosine)  # out of the edge, at its foot and its tip

    def limit(side: int, share: float) -> float:
        end = ends[side]
        if not isinstance(end, Mitre):
            return end
        found = end.at + end.slope * (stands[0] + share * (stands[1] - stands[0]))
        if end.closed:
            return found
        return min(found, own[1]) if side else max(found, own[0])

    shares = {0.0, 1.0}
    for side in (0, 1):
        end = ends[side]
        if isinstance(end, Mitre) and not end.closed and end.slope and abs(stands[1] - stands[0]) > 1e-9:
            crossing = ((own[side] - end.at) / end.slope - stands[0]) / (stands[1] - stands[0])
            shares |= {round(crossing, 9)} if 1e-6 < crossing < 1 - 1e-6 else set()
    rows = sorted(shares)
    if any(limit(1, share) - limit(0, share) < 1e-6 for share in rows):
        raise CannotDo("flanges this long and this far bent leave each other no room", field="length")
    corners = [(limit(0, s), s * flat) for s in rows] + [(limit(1, s), s * flat) for s in reversed(rows)]
    inner = [rim.point(along, -back + radius * sine + far * cosine, radius - radius * cosine + far * sine)
             for along, far in corners]  # fmt: skip
    outwards = rim.thickness * (sine * rim.out - cosine * rim.up)
    return build.extrude(build.outline([tuple(p.tolist()) for p in inner]), tuple(outwards.tolist()))


def _spot(rim: Rim, place: tuple[float, float]) -> tuple[float, float, float]:
    x, y, z = rim.point(0.0, *place).tolist()
    return x, y, z


def _swept(rim: Rim, profile: Shape, low: float, high: float) -> Shape:
    step = (low * rim.along).tolist()
    placed = build.moved(profile, [1, 0, 0, step[0], 0, 1, 0, step[1], 0, 0, 1, step[2]])
    return build.extrude(placed, tuple(((high - low) * rim.along).tolist()))


def _block(rim: Rim, low: float, high: float, out: tuple[float, float], up: tuple[float, float]) -> Shape:
    corners = [(out[0], up[0]), (out[1], up[0]), (out[1], up[1]), (out[0], up[1])]
    return _swept(rim, build.outline([_spot(rim, c) for c in corners]), low, high)


def _cuts(rim: Rim, sizes: FlangeSizes, low: float, high: float, back: float) -> list[Shape]:
    """The strip that the bend takes the place of, and reliefs where it ends within the edge."""
    t = rim.thickness
    through = (-t - OVER, OVER)
    found = []
    if back > 0:
        found.append(_block(rim, low, high, (-back, OVER), through))
    if sizes.relief == "none":
        return found
    wide = t if sizes.wide is None else sizes.wide
    deep = back + (t if sizes.deep is None else sizes.deep)
    if wide <= 0 or deep <= 0:
        raise EditError("a relief has a width and a depth above 0", field="wide", nearest=f"{t:.4g} mm")
    for ends, inner in ((sizes.first, (low - wide, low)), (sizes.last, (high, high + wide))):
        if ends <= 1e-9:
            continue
        if wide > ends + 1e-9:
            raise CannotDo(f"a relief of {wide:.4g} mm does not fit beside the flange", field="wide")
        if sizes.relief == "round":
            middle = sum(inner) / 2
            deep_end = max(deep - wide / 2, 0.0)
            found.append(_block(rim, *inner, (-deep_end, OVER), through))
            x, y, z = rim.point(middle, -deep_end, through[0]).tolist()
            found.append(build.cylinder(wide / 2, through[1] - through[0], (x, y, z), tuple(rim.up.tolist())))
        else:
            found.append(_block(rim, *inner, (-deep, OVER), through))
    return found


def mitre_between(rim: Rim, other: Rim, gap: float, closed: bool) -> tuple[bool, Mitre] | None:
    """Whether they meet at the end of the first (else at its start), and how its leg ends there; None where the edges
    share no corner.  gap: mm between the inner corners of the legs."""
    if float(rim.up @ other.up) < 1 - 1e-6:
        return None
    for at_end, here in ((False, rim.start), (True, rim.start + rim.length * rim.along)):
        for there in (other.start, other.start + other.length * other.along):
            normal = other.out - rim.out
            along = float(normal @ rim.along)
            if float(np.linalg.norm(here - there)) > 1e-6 or abs(along) < 1e-9:
                continue
            room = gap / 2 * float(np.linalg.norm(normal)) / along
            at = (rim.length if at_end else 0.0) - room
            return at_end, Mitre(at, -float(normal @ rim.out) / along, closed)
    return None


def mitred(rims: Sequence[Rim], sizes: FlangeSizes, gap: float, closed: bool) -> list[FlangeMatter]:
    """Flanges of one size on several edges; at corners that two of them share, their legs make room for one another."""
    found = []
    for rim in rims:
        ends: dict[bool, Mitre] = {}
        for other in rims:
            met = None if other is rim else mitre_between(rim, other, gap, closed)
            if met is not None:
                ends[met[0]] = met[1]
        found.append(flange_matter(rim, sizes, ends.get(False), ends.get(True)))
    return found
