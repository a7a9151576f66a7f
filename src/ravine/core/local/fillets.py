"""Rounds: faces that a ball rolling along two or three others leaves behind, and what tells them.

A round touches its supports tangentially along its contacts.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from ..rigid import cross_rows
from .canal import WIDEST
from .surfaces import Floats, Surface
from .topology import SolidTopology

HALF = np.radians(181.0)
ROUGH = 1e-5  # mm by which the radius of a round on a spline may miss a plain number
CANAL = 5e-3  # share by which the radius may vary along a round on a spline, which is only near to it
HUB = np.radians(150.0)  # a round that turns further is the end of something, with a middle of its own
LUG = np.radians(100.0)  # the same, if there is a bore in its middle
NEARLY = 0.1  # rad by which kernels let patches at corners miss tangency
EXACT = 1e-7  # mm by which an exact one may
LOOSE = 3e-2  # the same, of one whose sections are arcs of one radius
EVEN = 1e-4  # share by which half of them may differ
SECTIONS = 9  # looked at along a round
MOST_SIDES = 5  # smooth neighbours of a canal: two supports, and what it goes on in


@dataclass(frozen=True)
class Fillet:
    """contacts: edges along the supports; supports: faces it touches, two (three or more at a corner); way: on which
    side of a canal the ball ran, along the outward normal; unsure: mm by which the radius of a canal may be another."""

    face: int
    kind: str
    radius: float
    supports: tuple[int, ...]
    contacts: tuple[int, ...]
    way: float = 0.0
    unsure: float = 0.0


def fillet_of(topology: SolidTopology, face: int, *, half: bool = False, _corner: bool = True) -> Fillet | None:
    """What the face is as a round, None when it is none.  half: with the round end of a slot, which is a wall to the
    hand that picks it, but has to follow the slot's sides."""
    kind = topology.surface(face).kind
    if kind == "sphere":
        return _corner_of(topology, face, topology.surface(face)) if _corner else None
    if kind not in ("cylinder", "torus", "spline"):
        return None
    found: Fillet | None = topology.notes.of(
        "round", face, lambda f: _canal(topology, f) if kind == "spline" else _strip(topology, f)
    )
    if found is None or kind == "spline":
        return found
    return found if turn_of(topology, face) <= (HALF if half and kind == "cylinder" else WIDEST) else None


def _canal(topology: SolidTopology, face: int) -> Fillet | None:
    """A round along no line or circle lies on a spline: between two tangent supports, where a ball that touches the
    one on its contact touches the other with one radius all along.  Where it goes on in further fillets it is
    tangent to more than two faces, so the pair is looked for."""
    sides: list[list[int]] = []
    for edge in topology.edges_of(face):
        if topology.meeting(edge) == "smooth":
            beside = topology.surface(topology.other_face(edge, face))
            side = next((s for s in sides if beside.same(topology.surface(topology.other_face(s[0], face)), 1.0)), None)
            if side is None:
                sides.append([edge])
            else:
                side.append(edge)
    ends = [{v for e in side for v in topology.ends(e)} for side in sides[:MOST_SIDES]]
    pairs = list(itertools.combinations(range(len(ends)), 2))
    pairs.sort(key=lambda pair: len(ends[pair[0]] & ends[pair[1]]))  # contacts lie opposite, what it goes on in between
    for a, b in ((sides[i], sides[j]) for i, j in pairs):
        for way in (-1.0, 1.0):
            here = _balls_between(topology, face, way, a, b)
            there = None if here is None else _balls_between(topology, face, way, b, a)
            if here is None or there is None:
                continue
            radius, unsure = _common_radius(topology, face, np.concatenate([here, there]))
            if radius is not None:
                supports = tuple(min(topology.other_face(e, face) for e in side) for side in (a, b))
                return Fillet(face, "canal", radius, supports, (*a, *b), way, unsure)
    return None


def _balls_between(
    topology: SolidTopology, face: int, way: float, contact: list[int], opposite: list[int]
) -> Floats | None:
    """Radii (n,) of balls that touch the face on a contact, on one side of it, and the surface along the opposite
    contact; None where there are no such balls."""
    points = np.concatenate([topology.samples(e, 7)[1:-1] for e in contact])
    outward = np.concatenate(
        [topology.outward(topology.other_face(e, face), topology.samples(e, 7)[1:-1]) for e in contact]
    )
    return _touching(points, way * outward, topology.surface(topology.other_face(opposite[0], face)))


