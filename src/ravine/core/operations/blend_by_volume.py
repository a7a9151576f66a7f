"""Rounds by matter: what lies between edges and the ball that rolls along them is cut off or filled in.

The rung after the kernel's own fillets, for those that roll off a face, end in a wall or grow into one another.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..errors import EditError
from ..kernel.boolean import combine
from ..kernel.properties import area_properties
from ..kernel.shapes import Shape, ShapeIndex
from ..kernel.volumes import volume_properties
from ..local.blend_volumes import BlendVolume, blend_volume_of
from ..local.failure import LocalFailure
from ..local.surfaces import Surface
from ..local.topology import SolidTopology
from ..model.snapshot import Body, Snapshot
from ..tolerances import AGREES
from .booleans import combined
from .ladder import climbed
from .work import Work

TANGENT = 1e-6


@dataclass(frozen=True)
class RolledEdge:
    """How an edge is to be rounded: the id of the round's face, the radius in mm."""

    face: int
    radius: float


def filleted_by_volume(work: Work, snapshot: Snapshot, body: Body, edges: Mapping[int, RolledEdge]) -> Snapshot:
    """Edges by index.  All spandrels are those of the sharp body, so that no round hangs on which came first.  Raises
    LocalFailure or EditError and changes nothing."""
    topology = work.geometry.solid(body.shape).topology
    made = {e: blend_volume_of(topology, e, item.radius, _goes_on(topology, e, edges)) for e, item in edges.items()}
    sides = [topology.surface(f) for e in edges for f in topology.faces_of(e)]
    for adds in (True, False):
        row = {e: m for e, m in made.items() if m.adds == adds}
        if row:
            stands = [("face", edges[e].face, m.front) for e, m in row.items()]
            snapshot = _worked_in(work, snapshot, snapshot.body(body.id), list(row.values()), stands, sides)
    return snapshot


def _goes_on(topology: SolidTopology, edge: int, edges: Mapping[int, RolledEdge]) -> set[int]:
    """Ends of an edge at which its round goes on along another.  Raises LocalFailure where it meets one at an angle:
    a ball has a corner of its own there."""
    found = set()
    for v in topology.ends(edge):
        for other in (e for e in topology.edges_at(v) if e in edges and e != edge):
            along = abs(float(topology.direction(edge, v) @ topology.direction(other, v)))
            if along < 1 - TANGENT or abs(edges[edge].radius - edges[other].radius) > 1e-9:
                raise LocalFailure("its round meets another in a corner", list(topology.faces_of(edge)))
            found.add(v)
    return found


def _worked_in(
    work: Work, snapshot: Snapshot, body: Body, made: Sequence[BlendVolume], stands: Sequence[tuple[str, int, Shape]],
    sides: Sequence[Surface],
) -> Snapshot:  # fmt: skip
    cells = [cell for item in made for cell in item.cells]
    before = work.geometry.solid(body.shape)
    kind = "unite" if made[0].adds else "subtract"
    ways = [
        ("merged", lambda: combined(work, snapshot, body, kind, cells, stand_ins=stands)),
        # merging may harm faces that end in a short edge; divided ones are better than none
        ("left divided", lambda: combined(work, snapshot, body, kind, cells, stand_ins=stands, merge=False)),
    ]
    after = climbed(work, "round worked in", ways)
    solid = work.geometry.solid(after.body(body.id).shape)
    whole = combine("unite", cells[0], cells[1:], merge=False)[0] if len(cells) > 1 else cells[0]
    amount = abs(volume_properties(whole).amount)
    if abs(abs(solid.volume_mm3 - before.volume_mm3) - amount) > AGREES * max(amount, 1e-3 * before.volume_mm3):
        raise EditError("the matter of its round does not fit the body")
    for side in sides:
        gone = _area_on(before.shape, side) - _area_on(solid.shape, side)
        if abs(gone - _area_on(whole, side)) > AGREES * max(gone, 1.0):
            raise EditError("its round would stand over the end of a face beside it")
    return after


def _area_on(shape: Shape, side: Surface) -> float:
    """mm², of all faces on a surface."""
    topology = SolidTopology(ShapeIndex(shape))
    faces = [f for f in range(topology.index.count("face")) if topology.surface(f).same(side, topology.extent(f))]
    return sum(abs(area_properties(topology.index.get("face", f)).amount) for f in faces)
