"""Faces of a solid as polygons, to see what lies over what."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from ..kernel.queries import is_degenerate
from ..kernel.shapes import Loop
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from .development import DEVELOPABLE, Development, development

GRID = 7  # decimals of a mm


class Outlines:
    """Of developable faces, worked out on first use and kept from edit to edit for faces that stay."""

    def __init__(self, topology: SolidTopology) -> None:
        self.topology = topology
        self._planes: tuple[tuple[int, ...], Floats, Floats] | None = None

    def developable(self) -> list[int]:
        topology = self.topology
        return [f for f in range(topology.index.count("face")) if topology.surface(f).kind in DEVELOPABLE]

    def skin(self, face: int) -> Development:
        """The face itself laid flat, not the neutral surface below it."""
        found: Development = self.topology.notes.of(
            "sheet skin", face, lambda f: development(self.topology, f, 0.0, 0.0)
        )
        return found

    def planes(self, faces: Sequence[int]) -> tuple[Floats, Floats]:
        """Outward normals and origins (n, 3) of plane faces."""
        key = tuple(faces)
        if self._planes is None or self._planes[0] != key:
            skins = [self.skin(f) for f in faces]
            self._planes = (key, np.array([s.z for s in skins]), np.array([s.origin for s in skins]))
        return self._planes[1], self._planes[2]

    def loops(self, face: int) -> list[Floats]:
        """Points (n, 3) round each wire, the outer one first."""
        found: list[Floats] = self.topology.notes.of("sheet loops", face, self._walked_round)
        return found

    def _walked_round(self, face: int) -> list[Floats]:
        return [
            np.concatenate([self._along(edge, against) for edge, against in walked(self.topology, wire)])
            for wire in self.topology.wires(face)
        ]

    def _along(self, edge: int, against: bool) -> Floats:
        straight = self.topology.curve(edge)[0].kind == "line"
        points = self.topology.samples(edge, 2 if straight else 17)
        return (points[::-1] if against else points)[:-1]

    def polygon(self, face: int) -> BaseGeometry:
        found: BaseGeometry = self.topology.notes.of("sheet polygon", face, lambda f: self.laid(f, self.skin(f)))
        return found

    def laid(self, face: int, on: Development) -> BaseGeometry:
        """The outline of a face as it lies over another one's development."""
        rings = [on.flat(np.vstack([loop, loop[:1]])) for loop in self.loops(face)]
        return plane_polygon(rings)

    def area(self, face: int) -> float:
        """mm², of the polygon."""
        return float(self.polygon(face).area)

    def shared(self, face: int, other: int) -> float:
        """mm² on `face` over which `other` lies, seen square to the face."""
        rows: dict[int, tuple[list[Floats], float]] = self.topology.notes.of("sheet shared", face, lambda _: {})
        loops = self.loops(other)
        if other not in rows or rows[other][0] is not loops:  # it is another face by now
            amount = float(self.polygon(face).intersection(self.laid(other, self.skin(face))).area)
            rows[other] = (loops, amount)
        return rows[other][1]


def drawn_edges(topology: SolidTopology, face: int) -> list[int]:
    """Those of its edges that have a length."""
    return [e for e in topology.edges_of(face) if topology.meeting(e) != "degenerate"]


def plane_polygon(rings: Sequence[Floats]) -> BaseGeometry:
    """The outer ring of places (n, 2) first.  On a grid: borders that are one but for rounding upset the intersection
    of polygons."""
    clean = []
    for ring in rings:
        places = np.round(ring, GRID)
        kept = np.hypot(*np.diff(places, axis=0, prepend=places[-1:] + 1).T) > 0
        if kept.sum() > 2:
            clean.append(places[kept])
    shape = Polygon(clean[0], clean[1:])
    return shape if shape.is_valid else shapely.make_valid(shape)


def walked(topology: SolidTopology, wire: Loop) -> list[tuple[int, bool]]:
    """Edges of a wire in the order of going round, each with whether it is gone along backwards."""
    left = [(edge, against) for edge, against in wire if not is_degenerate(topology.index.get("edge", edge))]
    found = [left.pop(0)]
    while left:
        edge, against = found[-1]
        tip = topology.ends(edge)[0 if against else 1]
        k = next((k for k, (e, back) in enumerate(left) if topology.ends(e)[1 if back else 0] == tip), 0)
        found.append(left.pop(k))
    return found
