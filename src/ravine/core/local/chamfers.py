"""Chamfers: narrow faces that cut off the corner between two walls, what tells them, and where they go when the walls
move.

Where the walls go parallel to themselves, the corner they would have goes along, and the chamfer with it: its normal
is a positive sum of theirs, n = Σ cᵢ nᵢ, so that it goes by Σ cᵢ δᵢ.  That keeps both its widths.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from .fabric import Fabric
from .surfaces import Floats, Motion, Surface

LEAST_SHARE = 0.25  # of a wall's normal in a chamfer's: the sine of the angle to the other wall, if they are square
FACING = 0.1  # cosine between the normals of a chamfer and a wall, below which it is none of its walls
NARROW = 0.75  # of the larger wall's extent, beyond which a slanted face is a wall itself
OUTWEIGHS = 4.0  # times a chamfer may be wider than the smaller wall: a deep countersink leaves little of its hole
STRAIGHT = 1e-9  # sine up to which directions are one

Section = Callable[[Floats], Floats]  # of points (n, 3), to (n, 2)


@dataclass(frozen=True)
class Chamfer:
    """walls: the faces of each wall it lies between, of one surface each; two, or three at a corner.  shares: of their
    outward normals in its own; rails: an edge along each of two walls."""

    face: int
    walls: tuple[tuple[int, ...], ...]
    shares: tuple[float, ...]
    rails: tuple[int, ...] = ()

    @property
    def supports(self) -> tuple[int, ...]:
        return tuple(face for wall in self.walls for face in wall)


@dataclass(frozen=True)
class _Wall:
    """rail: an edge along it; normal: its outward one (3,) there."""

    faces: list[int]
    rail: int
    normal: Floats


# --- what tells them -------------------------------------------------------------------------------------------------


def chamfer_of(fabric: Fabric, face: int) -> Chamfer | None:
    """What the face is as a chamfer, None when it is none: a narrow plane between planes, or a cone between walls
    about its axis; or the facet where three such planes meet."""
    return _between_two(fabric, face) or _at_corner(fabric, face)


def chamfers_beside(fabric: Fabric, face: int) -> list[Chamfer]:
    """Across the sharp edges of a face."""
    found = []
    for beside in fabric.neighbours(face, "sharp"):
        if fabric.surface(beside).kind in ("plane", "cone") and _leans(fabric, face, beside):
            item = chamfer_of(fabric, beside)
            if item is not None:
                found.append(item)
    return found


def _leans(fabric: Fabric, face: int, beside: int) -> bool:
    """Tells most faces that are no chamfer, without a look around them."""
    spot = fabric.samples(next(e for e in fabric.edges_of(face) if fabric.other_face(e, face) == beside))[1:2]
    return float(fabric.outward(face, spot)[0] @ fabric.outward(beside, spot)[0]) > FACING


def _between_two(fabric: Fabric, face: int) -> Chamfer | None:
    found: Chamfer | None = fabric.drawn.of("chamfer", face, lambda f: _seek_between_two(fabric, f))
    return found


def _seek_between_two(fabric: Fabric, face: int) -> Chamfer | None:
    surface = fabric.surface(face)
    if surface.kind not in ("plane", "cone"):
        return None
    for a, b in itertools.combinations(_walls(fabric, face), 2):
        here, there = (fabric.samples(w.rail)[1] for w in (a, b))
        own = _leaning(surface, here, fabric.outward(face, here[None])[0])
        sides = np.column_stack([_leaning(surface, here, a.normal), _leaning(surface, there, b.normal)])
        shares = np.linalg.lstsq(sides, own, rcond=STRAIGHT)[0]
        if shares.min() < LEAST_SHARE or np.abs(sides @ shares - own).max() > STRAIGHT:
            continue
        section = _section(surface, a.normal, b.normal)
        width = _reach(section, here, there[None])
        sizes = [_reach(section, p, _outline(fabric, surface, w.faces)) for w, p in ((a, here), (b, there))]
        if width <= NARROW * max(sizes) and width <= OUTWEIGHS * min(sizes):
            return Chamfer(face, (tuple(a.faces), tuple(b.faces)), tuple(shares.tolist()), (a.rail, b.rail))
    return None


def _walls(fabric: Fabric, face: int) -> list[_Wall]:
    surface = fabric.surface(face)
    found: list[_Wall] = []
    for edge in fabric.edges_of(face):
        beside = fabric.other_face(edge, face)
        if fabric.meeting(edge) != "sharp" or not _runs_along(surface, fabric.surface(beside)):
            continue
        known = next((w for w in found if fabric.surface(w.faces[0]).same(fabric.surface(beside), 1.0)), None)
        if known is not None:
            known.faces.extend({beside}.difference(known.faces))
            continue
        spot = fabric.samples(edge)[1:2]
        normal, own = fabric.outward(beside, spot)[0], fabric.outward(face, spot)[0]
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


def _section(surface: Surface, a: Floats, b: Floats) -> Section:
    """Across a chamfer between walls with these normals at its rails."""
    if surface.kind == "plane":
        across = b - (a @ b) * a
        rows = np.array([a, across / np.linalg.norm(across)])
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


def _outline(fabric: Fabric, surface: Surface, faces: list[int]) -> Floats:
    """Points (n, 3) on the edges of faces; a disc square to the axis of a cone reaches to the axis."""

    def of_face(face: int) -> Floats:
        rows = [fabric.samples(e, 5) for e in fabric.edges_of(face) if fabric.curve(e)[0].kind != "none"]
        return np.concatenate(rows)

    found = [fabric.drawn.of("outline", f, of_face) for f in faces]
    if surface.kind == "cone":
        frame = surface.axial
        discs = [fabric.surface(f) for f in faces if len(fabric.wires(f)) == 1 and fabric.surface(f).kind == "plane"]
        found += [(frame.origin + ((d.axial.origin - frame.origin) @ frame.z) * frame.z)[None] for d in discs]
    return np.concatenate(found)


def _at_corner(fabric: Fabric, face: int) -> Chamfer | None:
    """The facet all around which chamfers of three walls lie."""
    if fabric.surface(face).kind != "plane" or not 3 <= len(fabric.edges_of(face)) <= 6:
        return None
    beside = [_between_two(fabric, f) for f in fabric.neighbours(face)]
    walls = {wall for item in beside if item is not None for wall in item.walls}
    if None in beside or len(walls) != 3 or any(face in wall for wall in walls):
        return None
    rows = sorted(walls)
    place = fabric.samples(fabric.edges_of(face)[0])[1:2]
    normals = [fabric.outward(wall[0], place)[0] for wall in rows if fabric.surface(wall[0]).kind == "plane"]
    if len(normals) != 3 or abs(float(np.linalg.det(normals))) < FACING:
        return None
    shares = np.linalg.solve(np.array(normals).T, fabric.outward(face, place)[0])
    return Chamfer(face, tuple(rows), tuple(shares.tolist())) if shares.min() > 0 else None


# --- where they go ---------------------------------------------------------------------------------------------------


def carried(
    fabric: Fabric, item: Chamfer, new: Mapping[int, Surface], motions: Mapping[int, Motion]
) -> tuple[Surface, Motion | None] | None:
    """A chamfer's surface on its walls' new ones, and how it moved, if it did so as a whole; None where its walls part
    or turn so that it could keep no shape."""
    old = fabric.surface(item.face)
    walls = []
    for wall in item.walls:
        was, now = fabric.surface(wall[0]), new.get(wall[0], fabric.surface(wall[0]))
        if any(not now.same(new.get(f, fabric.surface(f)), 1.0) for f in wall[1:]):
            return None
        walls.append((was, now))
    for motion in (motions[f] for f in item.supports if f in motions):
        if all(was.arrives(now, motion) for was, now in walls):
            return old.moved(motion), motion
    if any(was.kind != now.kind for was, now in walls):
        return None
    if all(float(np.abs(was.axial.z - now.axial.z).max()) < STRAIGHT for was, now in walls):
        return _parallel(fabric, item, old, walls)
    if old.kind == "plane" and len(walls) == 2:
        return _turned(fabric, item, old, walls)
    return None


def _parallel(
    fabric: Fabric, item: Chamfer, old: Surface, walls: list[tuple[Surface, Surface]]
) -> tuple[Surface, Motion | None] | None:
    shift = np.zeros(3)
    if old.kind == "cone":
        shifts = [now.axial.origin - was.axial.origin for was, now in walls if was.kind != "plane"]
        shifts = [s - (s @ old.axial.z) * old.axial.z for s in shifts]
        if any(np.abs(s - shifts[0]).max() > 1e-9 for s in shifts):
            return None
        shift = shifts[0] if shifts else shift
    goes = 0.0
    for wall, share, (_, now) in zip(item.walls, item.shares, walls, strict=True):
        edge = next(e for e in fabric.edges_of(wall[0]) if fabric.curve(e)[0].kind != "none")
        place = fabric.samples(edge)[1:2]
        goes -= share * fabric.sign(wall[0]) * float(now.distance(place + shift)[0][0])
    if old.kind == "plane":
        motion = Motion.slide(goes * fabric.outward(item.face, old.axial.origin[None])[0])
        return old.moved(motion), motion
    moved = old.moved(Motion.slide(shift)).parallel(fabric.sign(item.face) * goes)
    return None if moved is None else (moved, None)


def _turned(
    fabric: Fabric, item: Chamfer, old: Surface, walls: list[tuple[Surface, Surface]]
) -> tuple[Surface, Motion | None] | None:
    """Between planes of which one turned: as wide as it was along both."""
    signs = [fabric.sign(wall[0]) for wall in item.walls]
    before, now = (_corner(signs, [pair[k] for pair in walls]) for k in (0, 1))
    if before is None or now is None:
        return None
    rails = [fabric.samples(e)[1] for e in item.rails]
    legs = [(rail - before[0]) @ way for rail, way in zip(rails, before[1][:2], strict=True)]
    spots = [now[0] + leg * way for leg, way in zip(legs, now[1][:2], strict=True)]
    here, there = (_square(rows[1][2], q - p) for rows, (p, q) in ((before, rails), (now, spots)))
    turn = there @ here.T
    motion = Motion(turn, spots[0] - turn @ rails[0])
    return old.moved(motion), motion


def _corner(signs: list[float], planes: list[Surface]) -> tuple[Floats, Floats] | None:
    """A point of the line in which two planes meet, and the ways in both, square to it, and along it (3, 3)."""
    normals = np.array([sign * plane.axial.z for sign, plane in zip(signs, planes, strict=True)])
    along = np.cross(normals[0], normals[1])
    size = float(np.linalg.norm(along))
    if size < LEAST_SHARE:
        return None
    heights = np.array([n @ plane.axial.origin for n, plane in zip(normals, planes, strict=True)])
    ways = np.cross(along / size, normals)
    return np.linalg.pinv(normals) @ heights, np.vstack([ways, along / size])


def _square(along: Floats, across: Floats) -> Floats:
    """A turn (3, 3) whose columns are a direction, what of another is square to it, and the third."""
    across = across - (across @ along) * along
    across = across / np.linalg.norm(across)
    return np.column_stack([along, across, np.cross(along, across)])
