"""Walls whose two sides nearly run side by side, and so are thicker here than there."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kernel.properties import area_properties
from ..kernel.rebuild import rooted
from ..kernel.shapes import ShapeIndex
from ..local.surfaces import Floats
from ..local.topology import SolidTopology

LEAST, MOST = 2e-5, np.radians(1.0)  # rad between the sides: less is rounding, more is meant
SLENDER = 0.5  # of the root of the smaller side's area, up to which matter between two faces is a wall
LEVEL = 1e-4  # mm of difference that is nothing


@dataclass(frozen=True)
class UnevenWall:
    """faces: the two sides by number; thin, thick: mm at the corners of the smaller side; place: its middle, mm."""

    faces: tuple[int, int]
    thin: float
    thick: float
    place: Floats


def uneven_walls(index: ShapeIndex) -> list[UnevenWall]:
    """Between flat faces of a solid."""
    topology = SolidTopology(rooted(index))
    flat = [f for f in range(index.count("face")) if topology.surface(f).kind == "plane"]
    if len(flat) < 2:
        return []
    normals = np.array([topology.sign(f) * topology.surface(f).axial.z for f in flat])
    middles = np.array([topology.middle(f)[0] for f in flat])
    lean = np.arccos(np.clip(-normals @ normals.T, -1, 1))
    depth = np.einsum("ijk,ik->ij", middles[:, None] - middles[None], normals)  # of j's middle behind i
    found = []
    for i, j in zip(*np.nonzero((lean > LEAST) & (lean < MOST) & (depth > LEVEL)), strict=True):
        if i > j or depth[j, i] <= LEVEL:
            continue
        first, second = sorted((flat[i], flat[j]), key=lambda f: abs(area_properties(index.get("face", f)).amount))
        area = abs(area_properties(index.get("face", first)).amount)
        if max(depth[i, j], depth[j, i]) > SLENDER * np.sqrt(area) or not _over(topology, first, second):
            continue
        corners = np.array([topology.point(v) for v in topology.vertices_of(first)]).reshape(-1, 3)
        sizes = np.abs(topology.surface(second).distance(corners)[0])
        if np.ptp(sizes) > LEVEL:
            place = np.array(topology.middle(first)[0])
            found.append(UnevenWall((first, second), float(sizes.min()), float(sizes.max()), place))
    return found


def _over(topology: SolidTopology, small: int, large: int) -> bool:
    """Whether the middle of one face lies across from the other."""
    place = np.array(topology.middle(small)[0])
    off, slope = topology.surface(large).distance(place[None])
    foot = place - off[0] * slope[0]
    low, high = topology.boxes[large][:3], topology.boxes[large][3:]
    room = 1e-3 * float(np.linalg.norm(high - low))
    return bool(((foot > low - room) & (foot < high + room)).all())
