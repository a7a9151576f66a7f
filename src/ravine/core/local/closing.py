"""Remove faces and close up: the neighbours grow into the gap until they meet.

A loop of the outline that is a whole inner loop of one neighbour just goes (holes, bosses, pockets).  Else the
neighbours around it, taken as the corners of a polygon, close as one of its triangulations: a triangle is a new
vertex where three neighbours meet, a diagonal a new edge between two, a side of the polygon an old edge that grows.
A ring between one neighbour's whole loop and several others (a round all around a top) closes edge by edge.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from itertools import islice, product

import numpy as np

from ..kernel.carriers import flat_start, forward, oriented
from ..kernel.check import whole_closed
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.rebuild import NewEdge, NewVertex, Rebuild, Rebuilt
from ..kernel.shapes import ShapeIndex
from ..kernel.volumes import volume_between
from . import soundness
from .borders import SAMPLES, crossing
from .corners import Carried, Touch, meet, normals_meet
from .engine import EdgeMaker
from .fabric import Fabric
from .failure import LocalFailure
from .flats import flat_on
from .outline import Side, ordered_wires, outline
from .plan import Plan
from .rounds import Round, is_corner_patch, round_of
from .surfaces import Floats, Surface

MOST_SIDES = 7
MOST_TRIES = 60


@dataclass(frozen=True)
class Closed:
    """fabric: the new solid, to be read afresh; rebuilt: what became what; volume_change: mm³."""

    fabric: Fabric
    rebuilt: Rebuilt
    volume_change: float


Triangles = tuple[tuple[int, int, int], ...]


def close_up(fabric: Fabric, faces: set[int], *, check: bool = True) -> Closed:
    """The solid without these faces.  Raises LocalFailure naming the faces that stop it."""
    if len(faces) >= fabric.index.count("face") - 1:
        raise LocalFailure("nothing would be left to close up", sorted(faces))
    loops = outline(fabric, faces)
    if not loops:
        raise LocalFailure("it has no neighbours to close up", sorted(faces))
    first: LocalFailure | None = None
    for parts in _ways(fabric, faces, loops):
        try:
            return _Closing(fabric, faces, parts).build(check)
        except LocalFailure as failure:
            first = first or failure
        except KERNEL_FAILURES:
            first = first or LocalFailure("an edge between its neighbours cannot be drawn", sorted(faces))
    raise first or LocalFailure("its neighbours do not meet", sorted(faces))


@dataclass(frozen=True)
class _Drop:
    side: Side


@dataclass(frozen=True)
class _Polygon:
    sides: tuple[Side, ...]
    triangles: Triangles


@dataclass(frozen=True)
class _Ring:
    whole: Side
    sides: tuple[Side, ...]


@dataclass(frozen=True)
class _Network:
    """Rounds with the corners between them: each strip shrinks to an edge, each corner and end of a strip to a
    vertex."""

    strips: tuple[Round, ...]


_Part = _Drop | _Polygon | _Ring | _Network


def _ways(fabric: Fabric, faces: set[int], loops: list[list[Side]]) -> Iterator[list[_Part]]:
    """To close all loops, likely ones first."""
    network = _network_of(fabric, faces)
    if network is not None and sum(loop[0].whole and loop[0].wire == 0 for loop in loops) > 1:
        yield [network]
        return
    try:
        choices = _choices(loops)
    except LocalFailure:
        if network is None:
            raise
        choices = []
    if choices:
        for choice in islice(product(*choices), MOST_TRIES):
            yield [part for part in choice if part is not None]
    if network is not None and len(network.strips) > 1:
        yield [network]


def _choices(loops: list[list[Side]]) -> list[list[_Part | None]]:
    """For each loop the ways to close it."""
    whole = [loop[0] for loop in loops if loop[0].whole]
    open_ = [loop for loop in loops if not loop[0].whole]
    if len(whole) == 1 and len(open_) == 1:
        ring: list[_Part | None] = [_Ring(whole[0], tuple(open_[0]))]
        if whole[0].wire == 0:
            return [ring]
        return [[*ring, _Drop(whole[0])], [None, *_polygons(open_[0])]] if len(open_[0]) > 1 else [ring]
    for side in whole:
        if side.wire == 0:
            raise LocalFailure("a whole neighbour would have to go, too; pick it as well", [side.face])
    drops: list[list[_Part | None]] = [[_Drop(side)] for side in whole]
    return drops + [_polygons(loop) for loop in open_]


def _network_of(fabric: Fabric, faces: set[int]) -> _Network | None:
    """None where some of the faces are neither rounds nor corners of them.  A round along another one that goes, too,
    is a corner."""
    rounds = {f: item for f in faces if (item := round_of(fabric, f)) is not None}
    if not all(is_corner_patch(fabric, f) for f in faces - rounds.keys()):
        return None
    strips = tuple(item for item in rounds.values() if item.rails and not faces.intersection(item.supports))
    return _Network(strips) if strips else None


def _polygons(loop: Sequence[Side]) -> list[_Part | None]:
    count = len(loop)
    if count > MOST_SIDES:
        raise LocalFailure(f"{count} neighbours would have to meet", [s.face for s in loop])
    if count < 2:
        raise LocalFailure("one neighbour alone cannot close the gap", [s.face for s in loop])
    return [_Polygon(tuple(loop), t) for t in triangulations(0, count - 1)]


def triangulations(first: int, last: int) -> Iterator[Triangles]:
    """Of the polygon with corners first … last."""
    if last - first < 2:
        yield ()
        return
    for tip in range(first + 1, last):
        for left in triangulations(first, tip):
            for right in triangulations(tip, last):
                yield (*left, (first, tip, last), *right)


@dataclass
class _New:
    """An additional edge: vertices (lower, upper end), the two faces, and points near it."""

    number: int
    ends: tuple[int, int]
    faces: tuple[int, int]
    near: Floats | None = None
    turn: tuple[float, float] | None = None  # parameters on the first face where the edge begins


@dataclass
class _Closing:
    fabric: Fabric
    faces: set[int]
    parts: list[_Part]
    places: dict[int, Floats] = field(default_factory=dict)
    same: dict[int, int] = field(default_factory=dict)  # vertex -> the one that stands for it
    runs: dict[tuple[int, int, int], list[tuple[int, bool]]] = field(default_factory=dict)
    dropped: set[tuple[int, int]] = field(default_factory=set)
    fresh: list[_New] = field(default_factory=list)
    joined: list[_New] = field(default_factory=list)  # old edges that grow over the gap on to another one
    lost: set[int] = field(default_factory=set)  # the other ones
    ends_gone: set[int] = field(default_factory=set)  # edges of the gap that shrink to a vertex

    def build(self, check: bool) -> Closed:
        self.next_vertex = self.fabric.index.count("vertex")
        self.next_edge = self.fabric.index.count("edge")
        for part in self.parts:
            if isinstance(part, _Drop):
                self.dropped.add((part.side.face, part.side.wire))
            elif isinstance(part, _Polygon):
                self._polygon(part)
            elif isinstance(part, _Ring):
                self._ring(part)
            else:
                self._network(part)
        return self._rebuild(check)

    # --- a polygon of neighbours -----------------------------------------------------------------------------------

    def _polygon(self, part: _Polygon) -> None:
        sides = part.sides
        count = len(sides)
        if count == 2:
            self._join(sides)
            return
        corners = [self._shared_corner(sides[i], sides[(i + 1) % count]) for i in range(count)]
        tips: dict[int, int] = {}  # polygon side i (between faces i and i + 1) -> new vertex
        triangle_tip: dict[tuple[int, int, int], int] = {}
        for triangle in part.triangles:
            owned = [i for i in range(count) if {i, (i + 1) % count} <= set(triangle)]
            old = [corners[i] for i in owned]
            start = np.mean([self.fabric.point(c) for c in (old or corners)], axis=0)
            faces = [sides[i].face for i in triangle]
            place = self._meet(start, faces, old)
            if old:
                tip = old[0]
            else:
                tip, self.next_vertex = self.next_vertex, self.next_vertex + 1
            for corner in old:
                self.same[corner] = tip
            self.places[tip] = place
            triangle_tip[triangle] = tip
            tips.update(dict.fromkeys(owned, tip))
        diagonals = self._diagonals(sides, part.triangles, triangle_tip)
        for i, side in enumerate(sides):
            own = [new for pair, new in diagonals.items() if i in pair]
            if len(own) == 1 and own[0].near is None:
                begins = tips[self._corner_number(corners, side, i, 0)]
                own[0].near = self._along(side, forwards=begins == own[0].ends[0])
        for i, side in enumerate(sides):
            begin, end = (tips[self._corner_number(corners, side, i, which)] for which in (0, 1))
            self.runs[side.face, side.wire, side.edges[0][0]] = self._path(i, begin, end, diagonals)

    def _join(self, sides: Sequence[Side]) -> None:
        """Two neighbours whose common edge the gap interrupted: its two pieces become one again."""
        a, b = sides[0].corners
        if a == b:
            raise LocalFailure("one edge alone would have to close on itself", [s.face for s in sides])
        pieces = [[e for e in self._outer_edges(c) if set(self.fabric.faces_of(e)) == {s.face for s in sides}]
                  for c in (a, b)]  # fmt: skip
        if any(len(found) != 1 for found in pieces) or pieces[0] == pieces[1]:
            raise LocalFailure("its neighbours close in no simple way", [s.face for s in sides])
        (kept,), (other,) = pieces
        low, high = self.fabric.ends(kept)
        far = next(v for v in self.fabric.ends(other) if v != b)
        way = [far if v == a else v for v in (low, high)]
        points = np.concatenate([self._samples(kept, low == a), self._samples(other, self.fabric.ends(other)[1] == b)])
        if low == a:  # from the far end of the kept piece over the gap; the edge itself runs the other way
            points = points[::-1]
        self.joined.append(_New(kept, (way[0], way[1]), (sides[0].face, sides[1].face), points))
        self.lost.add(other)
        for side in sides:
            self.runs[side.face, side.wire, side.edges[0][0]] = []

    def _along(self, side: Side, forwards: bool) -> Floats:
        """Points along the border of one neighbour, which an edge over the gap goes on beside: it may lead more than
        half way around something."""
        points = np.concatenate([self._samples(edge, against) for edge, against in side.edges])
        return points if forwards else points[::-1]

    def _corner_number(self, corners: list[int], side: Side, i: int, which: int) -> int:
        """Which polygon side the beginning (0) or end (1) of a run lies on."""
        here = [k for k in ((i - 1) % len(corners), i) if corners[k] == side.corners[which]]
        if not here:
            raise LocalFailure("its outline touches itself", [side.face])
        return here[0]

    def _shared_corner(self, a: Side, b: Side) -> int:
        shared = set(a.corners) & set(b.corners)
        if not shared:
            raise LocalFailure("its outline is not closed", [a.face, b.face])
        return min(shared)

    def _diagonals(
        self, sides: Sequence[Side], triangles: Triangles, tip: dict[tuple[int, int, int], int]
    ) -> dict[tuple[int, int], _New]:
        found: dict[tuple[int, int], _New] = {}
        beside: dict[tuple[int, int], list[int]] = {}
        for triangle in triangles:
            a, b, c = triangle
            for pair in ((a, b), (b, c), (a, c)):
                beside.setdefault(pair, []).append(tip[triangle])
        for pair, ends in beside.items():
            if len(ends) == 2:
                faces = (sides[pair[0]].face, sides[pair[1]].face)
                if faces[0] == faces[1]:
                    raise LocalFailure("a neighbour would have to meet itself", [faces[0]])
                found[pair] = self._edge(ends[0], ends[1], faces)
        return found

    def _edge(self, a: int, b: int, faces: tuple[int, int], near: Floats | None = None) -> _New:
        new = _New(self.next_edge, (a, b), faces, near)
        self.next_edge += 1
        self.fresh.append(new)
        return new

    def _path(
        self, corner: int, begin: int, end: int, diagonals: dict[tuple[int, int], _New]
    ) -> list[tuple[int, bool]]:
        """The new edges along one neighbour, from vertex to vertex."""
        left = [new for pair, new in diagonals.items() if corner in pair]
        path: list[tuple[int, bool]] = []
        at = begin
        while left:
            new = next((n for n in left if at in n.ends), None)
            if new is None:
                raise LocalFailure("its neighbours close in no simple way", list({f for n in left for f in n.faces}))
            against = new.ends[1] == at and new.ends[0] != at
            at = new.ends[0] if against else new.ends[1]
            path.append((new.number, against))
            left.remove(new)
        if at != end:
            raise LocalFailure("its neighbours close in no simple way", [self.fresh[-1].faces[0]] if self.fresh else [])
        return path

    # --- a ring ----------------------------------------------------------------------------------------------------

    def _ring(self, part: _Ring) -> None:
        """Between one whole loop of `whole.face` and several neighbours around it."""
        top, sides = part.whole.face, part.sides
        for side in sides:
            for corner in side.corners:
                if corner not in self.places:
                    beside = [s.face for s in sides if corner in s.corners]
                    self.places[corner] = self._meet(self.fabric.point(corner), [top, *beside], [corner])
                    self.same[corner] = corner
        uses: list[tuple[int, bool]] = []
        turned = self.fabric.is_reversed(top)
        for side in sides:
            near = np.concatenate([self._samples(edge, against) for edge, against in side.edges])
            new = self._edge(side.corners[0], side.corners[1], (side.face, top), near)
            new.turn = self._flat_start(side)
            self.runs[side.face, side.wire, side.edges[0][0]] = [(new.number, False)]
            uses.append((new.number, (not self.fabric.is_reversed(side.face)) ^ turned))
        self.runs[top, part.whole.wire, part.whole.edges[0][0]] = uses

    def _flat_start(self, side: Side) -> tuple[float, float] | None:
        edge, against = side.edges[0]
        _, first, last = self.fabric.curve(edge)
        shape, face = (self.fabric.index.get(k, n) for k, n in (("edge", edge), ("face", side.face)))
        return flat_start(oriented(shape, against), forward(face), last if against else first)

    def _samples(self, edge: int, against: bool) -> Floats:
        points = self.fabric.samples(edge, SAMPLES)
        return points[::-1] if against else points

    # --- a network of rounds ---------------------------------------------------------------------------------------

    def _network(self, part: _Network) -> None:
        fabric = self.fabric
        stands: dict[int, int] = {}

        def root(vertex: int) -> int:
            while stands.setdefault(vertex, vertex) != vertex:
                vertex = stands[vertex]
            return vertex

        rails = {e for item in part.strips for e in item.rails}
        for edge in {e for f in self.faces for e in fabric.edges_of(f)} - rails:
            a, b = fabric.ends(edge)
            stands[root(a)] = root(b)
            self.ends_gone.add(edge)
        vertices = {v for f in self.faces for v in fabric.vertices_of(f)}
        for tip in {root(v) for v in vertices}:
            group = [v for v in vertices if root(v) == tip]
            beside = [f for v in group for f in fabric.faces_at(v) if f not in self.faces]
            start = np.mean([fabric.point(v) for v in group], axis=0)
            self.places[tip] = self._meet(start, list(dict.fromkeys(beside)), group)
            self.same.update(dict.fromkeys(group, tip))
        for item in part.strips:
            self._strip_to_edge(item, root)

    def _strip_to_edge(self, item: Round, root: Callable[[int], int]) -> None:
        fabric = self.fabric
        by_face = {fabric.other_face(rail, item.face): rail for rail in item.rails}
        if len(item.rails) != 2 or len(by_face) != 2:
            raise LocalFailure("its rails are split", [item.face])
        a, b = by_face
        low, high = (root(v) for v in fabric.ends(by_face[a]))
        new = self._edge(low, high, (a, b), fabric.samples(by_face[a], SAMPLES))
        for face, rail in by_face.items():
            for number, wire in enumerate(ordered_wires(fabric, face)):
                for edge, against in wire:
                    if edge == rail:
                        turned = root(fabric.ends(rail)[0]) != low
                        self.runs[face, number, edge] = [(new.number, against ^ turned)]

    # --- meeting ---------------------------------------------------------------------------------------------------

    def _meet(self, start: Floats, faces: Sequence[int], corners: Sequence[int]) -> Floats:
        fabric = self.fabric
        surfaces: list[Surface] = []
        for face in dict.fromkeys(faces):
            surface = fabric.surface(face)
            if not any(surface.same(s, 1.0) for s in surfaces):
                surfaces.append(surface)
        touches: list[Touch] = []
        pins = []
        for corner in corners:
            for edge in self._outer_edges(corner):
                a, b = (fabric.faces_of(edge) * 2)[:2]
                normal = fabric.outward(a, fabric.point(corner)[None])[0]
                across = np.cross(normal, fabric.direction(edge, corner))
                size = float(np.linalg.norm(across))
                if size < 0.5:
                    continue
                if fabric.meeting(edge) == "smooth":
                    sign = fabric.sign(a) * fabric.sign(b)
                    scale = min((s.radius for s in (fabric.surface(a), fabric.surface(b)) if s.numbers), default=1.0)
                    touches.append(normals_meet(fabric.surface(a), fabric.surface(b), sign, across / size, scale))
                elif fabric.meeting(edge) in ("seam", "same"):
                    pins.append(across / size)
        rows = np.array(pins).reshape(-1, 3)
        place = meet(start, surfaces, touches, rows, rows @ start)
        if place is None:
            raise LocalFailure("its neighbours do not meet", list(dict.fromkeys(faces)))
        return place

    def _outer_edges(self, corner: int) -> list[int]:
        """Edges at a corner of the outline that stay."""
        return [e for e in self.fabric.edges_at(corner) if not set(self.fabric.faces_of(e)) & self.faces]

    # --- building --------------------------------------------------------------------------------------------------

    def _rebuild(self, check: bool) -> Closed:
        fabric = self.fabric
        build = Rebuild(fabric.index)
        build.removed = set(self.faces)
        grown = {e for corner in self.same for e in self._outer_edges(corner)}
        places = dict(self.places)
        for corner, tip in self.same.items():
            places[corner] = self.places[tip]
        edges = EdgeMaker(fabric, Plan(), places, Carried(fabric, Plan()))
        touched = {f for f, _ in self.dropped} | {f for f, _, _ in self.runs}
        touched |= {f for e in self.ends_gone for f in fabric.faces_of(e)} - self.faces
        for edge in grown:
            touched.update(fabric.faces_of(edge))
            build.edges[edge] = edges.new(edge)
            build.ends[edge] = tuple(self.same.get(v, v) for v in fabric.ends(edge))  # type: ignore[assignment]
        for new in [*self.fresh, *self.joined]:
            touched.update(new.faces)
            build.edges[new.number] = self._new_edge(new)
            build.ends[new.number] = new.ends
        for vertex, place in self.places.items():
            if vertex not in self.same or self.same[vertex] == vertex:
                near = [build.edges[e].tolerance for e, ends in build.ends.items() if vertex in ends]
                build.vertices[vertex] = NewVertex(place.tolist(), max([1e-7, *near]))
        self._rewire(build)
        rebuilt = build.solid(touched)
        after = Fabric(ShapeIndex(rebuilt.shape))
        numbers = [after.index.find("face", rebuilt.made["face"][f]) for f in touched]
        if min(numbers, default=0) < 0 or (check and not whole_closed(after.index)):
            raise LocalFailure("the gap does not close", sorted(touched)[:3])
        gone = [fabric.index.get("face", f) for f in (*touched, *self.faces)]
        change = volume_between(gone, [after.index.get("face", n) for n in numbers])
        if check:
            soundness.check(after, numbers)
        return Closed(after, rebuilt, change)

    def _new_edge(self, new: _New) -> NewEdge:
        surfaces = [self.fabric.surface(f) for f in new.faces]
        start, end = (self.places[v] if v in self.places else self.fabric.point(v) for v in new.ends)
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
        """Parameters at the middle of a face, for what borders it to stay in its turn of a periodic surface."""
        u0, u1, v0, v1 = self.fabric.bounds(face)
        return (u0 + u1) / 2, (v0 + v1) / 2

    def _rewire(self, build: Rebuild) -> None:
        beside = {f for e in self.ends_gone for f in self.fabric.faces_of(e)} - self.faces
        for face in {f for f, _ in self.dropped} | {f for f, _, _ in self.runs} | beside:
            wires = []
            for number, wire in enumerate(ordered_wires(self.fabric, face)):
                if (face, number) in self.dropped:
                    continue
                starts = {edge: run for (f, w, edge), run in self.runs.items() if f == face and w == number}
                row: list[tuple[int, bool]] = []
                border = {e for e, _ in wire if set(self.fabric.faces_of(e)) & self.faces and starts} | self.ends_gone
                for use in wire:
                    if use[0] in starts:
                        row += starts[use[0]]
                    elif use[0] not in border and use[0] not in self.lost:
                        row.append(use)
                wires.append(row)
            build.wires[face] = wires
