"""Rounds set aside: taken away, something done to the sharp body, and its edges rounded afresh.

The rung for rounds that cannot just be rolled along: they get another radius where no ball touches, or a face beside
them goes where their corners would have to be cut in another way.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from ..errors import EditError
from ..kernel.blend import round_edges
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import Shape, ShapeIndex
from ..local.fabric import Fabric
from ..local.failure import LocalFailure
from ..local.plan import Step
from ..local.rounds import Round, chain, round_of
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .base import Work
from .remove import take_away
from .shaping import reshape_step


@dataclass(frozen=True)
class _Kept:
    """What a round is made again from: ids of the face and its supports, and the radius in mm."""

    face: int
    supports: frozenset[int]
    radius: float


def reround(work: Work, snapshot: Snapshot, body: Body, face: int, radius: float) -> Snapshot:
    """The chain of the round `face` (index) with another radius in mm.  Raises LocalFailure or EditError where the
    chain cannot be taken away or the radius does not fit."""
    rounds = chain(work.geometry.solid(body.shape).fabric, face)
    if not rounds or radius < 1e-6:
        raise LocalFailure("it is no round between two faces", [face])
    return with_rounds_aside(work, snapshot, body, rounds, lambda after: after, radius)


def reshaped_with_rounds_aside(work: Work, snapshot: Snapshot, body: Body, steps: Mapping[int, Step]) -> Snapshot:
    """Faces (ids) on new carriers where the rounds beside them cannot follow as rounds of one radius about a line or
    circle: they are made afresh.  Raises LocalFailure or EditError and changes nothing."""
    places = {body.faces.index(f) for f in steps}
    rounds = rounds_beside(work.geometry.solid(body.shape).fabric, places)
    if not rounds or places & set(rounds):
        raise LocalFailure("no round is in the way", sorted(places))
    return with_rounds_aside(
        work, snapshot, body, rounds, lambda sharp: reshape_step(work, sharp, sharp.body(body.id), steps)[0]
    )


def rounds_beside(fabric: Fabric, faces: Iterable[int]) -> dict[int, Round]:
    """The chains of the rounds that touch these faces or are among them."""
    found: dict[int, Round] = {}
    for face in faces:
        for beside in (face, *fabric.neighbours(face)):
            if beside not in found and round_of(fabric, beside):
                found |= chain(fabric, beside)
    return found


def with_rounds_aside(
    work: Work,
    snapshot: Snapshot,
    body: Body,
    rounds: Mapping[int, Round],
    doing: Callable[[Snapshot], Snapshot],
    radius: float | None = None,
) -> Snapshot:
    """`doing` takes the snapshot with the sharp body, where the faces besides the rounds have their ids, to the one
    whose edges are rounded again, with another radius if one is given.  The round faces keep their ids.  Raises
    LocalFailure or EditError where one of the three steps fails."""
    kept = [
        _Kept(body.faces[r.face], frozenset(body.faces[f] for f in r.supports), radius or r.radius)
        for r in rounds.values()
        if r.kind != "sphere"
    ]
    after = doing(take_away(work, snapshot, body, set(rounds), by_kernel=False))
    return _rounded(work, after, after.body(body.id), kept)


def _rounded(work: Work, snapshot: Snapshot, body: Body, kept: list[_Kept]) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    index = solid.index
    edges: dict[int, _Kept] = {}
    for item in kept:
        pair = {body.faces.index(f) for f in item.supports if f in body.faces}
        found = [
            e for e, beside in enumerate(index.faces_of_edges)
            if set(beside) == pair and len(pair) == 2 and solid.fabric.meeting(e) == "sharp"
        ]  # fmt: skip
        if not found:
            raise EditError("a round beside it would have no edge left")
        for edge in found:
            edges.setdefault(edge, item)
    radii = [(item.radius, item.radius) for item in edges.values()]
    made = round_edges(index.shape, [index.get("edge", e) for e in edges], radii)
    broken = fault(made.shape, index)
    if broken:
        raise EditError(broken)
    stands = [("face", item.face, born[0]) for item, born in zip(edges.values(), made.born, strict=True) if born]

    def trace(shape: Shape) -> list[Shape]:
        return [shape] if any(shape is s for _, _, s in stands) else list(made.trace(shape))

    ids = carry_ids([(index, body.ids())], stands, trace, ShapeIndex(made.shape))
    return reshape_body(snapshot, work.geometry, body, Solid(made.shape), ids)
