"""A gap while it closes: what its edge_curves become, and the solid rebuilt without its faces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from ..kernel.check import whole_closed
from ..kernel.rebuild import NewEdge, NewVertex, Rebuild, Rebuilt
from ..kernel.shapes import ShapeIndex
from ..kernel.volumes import volume_between
from ..tolerances import SAME_PLACE
from . import soundness
from .corners import Carried, Touch, meet, normals_meet
from .edge_curves import SAMPLES, crossing
from .engine import EdgeMaker
from .failure import LocalFailure
from .outline import ordered_wires
from .pcurves import flat_on
from .plan import Plan
from .surfaces import Floats, Surface
from .topology import SolidTopology


@dataclass(frozen=True)
class Closed:
    """topology: the new solid, to be read afresh; rebuilt: what became what; volume_change: mm³."""

    topology: SolidTopology
    rebuilt: Rebuilt
    volume_change: float


@dataclass
class GapEdge:
    """An additional edge: vertices (lower, upper end), the two faces, and points near it."""

    number: int
    ends: tuple[int, int]
    faces: tuple[int, int]
    near: Floats | None = None
    turn: tuple[float, float] | None = None  # parameters on the first face where the edge begins


@dataclass
class Gap:
    """places: of vertices, new or old; same: for an old vertex the one that stands for it; runs: by face, number of the
    loop and first edge along the gap, what goes in its place; dropped: loops that just go; fresh: additional edges;
    joined: old edges that grow over the gap on to another one, and lost the other ones; ends_gone: edges of the gap
    that shrink to a vertex."""

    topology: SolidTopology
    faces: set[int]
    places: dict[int, Floats] = field(default_factory=dict)
    same: dict[int, int] = field(default_factory=dict)
    runs: dict[tuple[int, int, int], list[tuple[int, bool]]] = field(default_factory=dict)
    dropped: set[tuple[int, int]] = field(default_factory=set)
    fresh: list[GapEdge] = field(default_factory=list)
    joined: list[GapEdge] = field(default_factory=list)
    lost: set[int] = field(default_factory=set)
    ends_gone: set[int] = field(default_factory=set)

    def __post_init__(self) -> None:
        self.next_vertex = self.topology.index.count("vertex")
        self.next_edge = self.topology.index.count("edge")

    def edge(self, a: int, b: int, faces: tuple[int, int], near: Floats | None = None) -> GapEdge:
        new = GapEdge(self.next_edge, (a, b), faces, near)
        self.next_edge += 1
        self.fresh.append(new)
        return new

    def samples(self, edge: int, against: bool) -> Floats:
        points = self.topology.samples(edge, SAMPLES)
        return points[::-1] if against else points

    def meet(self, start: Floats, faces: Sequence[int], corners: Sequence[int]) -> Floats:
        topology = self.topology
        surfaces: list[Surface] = []
        for face in dict.fromkeys(faces):
            surface = topology.surface(face)
            if not any(surface.same(s, 1.0) for s in surfaces):
                surfaces.append(surface)
        touches: list[Touch] = []
        pins = []
        for corner in corners:
            for edge in self.outer_edges(corner):
                a, b = (topology.faces_of(edge) * 2)[:2]
                normal = topology.outward(a, topology.point(corner)[None])[0]
                across = np.cross(normal, topology.direction(edge, corner))
                size = float(np.linalg.norm(across))
                if size < 0.5:
                    continue
                if topology.meeting(edge) == "smooth":
                    sign = topology.sign(a) * topology.sign(b)
                    scale = min(
                        (s.radius for s in (topology.surface(a), topology.surface(b)) if s.numbers), default=1.0
                    )
                    touches.append(normals_meet(topology.surface(a), topology.surface(b), sign, across / size, scale))
                elif topology.meeting(edge) in ("seam", "same"):
                    pins.append(across / size)
        rows = np.array(pins).reshape(-1, 3)
        place = meet(start, surfaces, touches, rows, rows @ start)
        if place is None:
            raise LocalFailure("its neighbours do not meet", list(dict.fromkeys(faces)))
        return place

    def outer_edges(self, corner: int) -> list[int]:
        """Edges at a corner of the outline that stay."""
        return [e for e in self.topology.edges_at(corner) if not set(self.topology.faces_of(e)) & self.faces]

    def rebuild(self, check: bool) -> Closed:
        topology = self.topology
        self._shrink_to_what_is_there()
        build = Rebuild(topology.index)
        build.removed = set(self.faces)
        grown = {e for corner in self.same for e in self.outer_edges(corner)} - self.lost
        places = dict(self.places)
        for corner, tip in self.same.items():
            places[corner] = self.places[tip] if tip in self.places else topology.point(tip)
        edges = EdgeMaker(topology, Plan(), places, Carried(topology, Plan()))
        touched = {f for f, _ in self.dropped} | {f for f, _, _ in self.runs}
        touched |= {f for e in self.ends_gone for f in topology.faces_of(e)} - self.faces
        for edge in grown:
            touched.update(topology.faces_of(edge))
            build.edges[edge] = edges.new(edge)
            build.ends[edge] = self._merged(topology.ends(edge))
        for new in [*self.fresh, *self.joined]:
            touched.update(new.faces)
            build.edges[new.number] = self._new_edge(new)
            build.ends[new.number] = self._merged(new.ends)
        for vertex, place in self.places.items():
            if vertex not in self.same or self.same[vertex] == vertex:
                near = [build.edges[e].tolerance for e, ends in build.ends.items() if vertex in ends]
                build.vertices[vertex] = NewVertex(place.tolist(), max([1e-7, *near]))
        self._rewire(build)
        rebuilt = build.solid(touched)
        after = SolidTopology(ShapeIndex(rebuilt.shape))
        numbers = [after.index.find("face", rebuilt.made["face"][f]) for f in touched]
        if min(numbers, default=0) < 0 or (check and not whole_closed(after.index)):
            raise LocalFailure("the gap does not close", sorted(touched)[:3])
        gone = [topology.index.get("face", f) for f in (*touched, *self.faces)]
        change = volume_between(gone, [after.index.get("face", n) for n in numbers])
        if check:
            soundness.check(after, numbers)
        return Closed(after, rebuilt, change)

    def _merged(self, ends: tuple[int, int]) -> tuple[int, int]:
        first, last = ends
        return self.same.get(first, first), self.same.get(last, last)

    def _shrink_to_what_is_there(self) -> None:
        """Where neighbours meet in a vertex that is there already, the edge that led to it from the gap goes."""
        for tip in {t for t in self.same.values() if t in self.places}:
            group = [v for v, t in self.same.items() if t == tip]
            met = {}
            for edge in (e for v in group for e in self.outer_edges(v)):
                far = [v for v in self.topology.ends(edge) if v >= 0 and v not in group]
                if len(far) == 1 and float(np.linalg.norm(self.topology.point(far[0]) - self.places[tip])) < SAME_PLACE:
                    met[edge] = far[0]
            if len(set(met.values())) == 1:
                self.lost.update(met)
                self.same.update(dict.fromkeys([*group, tip], next(iter(met.values()))))

    def _new_edge(self, new: GapEdge) -> NewEdge:
        surfaces = [self.topology.surface(f) for f in new.faces]
        start, end = (self.places[v] if v in self.places else self.topology.point(v) for v in new.ends)
        if new.near is None:
            near = start + np.linspace(0, 1, SAMPLES)[:, None] * (end - start)
        else:
            share = np.linspace(0, 1, len(new.near))[:, None]
            near = new.near + (1 - share) * (start - new.near[0]) + share * (end - new.near[-1])
            keep = np.append(True, np.linalg.norm(np.diff(near, axis=0), axis=1) > 1e-9)
            near = near[keep]
        closed = new.ends[0] == new.ends[1]
        if not closed and float(np.linalg.norm(end - start)) < 1e-6:
            raise LocalFailure("a new edge would have no length", new.faces)
        border = crossing(near, surfaces, closed, new.faces)
        found = NewEdge(border.kernel, border.first, border.last, border.tolerance)
        for face, surface in zip(new.faces, surfaces, strict=True):
            begin = new.turn if face == new.faces[0] else None
            curves, miss = flat_on(surface, border, new.faces, self._turn(face), begin)
            if curves:
                found.flat[face] = curves
            found.tolerance = max(found.tolerance, miss)
        return found

    def _turn(self, face: int) -> tuple[float, float]:
        """Parameters at the middle of a face, for what edge_curves it to stay in its turn of a periodic surface."""
        u0, u1, v0, v1 = self.topology.bounds(face)
        return (u0 + u1) / 2, (v0 + v1) / 2

    def _rewire(self, build: Rebuild) -> None:
        beside = {f for e in self.ends_gone for f in self.topology.faces_of(e)} - self.faces
        for face in {f for f, _ in self.dropped} | {f for f, _, _ in self.runs} | beside:
            wires = []
            for number, wire in enumerate(ordered_wires(self.topology, face)):
                if (face, number) in self.dropped:
                    continue
                starts = {edge: run for (f, w, edge), run in self.runs.items() if f == face and w == number}
                row: list[tuple[int, bool]] = []
                border = {e for e, _ in wire if set(self.topology.faces_of(e)) & self.faces and starts} | self.ends_gone
                for use in wire:
                    if use[0] in starts:
                        row += starts[use[0]]
                    elif use[0] not in border and use[0] not in self.lost:
                        row.append(use)
                wires.append(row)
            build.wires[face] = wires