def _common_radius(topology: SolidTopology, face: int, radii: Floats) -> tuple[float | None, float]:
    """What they all mean, and how unsure that is; None where they are not of one size.  Rails that are a little off
    tell it badly where the supports meet at a shallow angle; so it is the radius of the sections, where those are arcs
    of about this size, else the plainest number among them, as people and programs write radii."""
    low, high = float(radii.min()), float(radii.max())
    middle, spread = float(np.median(radii)), high - low
    if spread > LOOSE * middle:
        return None, spread
    low, high = low - spread - ROUGH, high + spread + ROUGH
    told = _section_radius(topology, face, low, high)
    if told is not None and told[1] < spread:
        size, uneven = told
        return next((p for n in range(6) if abs((p := round(size, n)) - size) < EXACT + uneven), size), uneven
    if spread > CANAL * middle:
        return None, spread
    return next((p for n in range(4) if low <= (p := round(middle, n)) <= high and p > 0), middle), spread


def _section_radius(topology: SolidTopology, face: int, low: float, high: float) -> tuple[float, float] | None:
    """The radius that the lines of one of the face's parameters have, as kernels draw fillets, and by how much half of
    them differ, among one another and from arcs; None where neither are arcs of one radius between these."""
    box = np.array(topology.bounds(face)).reshape(2, 2)
    for along in (0, 1):
        uv = np.empty((SECTIONS, 5, 2))
        uv[..., along] = np.linspace(box[along, 0], box[along, 1], 7)[1:6]
        uv[..., 1 - along] = np.linspace(box[1 - along, 0], box[1 - along, 1], SECTIONS)[:, None]
        rows = topology.surface(face).points(uv.reshape(-1, 2)).reshape(SECTIONS, 5, 3)
        wide, close = (_circumradius(*np.moveaxis(rows[:, picked], 1, 0)) for picked in ([0, 2, 4], [1, 2, 3]))
        lower, told, upper = np.quantile(wide, (0.25, 0.5, 0.75))
        unsure = float(max(upper - lower, np.median(np.abs(wide - close))))
        if unsure < EVEN * told and low <= told <= high:
            return float(told), unsure
    return None


def _circumradius(a: Floats, b: Floats, c: Floats) -> Floats:
    """Of the circles (n,) through three places (n, 3) each."""
    sides = [np.linalg.norm(p - q, axis=1) for p, q in ((a, b), (b, c), (c, a))]
    double = np.linalg.norm(cross_rows(b - a, c - a), axis=1)
    return np.asarray(sides[0] * sides[1] * sides[2] / np.maximum(2 * double, 1e-300))


def _touching(points: Floats, ways: Floats, other: Surface) -> Floats | None:
    """Radii (n,) of balls that touch a surface and, each at its point and from the side it goes to, another one."""
    start = other.distance(points)[0]
    side = np.sign(start)
    radii = np.abs(start)
    last = np.inf
    for turn in range(30):
        off, slope = other.distance(points + radii[:, None] * ways)
        rate = side * np.einsum("ni,ni->n", slope, ways) - 1
        step = (side * off - radii) / np.where(np.abs(rate) < 1e-9, 1e-9, rate)
        radii = radii - step
        size = float(np.abs(step).max())
        if not np.isfinite(size) or (turn > 6 and size > last / 2):
            return None
        if size < 1e-9:
            return radii if radii.min() > 1e-6 else None
        last = size
    return None


def _is_ruling(topology: SolidTopology, surface: Surface, edge: int) -> bool:
    curve, _, _ = topology.curve(edge)
    return curve.kind == "line" and curve.frame is not None and abs(float(curve.frame.z @ surface.axial.z)) > 1 - 1e-9


def _is_parallel_circle(topology: SolidTopology, surface: Surface, edge: int) -> bool:
    curve, _, _ = topology.curve(edge)
    if curve.kind != "circle" or curve.frame is None:
        return False
    return abs(float(np.cross(curve.frame.x, curve.frame.y) @ surface.axial.z)) > 1 - 1e-9


def _strip(topology: SolidTopology, face: int) -> Fillet | None:
    """A cylinder or torus between two tangent supports."""
    surface = topology.surface(face)
    if surface.kind == "torus" and surface.numbers[1] >= surface.numbers[0] * 50:
        return None
    is_contact = _is_ruling if surface.kind == "cylinder" else _is_parallel_circle
    contacts = [
        e for e in topology.edges_of(face) if topology.meeting(e) == "smooth" and is_contact(topology, surface, e)
    ]
    sides: list[tuple[Floats, set[int], list[int]]] = []
    for edge in contacts:
        normal = surface.distance(topology.samples(edge)[1:2])[1][0]
        place = normal if surface.kind == "cylinder" else np.array([normal @ surface.axial.z, 0, 0])
        side = next((s for s in sides if np.abs(s[0] - place).max() < 1e-4), None)
        if side is None:
            side = (place, set(), [])
            sides.append(side)
        side[1].add(topology.other_face(edge, face))
        side[2].append(edge)
    if len(sides) != 2 or sides[0][1] & sides[1][1]:
        return None
    supports = tuple(min(s[1]) for s in sides)
    return Fillet(face, surface.kind, surface.radius, supports, tuple(contacts))


