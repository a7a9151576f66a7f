"""Flat walls between two hubs, as of levers, links and tapered slots: what tells them, and where they go when a hub
grows or moves, so that they touch both again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..rigid import Rigid
from .fillets import is_hub, turn_of
from .surfaces import Surface
from .topology import SolidTopology

WHOLE = np.radians(200.0)  # more than any end of a slot turns
ALIKE = 1e-9  # mm, and sine of angles


@dataclass(frozen=True)
class TangentWall:
    """supports: a face of each of the two hubs, whose axes are parallel."""

    face: int
    supports: tuple[int, int]


def tangent_wall(topology: SolidTopology, face: int) -> TangentWall | None:
    if topology.surface(face).kind != "plane":
        return None
    hubs: list[int] = []
    for piece in topology.one_surface(face):
        for beside in topology.neighbours(piece, "smooth"):
            known = any(topology.surface(h).same(topology.surface(beside), 1.0) for h in hubs)
            if not known and is_hub(topology, beside):
                hubs.append(beside)
    if len(hubs) != 2:
        return None
    a, b = (topology.surface(h).axial.z for h in hubs)
    return TangentWall(face, (hubs[0], hubs[1])) if np.linalg.norm(np.cross(a, b)) < ALIKE else None


def is_even(topology: SolidTopology, wall: TangentWall) -> bool:
    """Along the line between the axes, as beside a slot: it goes with its hubs as one.  A hub that is wider than its
    end of a slot (a boss on a lever) stands for itself."""
    if any(turn_of(topology, f) > WHOLE for h in wall.supports for f in topology.one_surface(h)):
        return False
    plane = topology.surface(wall.face)
    a, b = (float(plane.distance(topology.surface(h).axial.origin[None])[0][0]) for h in wall.supports)
    return abs(a - b) < 1e-6


def laid_again(topology: SolidTopology, wall: TangentWall, new: Mapping[int, Surface]) -> tuple[Surface, Rigid] | None:
    """The wall's plane on its hubs as they are now, and how it moved; None where one hub has swallowed the other.

    With unit normal n, axes a, b and signed radii p, q it holds that n·(a - b) = p - q, of which the solution next to
    the old normal is taken.
    """
    old = topology.surface(wall.face)
    axis = topology.surface(wall.supports[0]).axial.z
    before = [topology.surface(h) for h in wall.supports]
    now = [new.get(h, was) for h, was in zip(wall.supports, before, strict=True)]
    if any(s.kind != "cylinder" or np.linalg.norm(np.cross(s.axial.z, axis)) > ALIKE for s in now):
        return None
    sides = [float(np.sign(old.distance(s.axial.origin[None])[0][0])) for s in before]
    p, q = (side * s.radius for side, s in zip(sides, now, strict=True))
    rows = []
    for one, other in (before, now):
        gap = one.axial.origin - other.axial.origin
        rows.append(gap - (gap @ axis) * axis)
    apart, was_apart = float(np.linalg.norm(rows[1])), float(np.linalg.norm(rows[0]))
    if apart < ALIKE or was_apart < ALIKE or abs(p - q) >= apart:
        return None
    along, was_along = rows[1] / apart, rows[0] / was_apart
    across, was_across = np.cross(axis, along), np.cross(axis, was_along)
    cosine = (p - q) / apart
    sine = np.copysign(np.sqrt(1 - cosine**2), old.axial.z @ was_across)
    normal = cosine * along + sine * across
    turn = np.column_stack([normal, np.cross(axis, normal), axis])
    turn = turn @ np.column_stack([old.axial.z, np.cross(axis, old.axial.z), axis]).T
    touch = before[0].axial.origin - sides[0] * before[0].radius * old.axial.z
    motion = Rigid.of(turn, now[0].axial.origin - p * normal - turn @ touch)
    return old.moved(motion), motion
