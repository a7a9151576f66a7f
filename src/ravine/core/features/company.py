"""What goes along with a round feature though it is none of it: the raised seat of a hole, the ring around a boss, and
the hole across from it that the same bolt goes through."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from ..local.surfaces import Floats, Surface
from ..local.topology import SolidTopology
from .feature import Feature

SAME_LINE = 1e-5  # mm
TURNED = ("cylinder", "cone", "torus")
ALIGNED = 1e-6
MOST_OF_IT = 0.5  # of the body's diagonal
OFF_AXIS = 1e-6  # of the body's size


def company_of(topology: SolidTopology, faces: Iterable[int]) -> frozenset[int]:
    """The faces with those around their axis that hang together with them: turned about the same axis, or flat between
    two such.  Only themselves where they have no axis, or where that would be much of the body, as in a disc."""
    found = set(faces)
    axis = next((s.axial for f in sorted(found) if (s := topology.surface(f)).kind in ("cylinder", "cone")), None)
    if axis is None:
        return frozenset(found)
    origin, way = axis.origin, axis.z
    slack = OFF_AXIS * float(np.ptp(topology.boxes.reshape(-1, 3), axis=0).max())

    def turned(face: int) -> bool:
        surface = topology.surface(face)
        return surface.kind in TURNED and _same_axis(surface, origin, way, slack)

    def ring(face: int) -> bool:
        if topology.surface(face).kind != "plane":
            return False
        _, normal = topology.middle(face)
        around = {topology.other_face(e, face) for e in topology.edges_of(face)} - found
        return abs(abs(float(normal @ way)) - 1) < ALIGNED and any(turned(f) for f in around)

    waiting = list(found)
    while waiting:
        here = waiting.pop()
        for other in {topology.other_face(e, here) for e in topology.edges_of(here)} - found:
            if turned(other) or ring(other):
                found.add(other)
                waiting.append(other)
    own, whole = _reach(topology.boxes[sorted(found)]), _reach(topology.boxes)
    return frozenset(found if own < MOST_OF_IT * whole else faces)


def in_line(rows: Sequence[Feature], number: int) -> list[Feature]:
    """Other holes about the axis of one."""
    own = rows[number]
    if own.kind != "hole":
        return []
    at, way = np.array(own.place), np.array(own.way)
    found = []
    for row in rows:
        if row is own or row.kind != "hole" or abs(abs(float(np.array(row.way) @ way)) - 1) > ALIGNED:
            continue
        off = np.array(row.place) - at
        if float(np.linalg.norm(off - (off @ way) * way)) < SAME_LINE:
            found.append(row)
    return found


def _reach(boxes: Floats) -> float:
    return float(np.linalg.norm(boxes[:, 3:].max(axis=0) - boxes[:, :3].min(axis=0)))


def _same_axis(surface: Surface, origin: Floats, way: Floats, slack: float) -> bool:
    own = surface.axial
    off = own.origin - origin
    return abs(abs(float(own.z @ way)) - 1) < ALIGNED and float(np.linalg.norm(off - (off @ way) * way)) < slack
