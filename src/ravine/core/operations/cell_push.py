"""Push by cells: the last exact rung for flat and round faces, where the form of the body changes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..errors import EditError
from ..kernel.boolean import single_solid
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import ShapeIndex, parts_of
from ..kernel.volumes import volume_properties
from ..local.failure import LocalFailure
from ..local.swept_cells import swept_cells_between
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from ..tolerances import AGREES
from .booleans import combine_into
from .work import Work


class FallsApart(EditError):
    """The body would not stay in one piece, which says more than why its faces could not follow."""


def push_by_cells(work: Work, snapshot: Snapshot, body: Body, distances: Mapping[int, float]) -> Snapshot:
    """Faces (ids) pushed out by their distances in mm, in turn.

    Those on one surface, such as the two ends of a bore that another one crosses, go together; one on the surface of an
    earlier one may have gone with it.  Raises LocalFailure or EditError and changes nothing.
    """
    topology = work.geometry.solid(body.shape).topology
    done: list[int] = []

    def on_one_surface(a: int, b: int) -> bool:
        return topology.surface(a).same(topology.surface(b), topology.extent(a))

    for face, distance in distances.items():
        now, place = snapshot.body(body.id), body.faces.index(face)
        if place in done:
            continue
        if face in now.faces:
            also = [f for f, d in distances.items() if f != face and d == distance and f in now.faces
                    and on_one_surface(place, body.faces.index(f))]  # fmt: skip
            snapshot = _push(work, snapshot, now, [face, *also], distance)
            done += [body.faces.index(f) for f in also]
        elif not any(on_one_surface(p, place) for p in done):
            raise LocalFailure("it vanishes before it is its turn", [place])
        done.append(place)
    return snapshot


def _push(work: Work, snapshot: Snapshot, body: Body, faces: Sequence[int], distance: float) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    first, *also = (body.faces.index(f) for f in faces)
    matter = swept_cells_between(solid.topology, first, distance, also)
    solid, result, trace = combine_into(work, body, "unite" if distance > 0 else "subtract", matter.cells)
    pieces = len(parts_of(result, "solid"))
    if pieces != 1:
        raise FallsApart(f"the body would fall into {pieces} pieces" if pieces else "nothing of the body would be left")
    result = single_solid(result)
    change = volume_properties(result).amount - solid.volume_mm3
    if abs(abs(change) - matter.volume) > AGREES * solid.volume_mm3:
        raise EditError("the matter at its new place does not fit the body")
    index = ShapeIndex(result)
    found = fault(index, solid.index)
    if found:
        raise EditError(found)
    stands = [("face", body.faces[member], front) for member, front in matter.fronts]
    ids = carry_ids([(solid.index, body.ids())], stands, trace, index)
    return reshape_body(snapshot, work.geometry, body, Solid.mapped(index), ids)
