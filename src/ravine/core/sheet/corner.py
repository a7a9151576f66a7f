"""A sharp corner between two walls of a sheet: where a bend can be put, or the walls ripped apart."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.shapes import Shape
from ..local.surfaces import Floats
from ..local.topology import SolidTopology
from .outlines import Outlines
from .pairing import backs_of, thickness_of

OVER = 1.0  # mm by which cutting tools stand over
SQUARE = 1e-3  # rad


@dataclass(frozen=True, eq=False)
class Corner:
    """inner, outer: numbers of the two edges; walls: of the outer faces beside the outer edge; start: of the outer
    edge, mm; along: unit vector on from there; length: mm; ways: unit vectors into either wall; outwards: normals of
    their outer faces; opening: angle between the walls, rad; free: whether the corner ends clean at its start and its
    end."""

    inner: int
    outer: int
    walls: tuple[int, int]
    start: Floats
    along: Floats
    length: float
    ways: tuple[Floats, Floats]
    outwards: tuple[Floats, Floats]
    opening: float
    thickness: float
    free: tuple[bool, bool]

    @property
    def bend(self) -> float:
        """rad, by which the sheet would be bent there."""
        return math.pi - self.opening

    def setback(self, radius: float) -> float:
        """mm from the outer corner to where a bend of that inner radius ends."""
        return (radius + self.thickness) * math.tan(self.bend / 2)

    @property
    def across(self) -> float:
        """mm along one wall that the thickness of the other takes."""
        return self.thickness / math.sin(self.opening)


class Corners:
    """Of one solid."""

    def __init__(self, topology: SolidTopology, thickness: float | None = None) -> None:
        self.topology = topology
        self.outlines = Outlines(topology)
        found = thickness or thickness_of(self.outlines)
        if found is None:
            raise EditError("no flat face has another side behind it, so this is no sheet")
        self.thickness = found
        self.backs = backs_of(self.outlines, found)

    def at(self, edge: int) -> Corner:
        """By its inner or its outer edge.  Raises EditError for an edge that is none."""
        faces = self.topology.faces_of(edge)
        plain = len(faces) == 2 and all(f in self.backs and self._flat(f) for f in faces)
        if not plain or self.topology.curve(edge)[0].kind != "line" or self.topology.meeting(edge) != "sharp":
            raise EditError("this is no sharp corner between two walls of one sheet")
        (ia, ib), (oa, ob) = self._inwards(edge, faces)
        outer, walls = edge, (faces[0], faces[1])
        if float(ia @ ob) > 0:  # a valley: the outer edge is that of the two other sides
            walls, outer = self._behind(edge, faces)
            (ia, ib), (oa, ob) = self._inwards(outer, walls)
        inner = edge if outer != edge else self._behind(edge, faces)[1]
        a, b = self.topology.samples(outer, 2)
        length = float(np.linalg.norm(b - a))
        along = (b - a) / length
        opening = float(np.arccos(np.clip(ia @ ib, -1, 1)))
        ends = tuple(self._ends_clean(inner, outer, k, along) for k in (0, 1))
        return Corner(inner, outer, walls, a, along, length, (ia, ib), (oa, ob), opening, self.thickness,
                      (ends[0], ends[1]))  # fmt: skip

    def every(self) -> list[Corner]:
        """All of them, by their outer edges."""
        found = []
        for edge in range(self.topology.index.count("edge")):
            try:
                corner = self.at(edge)
            except EditError:
                continue
            if corner.outer == edge:
                found.append(corner)
        return found

    def _flat(self, face: int) -> bool:
        return self.topology.surface(face).kind == "plane"

    def _inwards(self, edge: int, faces: Sequence[int]) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats]]:
        """For both faces: the unit vector into it, square to the edge; and its outward normal."""
        a, b = self.topology.samples(edge, 2)
        along = (b - a) / np.linalg.norm(b - a)
        ways, normals = [], []
        for face in faces:
            normal = self.outlines.skin(face).z
            way = np.cross(normal, along)
            against = self.topology.is_against(edge, face) != self.topology.is_reversed(face)
            ways.append(-way if against else way)
            normals.append(normal)
        return (ways[0], ways[1]), (normals[0], normals[1])

    def _behind(self, edge: int, faces: Sequence[int]) -> tuple[tuple[int, int], int]:
        """The other sides of both walls, and the edge between them."""
        a, b = self.topology.samples(edge, 2)
        along = (b - a) / np.linalg.norm(b - a)
        found: list[tuple[float, tuple[int, int], int]] = []
        for one in self.backs[faces[0]]:
            for e in self.topology.edges_of(one.face):
                other = self.topology.other_face(e, one.face)
                if self.topology.curve(e)[0].kind != "line" or all(other != b.face for b in self.backs[faces[1]]):
                    continue
                p, q = self.topology.samples(e, 2)
                way = (q - p) / np.linalg.norm(q - p)
                near = min(float(np.linalg.norm(np.cross(x - a, along))) for x in (p, q))
                if abs(float(way @ along)) > 1 - SQUARE and near < 6 * self.thickness:
                    found.append((float(np.linalg.norm(q - p)), (one.face, other), e))
        if found:
            _, pair, longest = max(found)
            return pair, longest
        raise EditError("the two walls do not meet on their other side, so a bend has no place there")

    def _ends_clean(self, inner: int, outer: int, end: int, along: Floats) -> bool:
        """Whether one face, square to the corner, ends both edges."""
        vertex = self.topology.ends(outer)[end]
        spot = self.topology.point(vertex)
        near = min(self.topology.ends(inner), key=lambda v: float(np.linalg.norm(self.topology.point(v) - spot)))
        shared = set(self.topology.faces_at(vertex)) & set(self.topology.faces_at(near))
        shared -= {*self.topology.faces_of(inner), *self.topology.faces_of(outer)}
        return any(
            self._flat(f) and f not in self.backs and abs(float(self.outlines.skin(f).z @ along)) > 1 - SQUARE
            for f in shared
        )


def relief(corner: Corner, end: int, radius: float) -> Shape:
    """What is cut away where a bend would run into a third wall: a block from the outer corner to where bends end."""
    size = corner.setback(radius)
    low, high = (-OVER, size) if end == 0 else (corner.length - size, corner.length + OVER)
    return _prism(corner, low, high, (-OVER, size), (-OVER, size))


def rip(corner: Corner, way: str, gap: float) -> Shape:
    """What is cut away to part the walls.  Raises EditError for a gap of nothing where one wall runs through."""
    if gap <= 0 and way != "open":
        raise EditError("two walls are parted by a gap above 0", field="gap", nearest="0.1 mm")
    low = -OVER if corner.free[0] else corner.across
    high = corner.length + (OVER if corner.free[1] else -corner.across)
    across = corner.across
    if way == "open":
        return _prism(corner, low, high, (-OVER, across + gap / 2), (-OVER, across + gap / 2))
    slot, room = (across, across + gap), (-OVER, across + 1e-3)
    # in the wall that ends, from its outer face to its inner one
    return _prism(corner, low, high, *((room, slot) if way == "first" else (slot, room)))


def _prism(corner: Corner, low: float, high: float, first: tuple[float, float], second: tuple[float, float]) -> Shape:
    """From `low` to `high` along the corner, between distances into either wall."""
    a, b = corner.ways
    spots = [(first[0], second[0]), (first[1], second[0]), (first[1], second[1]), (first[0], second[1])]
    ring = [tuple((corner.start + low * corner.along + u * a + v * b).tolist()) for u, v in spots]
    return build.extrude(build.outline(ring), tuple(((high - low) * corner.along).tolist()))
