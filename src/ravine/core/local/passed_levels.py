"""Where a face that is pushed comes level with others.

The reading of a push, for all ways that do it: the matter that the face sweeps along the surfaces of its neighbours is
added or taken, and a face that it comes level with on its way goes on with it.  So a push is the same as its parts one
after another, and what it passes - the top of a boss on a plate, the floor of a pocket, a ledge, a counterbore -
is gone.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..tolerances import ONE_DIRECTION, TOUCHING
from .surfaces import Floats
from .topology import SolidTopology

SAMPLES = 9  # along an edge
Height = Callable[[Floats], Floats]  # of points (n, 3): how far (mm) they lie beyond the face, along its normal


def first_level(topology: SolidTopology, face: int, distance: float) -> float | None:
    """The distance (mm, of the same sign and less) at which a flat or cylindrical face first becomes level with one
    that it reaches along walls between them; None where it passes none."""
    found = [level for level, _ in levels_passed(topology, face, distance)]
    return min(found, key=abs) if found else None


def levels_passed(topology: SolidTopology, face: int, distance: float) -> list[tuple[float, int]]:
    """All such, each with the face that lies at it."""
    height = height_over(topology, face)
    if height is None:
        return []
    low, high = min(0.0, distance) - TOUCHING, max(0.0, distance) + TOUCHING
    own = topology.one_surface(face)
    found: list[tuple[float, int]] = []
    seen, waiting = set(own), [n for f in own for n in topology.neighbours(f)]
    while waiting:
        beside = waiting.pop()
        if beside in seen:
            continue
        seen.add(beside)
        heights = heights_of(topology, beside, height)
        if not len(heights) or heights.min() < low or heights.max() > high:
            continue  # a wall that goes on past where the face will be bounds it all the way
        level = float(heights.mean())
        if np.ptp(heights) < TOUCHING and _looks_alike(topology, face, beside):
            if TOUCHING < abs(level) < abs(distance) - TOUCHING:
                found.append((level, beside))
            continue
        waiting += topology.neighbours(beside)
    return found


def height_over(topology: SolidTopology, face: int) -> Height | None:
    """Of a flat or cylindrical face; None for others."""
    surface, sign = topology.surface(face), topology.sign(face)
    if surface.kind not in ("plane", "cylinder"):
        return None
    return lambda points: sign * surface.distance(points)[0]


def heights_of(topology: SolidTopology, face: int, height: Height) -> Floats:
    """Along the border of a face."""
    rows = [topology.samples(e, SAMPLES) for e in topology.edges_of(face) if topology.meeting(e) != "degenerate"]
    return height(np.concatenate(rows)) if rows else np.zeros(0)


def _looks_alike(topology: SolidTopology, face: int, other: int) -> bool:
    """Whether they lie on parallel surfaces and look the same way."""
    here, there = topology.surface(face), topology.surface(other)
    if here.kind != there.kind:
        return False
    if here.kind == "cylinder":
        turn = abs(float(here.axial.z @ there.axial.z))
        return topology.sign(face) == topology.sign(other) and turn > 1 - ONE_DIRECTION
    turned = topology.sign(face) * topology.sign(other)
    return bool(turned * float(here.axial.z @ there.axial.z) > 1 - ONE_DIRECTION)
