"""Chamfers: narrow faces that cut off the corner between two walls, and what tells them.

The outward normal of a chamfer is a positive sum of those of its walls.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .surfaces import Floats, Surface
from .topology import SolidTopology

LEAST_SHARE = 0.25  # of a wall's normal in a chamfer's: the sine of the angle to the other wall, if they are square
FACING = 0.1  # cosine between the normals of a chamfer and a wall, below which it is none of its walls
NARROW = 0.75  # of the larger wall's extent, beyond which a slanted face is a wall itself
OUTWEIGHS = 4.0  # times a chamfer may be wider than the smaller wall
HEADS = tuple(math.radians(a / 2) for a in (82, 90, 100, 120))  # half angles of screws' and rivets' heads
SUNK_DEEP = 40.0  # the same for a cone of such an angle in a hole: a countersink may leave next to nothing of its hole
SAME_ANGLE = math.radians(0.5)
STRAIGHT = 1e-9  # sine up to which directions are one

Section = Callable[[Floats], Floats]  # of points (n, 3), to (n, 2)


@dataclass(frozen=True)
class Chamfer:
    """walls: the faces of each wall it lies between, of one surface each; two, or three at a corner.  shares: of their
    outward normals in its own; corner: how far in mm along its outward normal the walls would meet; contacts: an edge
    along each of two walls; legs: its widths along them, in mm."""

    face: int
    walls: tuple[tuple[int, ...], ...]
    shares: tuple[float, ...]
    corner: float
    contacts: tuple[int, ...] = ()
    legs: tuple[float, ...] = ()

    @property
    def supports(self) -> tuple[int, ...]:
        return tuple(face for wall in self.walls for face in wall)


@dataclass(frozen=True)
class _Wall:
    """contact: an edge along it; normal: its outward one (3,) there."""

    faces: list[int]
    contact: int
    normal: Floats


def chamfer_of(topology: SolidTopology, face: int) -> Chamfer | None:
    """What the face is as a chamfer, None when it is none: a narrow plane between planes, or a cone between walls
    about its axis; or the facet where three such planes meet."""
    return _between_two(topology, face) or _at_corner(topology, face)


def chamfers_beside(topology: SolidTopology, face: int) -> list[Chamfer]:
    """Across the sharp edges of a face."""
    found = []
    for beside in topology.neighbours(face, "sharp"):
        if topology.surface(beside).kind in ("plane", "cone") and _leans(topology, face, beside):
            item = chamfer_of(topology, beside)
            if item is not None:
                found.append(item)
    return found


def _leans(topology: SolidTopology, face: int, beside: int) -> bool:
    """Tells most faces that are no chamfer, without a look around them."""
    spot = topology.samples(next(e for e in topology.edges_of(face) if topology.other_face(e, face) == beside))[1:2]
    return float(topology.outward(face, spot)[0] @ topology.outward(beside, spot)[0]) > FACING


def _between_two(topology: SolidTopology, face: int) -> Chamfer | None:
    found: Chamfer | None = topology.notes.of("chamfer", face, lambda f: _seek_between_two(topology, f))
    return found


def _seek_between_two(topology: SolidTopology, face: int) -> Chamfer | None:
    surface = topology.surface(face)
    if surface.kind not in ("plane", "cone"):
        return None
    for a, b in itertools.combinations(_walls(topology, face), 2):
        spots = [topology.samples(w.contact)[1] for w in (a, b)]
        own = _leaning(surface, spots[0], topology.outward(face, spots[0][None])[0])
        sides = np.array([_leaning(surface, p, w.normal) for w, p in zip((a, b), spots, strict=True)])
        shares = np.linalg.lstsq(sides.T, own, rcond=STRAIGHT)[0]
        if shares.min() < LEAST_SHARE or np.abs(shares @ sides - own).max() > STRAIGHT:
            continue
        section = _section(surface, sides)
        here, there = section(np.array(spots))
        width = float(np.linalg.norm(there - here))
        sizes = [_reach(section, p, _outline(topology, surface, w.faces)) for w, p in zip((a, b), spots, strict=True)]
        outweighs = SUNK_DEEP if _sinks_a_head(topology, face) else OUTWEIGHS
        if width <= NARROW * max(sizes) and width <= outweighs * min(sizes):
            flat = _flat(surface, sides)
            corner = np.linalg.solve(flat, np.einsum("ij,ij->i", flat, np.array([here, there])))
            legs = tuple(float(np.linalg.norm(corner - p)) for p in (here, there))
            height = float(shares @ flat @ (corner - here))
            return Chamfer(
                face, (tuple(a.faces), tuple(b.faces)), tuple(shares.tolist()), height, (a.contact, b.contact), legs
            )
    return None


def _sinks_a_head(topology: SolidTopology, face: int) -> bool:
    surface = topology.surface(face)
    if surface.kind != "cone" or topology.sign(face) > 0:
        return False
    return any(abs(abs(surface.numbers[1]) - head) < SAME_ANGLE for head in HEADS)


def _walls(topology: SolidTopology, face: int) -> list[_Wall]:
    surface = topology.surface(face)
    found: list[_Wall] = []
    for edge in topology.edges_of(face):
        beside = topology.other_face(edge, face)
        if topology.meeting(edge) != "sharp" or not _runs_along(surface, topology.surface(beside)):
            continue
        known = next((w for w in found if topology.surface(w.faces[0]).same(topology.surface(beside), 1.0)), None)
        if known is not None:
            known.faces.extend({beside}.difference(known.faces))
            continue
        spot = topology.samples(edge)[1:2]
        normal, own = topology.outward(beside, spot)[0], topology.outward(face, spot)[0]
        if normal @ own > FACING:
            found.append(_Wall([beside], edge, normal))
    return found


def _runs_along(surface: Surface, wall: Surface) -> bool:
    """Whether a chamfer's surface can keep one shape along a wall."""
    if surface.kind == "plane":
        return wall.kind == "plane"
    return wall.kind in ("plane", "cylinder", "cone") and _about(surface, wall, across=wall.kind != "plane")


