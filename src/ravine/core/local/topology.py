"""A solid read for local editing: carriers, who touches whom, how faces meet.  Everything is read on first use, so
that the cost of an edit follows from the faces it touches, not from the size of the part."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache, cached_property

import numpy as np

from ..kernel import carriers, rebuild
from ..kernel.carriers import CurveData
from ..kernel.classify import boxes_of, edge_box, face_middle, parameter_box
from ..kernel.queries import TANGENT, Vec, is_degenerate, vertex_point
from ..kernel.shapes import Loop, ShapeIndex
from ..rigid import cross_rows
from .face_notes import FaceNotes
from .surfaces import Floats, Surface

FINE = 9  # points along an edge that are kept
THINNED = {3: 4, 5: 2, 9: 1}  # every which of them, by how many are asked for
ROOM = 0.3  # of a spline face's size, by which its surface is carried on


@cache
def _shares(count: int) -> Floats:
    return np.linspace(0.0, 1.0, count)


class SolidTopology:
    """Faces, edges and vertices by their number in the index (from 0)."""

    def __init__(self, index: ShapeIndex) -> None:
        self.index = index
        self._surfaces: dict[int, Surface] = {}
        self._signs: dict[int, float] = {}
        self._curves: dict[int, tuple[CurveData, float, float]] = {}
        self._points: dict[int, Floats] = {}
        self._sampled: dict[int, Floats] = {}
        self._meetings: dict[int, str] = {}
        self._extended: list[tuple[Surface, Surface]] = []
        self.notes, self.drawn_edges = FaceNotes(), FaceNotes()

    def settle(self) -> bool:
        """Cut loose from the solid before; False where the order of the parts is not the one that was told."""
        self.notes, self.drawn_edges = self.notes.settled(), self.drawn_edges.settled()
        return self.index.settle()

    def after(
        self, index: ShapeIndex, surfaces: Mapping[int, Surface], faces: set[int], edges: set[int], vertices: set[int]
    ) -> SolidTopology:
        """The solid after a change that kept the topology: what was read of the rest still holds."""
        new = SolidTopology(index)
        new._surfaces = {**self._surfaces, **surfaces}
        new._signs = {f: sign for f, sign in self._signs.items() if f not in surfaces}
        new._curves = {e: c for e, c in self._curves.items() if e not in edges}
        new._sampled = {e: p for e, p in self._sampled.items() if e not in edges}
        new._extended = self._extended
        new.notes, new.drawn_edges = self.notes.after(faces), self.drawn_edges.after(edges)
        new._points = {v: p for v, p in self._points.items() if v not in vertices}
        new._meetings = {e: m for e, m in self._meetings.items() if e not in edges}
        if "_around" in self.__dict__:
            new.__dict__["_around"] = self._around
        return new

    def laid_on(self, surfaces: Mapping[int, Surface]) -> SolidTopology:
        """The same solid read as if some of its faces lay on other surfaces, which are near to their own."""
        new = SolidTopology(self.index)
        new._surfaces = {**self._surfaces, **surfaces}
        new._curves, new._points = self._curves, self._points
        return new

    @property
    def boxes(self) -> Floats:
        """(faces, 6): low and high corner of each."""
        return boxes_of(self.index)

    def faces_of(self, edge: int) -> tuple[int, ...]:
        return self.index.faces_of_edges[edge]

    def other_face(self, edge: int, face: int) -> int:
        """The face across an edge; the same one at a seam."""
        return next((f for f in self.faces_of(edge) if f != face), face)

    def edges_of(self, face: int) -> tuple[int, ...]:
        return self.index.edges_of_faces[face]

    def is_reversed(self, face: int) -> bool:
        return carriers.is_reversed(self.index.get("face", face))

    def surface(self, face: int) -> Surface:
        found = self._surfaces.get(face)
        if found is None:
            data = carriers.read_surface(self.index.get("face", face))
            inside = self._some_point(face) if data.kind in ("cone", "torus") else None
            found = Surface.read(data, inside)
            self._surfaces[face] = found if found.kind != "spline" else self._roomy(face, found)
            found = self._surfaces[face]
        return found

    def _roomy(self, face: int, surface: Surface) -> Surface:
        """A spline surface carried on beyond its edge_curves, once for all faces on it: a neighbour may have to meet it
        out there."""
        for native, roomy in self._extended:
            if native.same(surface, 1.0):
                return roomy
        roomy = surface.extended(self.bounds(face), ROOM * self._reach(face))
        self._extended.append((surface, roomy))
        return roomy

    def _reach(self, face: int) -> float:
        low, high = self.boxes[face][:3], self.boxes[face][3:]
        return float(np.linalg.norm(high - low))

    def holds(self, face: int, uv: Floats) -> bool:
        """Whether the surface the face has now, not carried on, has all these parameters (n, 2)."""
        return Surface.read(carriers.read_surface(self.index.get("face", face))).reaches(uv)

    def _some_point(self, face: int) -> Floats | None:
        for edge in self.edges_of(face):
            curve, first, last = self.curve(edge)
            if curve.kind != "none":
                return carriers.curve_points(curve, np.array([first + 0.37 * (last - first)]))[0]
        return None

    def sign(self, face: int) -> float:
        """+1 where the outward normal runs along the gradient of the surface's distance."""
        found = self._signs.get(face)
        if found is None:
            found = self._signs[face] = self.sign_on(face, self.surface(face))
        return found

    def sign_on(self, face: int, surface: Surface) -> float:
        """The same if the face lay on this surface."""
        return surface.natural * (-1.0 if self.is_reversed(face) else 1.0)

    def wires(self, face: int) -> tuple[Loop, ...]:
        """The outer one first."""
        return rebuild.loops_of(self.index, face).ordered

    def is_against(self, edge: int, face: int) -> bool:
        """Whether a face (taken forward) uses an edge against its own direction.  An edge that once was a seam has
        two curves on the surface, and which of them is meant hangs on this."""
        return next((against for wire in self.wires(face) for e, against in wire if e == edge), False)

    def ends(self, edge: int) -> tuple[int, int]:
        return rebuild.ends_of(self.index, edge)

    def curve(self, edge: int) -> tuple[CurveData, float, float]:
        found = self._curves.get(edge)
        if found is None:
            found = self._curves[edge] = carriers.read_curve(self.index.get("edge", edge))
        return found

    def samples(self, edge: int, count: int = 3) -> Floats:
        """Points (count, 3) along an edge, both ends included."""
        if count in THINNED:
            kept = self._sampled.get(edge)
            if kept is None:
                kept = self._sampled[edge] = self._points_along(edge, FINE)
                kept.flags.writeable = False
            return kept[:: THINNED[count]]
        return self._points_along(edge, count)

    def _points_along(self, edge: int, count: int) -> Floats:
        curve, first, last = self.curve(edge)
        spots = first + (last - first) * _shares(count)
        spots[-1] = last
        return carriers.curve_points(curve, spots)

    def edge_box(self, edge: int) -> Floats:
        """(6,): low and high corner."""
        return edge_box(self.index.get("edge", edge))

    def direction(self, edge: int, vertex: int) -> Floats:
        """Unit tangent of an edge at one of its ends, by rising parameter; none of an edge shrunk to a point."""
        curve, first, last = self.curve(edge)
        if curve.kind == "none":
            return np.zeros(3)
        at_start = self.ends(edge)[0] == vertex
        step = 1e-4 * (last - first)
        spots = (first, first + step) if at_start else (last - step, last)
        a, b = carriers.curve_points(curve, np.array(spots))
        size = float(np.linalg.norm(b - a))
        return (b - a) / size if size > 0 else np.zeros(3)

    def point(self, vertex: int) -> Floats:
        found = self._points.get(vertex)
        if found is None:
            found = self._points[vertex] = np.array(vertex_point(self.index.get("vertex", vertex)))
        return found

    @cached_property
    def _around(self) -> dict[int, list[int]]:
        table: dict[int, list[int]] = {}
        for edge in range(self.index.count("edge")):
            for v in dict.fromkeys(self.ends(edge)):
                table.setdefault(v, []).append(edge)
        return table

    def edges_at(self, vertex: int) -> list[int]:
        return self._around.get(vertex, [])

    def faces_at(self, vertex: int) -> list[int]:
        return list(dict.fromkeys(f for e in self.edges_at(vertex) for f in self.faces_of(e)))

    def vertices_of(self, face: int) -> list[int]:
        return list(dict.fromkeys(v for e in self.edges_of(face) for v in self.ends(e) if v >= 0))

    def bounds(self, face: int) -> tuple[float, float, float, float]:
        """Lowest and highest parameters of a face: u, u, v, v."""
        return parameter_box(self.index.get("face", face))

    def middle(self, face: int) -> tuple[Vec, Vec]:
        """A point well inside the face's bounds and the outward normal there, for a handle to stand on."""
        found: tuple[Vec, Vec] = self.notes.of("middle", face, self._middle)
        return found

    def _middle(self, face: int) -> tuple[Vec, Vec]:
        point = face_middle(self.index.get("face", face))
        surface = self.surface(face)
        for _ in range(3):
            off, slope = surface.distance(point[None])
            point = point - off[0] * slope[0]
        x, y, z = point.tolist()
        i, j, k = self.outward(face, point[None])[0].tolist()
        return (x, y, z), (i, j, k)

    def outward(self, face: int, points: Floats) -> Floats:
        """Outward unit normals (n, 3) of a face's surface at points on it."""
        surface = self.surface(face)
        if surface.kind == "plane":
            return np.repeat(self.sign(face) * surface.axial.z[None], len(points), axis=0)
        return self.sign(face) * surface.distance(points)[1]

    def meeting(self, edge: int) -> str:
        """How the faces beside an edge meet: sharp, smooth (tangent all along), same (one surface), seam,
        degenerate or open."""
        found = self._meetings.get(edge)
        if found is None:
            found = self._meetings[edge] = self._meeting(edge)
        return found

    def _meeting(self, edge: int) -> str:
        if is_degenerate(self.index.get("edge", edge)):
            return "degenerate"
        faces = self.faces_of(edge)
        if len(faces) != 2:
            return "open"
        if faces[0] == faces[1]:
            return "seam"
        points = self.samples(edge)
        a, b = (self.outward(f, points) for f in faces)
        sine = np.linalg.norm(cross_rows(a, b), axis=1)
        if sine.max() > TANGENT or np.einsum("ij,ij->i", a, b).min() < 0:
            return "sharp"
        here, there = self.surface(faces[0]), self.surface(faces[1])
        return "same" if here.same(there, self.extent(faces[0])) else "smooth"

    def extent(self, face: int) -> float:
        """A length that the face has about, in mm."""
        points = np.array([self.point(v) for v in self.vertices_of(face)]).reshape(-1, 3)
        size = float(np.linalg.norm(np.ptp(points, axis=0))) if len(points) else 0.0
        surface = self.surface(face)
        return max(size, 2 * surface.radius if surface.numbers else 0.0, 1.0)

    def neighbours(self, face: int, *meetings: str) -> list[int]:
        """Faces across edges of these kinds (any, when none is named)."""
        found = (self.other_face(e, face) for e in self.edges_of(face) if not meetings or self.meeting(e) in meetings)
        return [f for f in dict.fromkeys(found) if f != face]

    def one_surface(self, face: int) -> set[int]:
        """The face with all that continue it on the same surface."""
        found, waiting = {face}, [face]
        while waiting:
            for beside in self.neighbours(waiting.pop(), "same"):
                if beside not in found:
                    found.add(beside)
                    waiting.append(beside)
        return found
