"""Remove faces and close up: the neighbours grow into the gap until they meet.

A loop of the outline that is a whole inner loop of one neighbour just goes (holes, bosses, pockets).  Else the
neighbours around it, taken as the corners of a polygon, close as one of its triangulations: a triangle is a new
vertex where three neighbours meet, a diagonal a new edge between two, a side of the polygon an old edge that grows.
A ring between one neighbour's whole loop and several others (a round all around a top) closes edge by edge, and fillets
with the corners between them shrink to what they stood for.
"""

from __future__ import annotations

from collections.abc import Sequence

from ..kernel.failures import KERNEL_FAILURES
from .closing_fillets import close_network, close_ring
from .closing_polygons import close_polygon
from .closing_ways import Drop, Part, Polygon, Ring, ways
from .failure import LocalFailure
from .gap import Closed, Gap
from .outline import outline
from .topology import SolidTopology


def close_up(topology: SolidTopology, faces: set[int], *, check: bool = True) -> Closed:
    """The solid without these faces.  Raises LocalFailure naming the faces that stop it."""
    if len(faces) >= topology.index.count("face") - 1:
        raise LocalFailure("nothing would be left to close up", sorted(faces))
    loops = outline(topology, faces)
    if not loops:
        raise LocalFailure("it has no neighbours to close up", sorted(faces))
    first: LocalFailure | None = None
    for parts in ways(topology, faces, loops):
        try:
            return _closed(topology, faces, parts, check)
        except LocalFailure as failure:
            first = first or failure
        except KERNEL_FAILURES:
            first = first or LocalFailure("an edge between its neighbours cannot be drawn", sorted(faces))
    raise first or LocalFailure("its neighbours do not meet", sorted(faces))


def _closed(topology: SolidTopology, faces: set[int], parts: Sequence[Part], check: bool) -> Closed:
    gap = Gap(topology, faces)
    for part in parts:
        if isinstance(part, Drop):
            gap.dropped.add((part.side.face, part.side.wire))
        elif isinstance(part, Polygon):
            close_polygon(gap, part)
        elif isinstance(part, Ring):
            close_ring(gap, part)
        else:
            close_network(gap, part)
    return gap.rebuild(check)