def _about(surface: Surface, wall: Surface, across: bool) -> bool:
    """Whether two axes run alike and, across, lie on one another."""
    axis, gap = surface.axial.z, wall.axial.origin - surface.axial.origin
    if np.linalg.norm(np.cross(axis, wall.axial.z)) > STRAIGHT:
        return False
    return not across or float(np.linalg.norm(gap - (gap @ axis) * axis)) < 1e-6


def _leaning(surface: Surface, point: Floats, normal: Floats) -> Floats:
    """A normal (3,) in the section: away from the axis of a cone and along it; as it is beside a plane."""
    if surface.kind == "plane":
        return normal
    frame = surface.axial
    out = point - frame.origin
    out = out - (out @ frame.z) * frame.z
    return np.array([normal @ out / np.linalg.norm(out), normal @ frame.z])


def _across(sides: Floats) -> Floats:
    """Unit directions (2, 3) that span two normals."""
    second = sides[1] - (sides[0] @ sides[1]) * sides[0]
    return np.array([sides[0], second / np.linalg.norm(second)])


def _flat(surface: Surface, sides: Floats) -> Floats:
    """The walls' normals (2, 2) in the section."""
    return sides if surface.kind == "cone" else sides @ _across(sides).T


def _section(surface: Surface, sides: Floats) -> Section:
    """Across a chamfer between walls with these normals: in the plane they span; beside an axis, distance from it and
    height."""
    if surface.kind == "plane":
        rows = _across(sides)
        return lambda points: points @ rows.T
    frame = surface.axial

    def turned(points: Floats) -> Floats:
        w = points - frame.origin
        height = w @ frame.z
        return np.column_stack([np.linalg.norm(w - height[:, None] * frame.z, axis=1), height])

    return turned


def _reach(section: Section, place: Floats, points: Floats) -> float:
    """How far in mm points (n, 3) lie at most from a place (3,), across."""
    return float(np.linalg.norm(section(points) - section(place[None]), axis=1).max())


def _outline(topology: SolidTopology, surface: Surface, faces: list[int]) -> Floats:
    """Points (n, 3) on the edges of faces; a disc square to the axis of a cone reaches to the axis."""

    def of_face(face: int) -> Floats:
        rows = [topology.samples(e, 5) for e in topology.edges_of(face) if topology.curve(e)[0].kind != "none"]
        return np.concatenate(rows)

    found = [topology.notes.of("outline", f, of_face) for f in faces]
    if surface.kind == "cone":
        frame = surface.axial
        discs = [
            topology.surface(f) for f in faces if len(topology.wires(f)) == 1 and topology.surface(f).kind == "plane"
        ]
        found += [(frame.origin + ((d.axial.origin - frame.origin) @ frame.z) * frame.z)[None] for d in discs]
    return np.concatenate(found)


def _at_corner(topology: SolidTopology, face: int) -> Chamfer | None:
    """The facet all around which chamfers of three walls lie."""
    if topology.surface(face).kind != "plane" or not 3 <= len(topology.edges_of(face)) <= 6:
        return None
    beside = [_between_two(topology, f) for f in topology.neighbours(face)]
    walls = {wall for item in beside if item is not None for wall in item.walls}
    if None in beside or len(walls) != 3 or any(face in wall for wall in walls):
        return None
    rows = sorted(walls)
    place = topology.samples(topology.edges_of(face)[0])[1:2]
    normals = [topology.outward(wall[0], place)[0] for wall in rows if topology.surface(wall[0]).kind == "plane"]
    if len(normals) != 3 or abs(float(np.linalg.det(normals))) < FACING:
        return None
    shares = np.linalg.solve(np.array(normals).T, topology.outward(face, place)[0])
    heights = [n @ topology.samples(topology.edges_of(wall[0])[0])[1] for n, wall in zip(normals, rows, strict=True)]
    corner = np.linalg.solve(np.array(normals), np.array(heights))
    height = float((corner - place[0]) @ topology.outward(face, place)[0])
    return Chamfer(face, tuple(rows), tuple(shares.tolist()), height) if shares.min() > 0 else None


def chamfer_run(topology: SolidTopology, item: Chamfer) -> list[Chamfer]:
    """A chamfer with those that go on from it with the same widths along a common wall, or a tangent one, and the
    facets between them."""
    found, waiting = {item.face: item}, [item.face]
    while waiting:
        here = found[waiting.pop()]
        for beside in topology.neighbours(here.face):
            other = None if beside in found else chamfer_of(topology, beside)
            if other is None or beside in here.supports or here.face in other.supports:
                continue
            if not other.legs or not here.legs or np.abs(np.sort(other.legs) - np.sort(here.legs)).max() < 1e-6:
                found[beside] = other
                waiting.append(beside)
    return list(found.values())
