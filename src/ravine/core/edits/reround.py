"""A round gets another radius where it cannot just be rolled: it is taken away, and the edge rounded afresh."""

from __future__ import annotations

from ..errors import EditError
from ..kernel.blend import round_edges
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.rebuild import carried
from ..kernel.shapes import ShapeIndex
from ..local.closing import close_up
from ..local.failure import LocalFailure
from ..local.rounds import chain
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .base import Work


def reround(work: Work, snapshot: Snapshot, body: Body, face: int, radius: float) -> Snapshot:
    """The chain of the round `face` (index) with another radius in mm.  The rounds keep their ids, as far as there
    are as many.  Raises LocalFailure or EditError where the chain cannot be taken away or the radius does not fit."""
    solid = work.geometry.solid(body.shape)
    fabric = solid.fabric
    rounds = chain(fabric, face)
    if not rounds or radius < 1e-6:
        raise LocalFailure("it is no round between two faces", [face])
    closed = close_up(fabric, set(rounds))
    index = closed.fabric.index
    ids = carried(fabric.index, body.ids(), closed.rebuilt, index)

    def now(number: int) -> int:
        made = closed.rebuilt.made["face"].get(number)
        return index.find("face", fabric.index.get("face", number) if made is None else made)

    edges: dict[int, int] = {}  # new edge -> the round it stood for
    for item in rounds.values():
        if item.kind != "sphere":
            pair = {now(f) for f in item.supports}
            for edge, beside in enumerate(index.faces_of_edges):
                if set(beside) == pair and closed.fabric.meeting(edge) == "sharp":
                    edges.setdefault(edge, item.face)
    if not edges:
        raise EditError("no edge is left to round")
    rounded = round_edges(index.shape, [index.get("edge", e) for e in edges], [(radius, radius)] * len(edges))
    found = fault(rounded.shape, index)
    if found:
        raise EditError(found)
    stands = [
        ("face", body.faces[old], born[0]) for old, born in zip(edges.values(), rounded.born, strict=True) if born
    ]
    between = reshape_body(snapshot, work.geometry, body, Solid(index.shape), ids)
    known = between.body(body.id).ids()

    def trace(shape: object) -> object:
        return [shape] if any(shape is s for _, _, s in stands) else rounded.trace(shape)

    after = carry_ids([(index, known)], stands, trace, ShapeIndex(rounded.shape))  # type: ignore[arg-type]
    return reshape_body(between, work.geometry, between.body(body.id), Solid(rounded.shape), after)
