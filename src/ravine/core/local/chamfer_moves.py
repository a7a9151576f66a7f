"""Where chamfers go when their walls move.

Where the walls go parallel to themselves, the corner they would have goes along, and the chamfer with it: its normal
is a positive sum of theirs, n = Σ cᵢ nᵢ, so that it goes by Σ cᵢ δᵢ.  That keeps both its widths.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..rigid import Rigid
from .chamfers import LEAST_SHARE, STRAIGHT, Chamfer
from .surfaces import Floats, Surface
from .topology import SolidTopology


def carried(
    topology: SolidTopology, item: Chamfer, new: Mapping[int, Surface], motions: Mapping[int, Rigid]
) -> tuple[Surface, Rigid | None] | None:
    """A chamfer's surface on its walls' new ones, and how it moved, if it did so as a whole; None where its walls part
    or turn so that it could keep no shape."""
    old = topology.surface(item.face)
    walls = []
    for wall in item.walls:
        was, now = topology.surface(wall[0]), new.get(wall[0], topology.surface(wall[0]))
        if any(not now.same(new.get(f, topology.surface(f)), 1.0) for f in wall[1:]):
            return None
        walls.append((was, now))
    for motion in (motions[f] for f in item.supports if f in motions):
        if all(was.arrives(now, motion) for was, now in walls):
            return old.moved(motion), motion
    if any(was.kind != now.kind for was, now in walls):
        return None
    if all(float(np.abs(was.axial.z - now.axial.z).max()) < STRAIGHT for was, now in walls):
        return _parallel(topology, item, old, walls)
    if old.kind == "plane" and len(walls) == 2:
        return _turned(topology, item, old, walls)
    return None


def _parallel(
    topology: SolidTopology, item: Chamfer, old: Surface, walls: list[tuple[Surface, Surface]]
) -> tuple[Surface, Rigid | None] | None:
    shift = np.zeros(3)
    if old.kind == "cone":
        shifts = [now.axial.origin - was.axial.origin for was, now in walls if was.kind != "plane"]
        shifts = [s - (s @ old.axial.z) * old.axial.z for s in shifts]
        if any(np.abs(s - shifts[0]).max() > 1e-9 for s in shifts):
            return None
        shift = shifts[0] if shifts else shift
    goes = 0.0
    for wall, share, (_, now) in zip(item.walls, item.shares, walls, strict=True):
        edge = next(e for e in topology.edges_of(wall[0]) if topology.curve(e)[0].kind != "none")
        place = topology.samples(edge)[1:2]
        goes -= share * topology.sign(wall[0]) * float(now.distance(place + shift)[0][0])
    if old.kind == "plane":
        motion = Rigid.slide(goes * topology.outward(item.face, old.axial.origin[None])[0])
        return old.moved(motion), motion
    moved = old.moved(Rigid.slide(shift)).parallel(topology.sign(item.face) * goes)
    return None if moved is None else (moved, None)


def _turned(
    topology: SolidTopology, item: Chamfer, old: Surface, walls: list[tuple[Surface, Surface]]
) -> tuple[Surface, Rigid | None] | None:
    """Between planes of which one turned: as wide as it was along both."""
    signs = [topology.sign(wall[0]) for wall in item.walls]
    before, now = (_corner(signs, [pair[k] for pair in walls]) for k in (0, 1))
    if before is None or now is None:
        return None
    contacts = [topology.samples(e)[1] for e in item.contacts]
    legs = [(contact - before[0]) @ way for contact, way in zip(contacts, before[1][:2], strict=True)]
    spots = [now[0] + leg * way for leg, way in zip(legs, now[1][:2], strict=True)]
    here, there = (_square(rows[1][2], q - p) for rows, (p, q) in ((before, contacts), (now, spots)))
    turn = there @ here.T
    motion = Rigid.of(turn, spots[0] - turn @ contacts[0])
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
