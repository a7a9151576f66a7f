"""Spandrels: the matter between a sharp edge and the ball that rolls along it.

Cut off an outer edge, or filled into an inner one, it leaves the round, whatever lies around: faces that the ball rolls
off vanish, fillets that grow into one another meet in an edge, and at a wall the round ends in it.  For edges along a
line or about an axis that both faces keep their section along.
"""

from __future__ import annotations

from collections.abc import Container
from dataclasses import dataclass

import numpy as np

from ..kernel.shapes import Shape, ShapeIndex
from .conversion import converted
from .failure import LocalFailure
from .strips import Way, way_along
from .surfaces import Floats, Surface
from .swept_cells import cells_on
from .topology import SolidTopology

SHARE = 0.45  # of what an arc leaves of the turn, by which it may run on beyond an end


@dataclass(frozen=True)
class BlendVolume:
    """cells: solids to fill in (adds) or cut off; front: a face of theirs on the round."""

    cells: list[Shape]
    front: Shape
    adds: bool


def blend_volume_of(topology: SolidTopology, edge: int, radius: float, goes_on: Container[int]) -> BlendVolume:
    """radius: mm; goes_on: vertices where the round goes on beyond the edge, so that it ends square there; beyond other
    ends it runs into what is there.  Raises LocalFailure where the ball has no such way, EditError when the kernel
    gives up."""
    sides = topology.faces_of(edge)
    way = way_along(topology, [edge], sides[0])
    lines = [way.line(topology.surface(f), topology.sign(f), f) for f in sides]
    corner = lines[0].meets(lines[1])
    adds = is_hollow(topology, edge)
    inside = 1.0 if adds else -1.0  # on which side of the faces the ball lies
    system = np.stack([line.normal for line in lines])
    centre = np.linalg.solve(system, np.array([line.level + inside * radius for line in lines]))
    touches = [centre - inside * radius * line.normal for line in lines]
    middle = corner - centre
    bulge = centre + radius * middle / np.linalg.norm(middle)
    if way.turning and centre[0] < 0:
        raise LocalFailure("the ball does not fit into that bend", list(sides))
    low, high, cuts = _reach(topology, edge, way, corner, radius, goes_on)
    band = way.solid([corner, touches[0], touches[1]], [None, bulge, None], low, high)
    if way.turning and centre[0] < radius:  # the kernel has no torus as narrow as that
        band = converted(SolidTopology(ShapeIndex(band)))[0].index.shape
    cells = cells_on(topology, sides, band, outside=adds, cuts=cuts, each=True)
    fronts = [face for cell in cells for face in _on_the_round(cell, way, touches, radius)]
    if not fronts:
        raise LocalFailure("the round would not reach its edge", list(sides))
    return BlendVolume(cells, fronts[0], adds)


def _reach(
    topology: SolidTopology, edge: int, way: Way, corner: Floats, radius: float, goes_on: Container[int]
) -> tuple[float, float, list[Surface]]:
    """From where to where along the way, and the surfaces at which it has to end."""
    if way.closed:
        return 0.0, way.length, []
    ends = {v: int(np.linalg.norm(topology.point(v) - way.point(corner, way.length))
                   < np.linalg.norm(topology.point(v) - way.point(corner, 0.0)))
            for v in topology.ends(edge)}  # fmt: skip
    open_ends = {at for v, at in ends.items() if v not in goes_on}
    beyond = [f for v in ends if v not in goes_on for f in topology.faces_at(v) if f not in topology.faces_of(edge)]
    cuts = [topology.surface(f) for f in dict.fromkeys(beyond)]
    rest = 2 * np.pi - way.length
    margin = (rest / 2 if len(open_ends) == 2 else SHARE * rest) if way.turning else 3 * radius
    return -margin * (0 in open_ends), way.length + margin * (1 in open_ends), cuts


def _on_the_round(cell: Shape, way: Way, touches: list[Floats], radius: float) -> list[Shape]:
    there = SolidTopology(ShapeIndex(cell))
    spots = np.array([way.point(t, 0.5 * way.length) for t in touches])

    def is_round(surface: Surface) -> bool:
        size = surface.radius if surface.kind in ("cylinder", "torus", "sphere") else 0.0
        return abs(size - radius) < 1e-6 and float(np.abs(surface.distance(spots)[0]).max()) < 1e-6

    return [there.index.get("face", i) for i in range(there.index.count("face")) if is_round(there.surface(i))]


def is_hollow(topology: SolidTopology, edge: int) -> bool:
    """Whether the faces beside an edge rise from each other, as on the floor of a groove."""
    a, b = topology.faces_of(edge)
    points = topology.samples(edge, 5)
    normal = topology.outward(a, points)[2]
    other = topology.outward(b, points)[2]
    along = points[3] - points[1]
    along = along / np.linalg.norm(along) * (-1.0 if topology.is_against(edge, a) else 1.0)
    inwards = np.cross(normal, along) * (-1.0 if topology.is_reversed(a) else 1.0)
    return bool(other @ inwards > 0)
