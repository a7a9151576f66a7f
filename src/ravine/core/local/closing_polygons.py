"""A gap whose neighbours, taken as the corners of a polygon, close as one of its triangulations."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .closing_ways import Polygon, Triangles
from .failure import LocalFailure
from .gap import Gap, GapEdge
from .outline import Side
from .surfaces import Floats


def close_polygon(gap: Gap, part: Polygon) -> None:
    sides = part.sides
    count = len(sides)
    if count == 2:
        _join(gap, sides)
        return
    corners = [_shared_corner(sides[i], sides[(i + 1) % count]) for i in range(count)]
    tips: dict[int, int] = {}  # polygon side i (between faces i and i + 1) -> new vertex
    triangle_tip: dict[tuple[int, int, int], int] = {}
    for triangle in part.triangles:
        owned = [i for i in range(count) if {i, (i + 1) % count} <= set(triangle)]
        old = [corners[i] for i in owned]
        start = np.mean([gap.topology.point(c) for c in (old or corners)], axis=0)
        faces = [sides[i].face for i in triangle]
        place = gap.meet(start, faces, old)
        if old:
            tip = old[0]
        else:
            tip, gap.next_vertex = gap.next_vertex, gap.next_vertex + 1
        for corner in old:
            gap.same[corner] = tip
        gap.places[tip] = place
        triangle_tip[triangle] = tip
        tips.update(dict.fromkeys(owned, tip))
    diagonals = _diagonals(gap, sides, part.triangles, triangle_tip)
    for i, side in enumerate(sides):
        own = [new for pair, new in diagonals.items() if i in pair]
        if len(own) == 1 and own[0].near is None:
            begins = tips[_corner_number(corners, side, i, 0)]
            own[0].near = _along(gap, side, forwards=begins == own[0].ends[0])
    for i, side in enumerate(sides):
        begin, end = (tips[_corner_number(corners, side, i, which)] for which in (0, 1))
        gap.runs[side.face, side.wire, side.edges[0][0]] = _path(gap, i, begin, end, diagonals)


def _join(gap: Gap, sides: Sequence[Side]) -> None:
    """Two neighbours whose common edge the gap interrupted: its two pieces become one again."""
    a, b = sides[0].corners
    if a == b:
        raise LocalFailure("one edge alone would have to close on itself", [s.face for s in sides])
    pieces = [[e for e in gap.outer_edges(c) if set(gap.topology.faces_of(e)) == {s.face for s in sides}]
              for c in (a, b)]  # fmt: skip
    if any(len(found) != 1 for found in pieces) or pieces[0] == pieces[1]:
        raise LocalFailure("its neighbours close in no simple way", [s.face for s in sides])
    (kept,), (other,) = pieces
    low, high = gap.topology.ends(kept)
    far = next(v for v in gap.topology.ends(other) if v != b)
    way = [far if v == a else v for v in (low, high)]
    points = np.concatenate([gap.samples(kept, low == a), gap.samples(other, gap.topology.ends(other)[1] == b)])
    if low == a:  # from the far end of the kept piece over the gap; the edge itself runs the other way
        points = points[::-1]
    gap.joined.append(GapEdge(kept, (way[0], way[1]), (sides[0].face, sides[1].face), points))
    gap.lost.add(other)
    for side in sides:
        gap.runs[side.face, side.wire, side.edges[0][0]] = []


def _along(gap: Gap, side: Side, forwards: bool) -> Floats:
    """Points along the border of one neighbour, which an edge over the gap goes on beside: it may lead more than
    half way around something."""
    points = np.concatenate([gap.samples(edge, against) for edge, against in side.edges])
    return points if forwards else points[::-1]


def _corner_number(corners: list[int], side: Side, i: int, which: int) -> int:
    """Which polygon side the beginning (0) or end (1) of a run lies on."""
    here = [k for k in ((i - 1) % len(corners), i) if corners[k] == side.corners[which]]
    if not here:
        raise LocalFailure("its outline touches itself", [side.face])
    return here[0]


def _shared_corner(a: Side, b: Side) -> int:
    shared = set(a.corners) & set(b.corners)
    if not shared:
        raise LocalFailure("its outline is not closed", [a.face, b.face])
    return min(shared)


def _diagonals(
    gap: Gap, sides: Sequence[Side], triangles: Triangles, tip: dict[tuple[int, int, int], int]
) -> dict[tuple[int, int], GapEdge]:
    found: dict[tuple[int, int], GapEdge] = {}
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
            found[pair] = gap.edge(ends[0], ends[1], faces)
    return found


def _path(
    gap: Gap, corner: int, begin: int, end: int, diagonals: dict[tuple[int, int], GapEdge]
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
        raise LocalFailure("its neighbours close in no simple way", [gap.fresh[-1].faces[0]] if gap.fresh else [])
    return path