def turn_of(topology: SolidTopology, face: int) -> float:
    """How far the section of a strip on a cylinder or ring turns, in rad."""
    found: float = topology.notes.of("turn", face, lambda f: _turn(topology, f))
    return found


def _turn(topology: SolidTopology, face: int) -> float:
    surface = topology.surface(face)
    points = np.concatenate([topology.samples(e, 5) for e in topology.edges_of(face)])
    column = 0 if surface.kind == "cylinder" else 1
    turns = np.sort(np.mod(surface.parameters(points)[:, column], 2 * np.pi))
    gaps = np.diff(np.append(turns, turns[0] + 2 * np.pi))
    return float(2 * np.pi - gaps.max())


def _corner_of(topology: SolidTopology, face: int, surface: Surface) -> Fillet | None:
    """A ball's patch where fillets of the same radius meet, or between tangent faces."""
    supports: list[int] = []
    for beside in topology.neighbours(face, "smooth"):
        strip = fillet_of(topology, beside, _corner=False)
        if strip is None:
            supports.append(beside)
        elif is_of_size(strip, surface.radius):
            supports += strip.supports
        else:
            return None
    distinct = tuple(dict.fromkeys(supports))
    return Fillet(face, "sphere", surface.radius, distinct, ()) if len(distinct) >= 3 else None


def is_hub(topology: SolidTopology, face: int) -> bool:
    """A cylinder that is no round of an edge but a wall itself: it turns far, or it lies about a bore or boss."""
    if topology.surface(face).kind != "cylinder":
        return False
    if fillet_of(topology, face) is None:
        return True
    turn = turn_of(topology, face)
    return turn > HUB or (turn > LUG and _shares_its_axis(topology, face))


def _shares_its_axis(topology: SolidTopology, face: int) -> bool:
    """With another cylinder that ends where it ends."""
    axis = topology.surface(face).axial
    for cap in topology.neighbours(face, "sharp"):
        for other in topology.neighbours(cap):
            beside = topology.surface(other)
            if other == face or beside.kind != "cylinder" or np.abs(np.cross(beside.axial.z, axis.z)).max() > 1e-9:
                continue
            gap = beside.axial.origin - axis.origin
            if np.abs(gap - (gap @ axis.z) * axis.z).max() < 1e-6:
                return True
    return False


def chain(topology: SolidTopology, face: int) -> dict[int, Fillet]:
    """The round with all that continue it with the same radius: tangentially, or in a mitre along a support."""
    first = fillet_of(topology, face)
    found: dict[int, Fillet] = {}
    waiting = [first] if first else []
    while waiting:
        this = waiting.pop()
        if this.face in found:
            continue
        found[this.face] = this
        for beside in topology.neighbours(this.face, "smooth", "same", "sharp"):
            other = fillet_of(topology, beside)
            if other is None or beside in this.supports or this.face in other.supports:
                continue
            mitred = beside in topology.neighbours(this.face, "sharp")
            if mitred and not set(this.supports) & set(other.supports):
                continue
            if is_of_size(other, this.radius) or is_of_size(this, other.radius):
                waiting.append(other)
    return found


def is_corner_patch(topology: SolidTopology, face: int) -> bool:
    """A free-form face where fillets of unlike radii meet: tangent to all around it, two or more fillets among them,
    none of which rolls along it."""
    if topology.surface(face).kind != "spline" or fillet_of(topology, face) is not None:
        return False
    if any(_bend(topology, edge) > NEARLY for edge in topology.edges_of(face)):
        return False
    beside = [item for f in topology.neighbours(face) if (item := fillet_of(topology, f)) is not None]
    return len(beside) >= 2 and not any(face in item.supports for item in beside)


def _bend(topology: SolidTopology, edge: int) -> float:
    """The largest sine between the faces beside an edge; its ends, where a patch may have no normal, are left out."""
    if topology.curve(edge)[0].kind == "none":
        return 0.0
    points = topology.samples(edge, 7)[1:-1]
    normals = [topology.outward(f, points) for f in (topology.faces_of(edge) * 2)[:2]]
    return float(np.linalg.norm(np.cross(normals[0], normals[1]), axis=1).max())


def pushed_radius(topology: SolidTopology, item: Fillet, distance: float) -> float:
    """Its radius in mm when the face goes out by this along its normal, about the same centres."""
    towards = item.way if item.kind == "canal" else -topology.sign(item.face)
    return item.radius - towards * distance


def is_of_size(item: Fillet, radius: float) -> bool:
    return abs(item.radius - radius) < (CANAL * radius if item.kind == "canal" else 1e-6)
