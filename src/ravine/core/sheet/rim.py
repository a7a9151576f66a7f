"""An edge of a sheet that a flange can grow from: where it runs, which way is out, and which side it lies on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from .faults import SAME, STRAIGHT
from .outlines import Outlines
from .pairing import nearest_below, thickness_of


@dataclass(frozen=True, eq=False)
class Rim:
    """edge, wall, side: numbers of the edge, of the flat face of the sheet beside it and of the cut face; start:
    where it begins, mm; along, out, up: unit vectors along it, out of the sheet, and away from the wall; length,
    thickness: mm."""

    edge: int
    wall: int
    side: int
    start: Floats
    along: Floats
    out: Floats
    up: Floats
    length: float
    thickness: float

    def point(self, along: float, out: float, up: float) -> Floats:
        return self.start + along * self.along + out * self.out + up * self.up


def rim_of(topology: SolidTopology, edge: int, thickness: float | None = None) -> Rim:
    """thickness: mm, measured at the edge when left out.  Raises EditError for an edge that bounds no sheet."""
    if topology.curve(edge)[0].kind != "line":
        raise EditError("a flange grows from a straight edge", nearest="a straight edge of the sheet")
    outlines = Outlines(topology)
    planes = [f for f in outlines.developable() if topology.surface(f).kind == "plane"]
    thickness = thickness if thickness is not None else thickness_of(outlines)
    found: list[Rim] = []
    for wall, side in _both_ways(topology.faces_of(edge)):
        if wall not in planes or side not in planes:
            continue
        below = nearest_below(outlines, wall, planes)
        if below is None or (thickness is not None and abs(below.depth - thickness) > SAME * thickness):
            continue
        up, out = outlines.skin(wall).z, outlines.skin(side).z
        if abs(float(up @ out)) > STRAIGHT:
            continue
        a, b = topology.samples(edge, 2)
        along = np.cross(out, up)
        start = a if (b - a) @ along > 0 else b
        found.append(Rim(edge, wall, side, start, along, out, up, float(np.linalg.norm(b - a)), below.depth))
    if not found:
        raise EditError("this is no edge between a flat face of the sheet and its cut edge, square to it")
    return min(found, key=lambda r: r.thickness)


def _both_ways(faces: tuple[int, ...]) -> list[tuple[int, int]]:
    return [(faces[0], faces[1]), (faces[1], faces[0])] if len(faces) == 2 else []
