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
from ..local.rounds import Round, chain, is_corner_patch, round_of
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .base import Work
from .remove import take_away
from .rounds_by_matter import Rolled, rounded_by_matter
from .shaping import FAILURES, reshape_step


@dataclass(frozen=True)
class _Kept:
    """What a round is made again from: ids of the face and its supports, and the radius in mm."""

    face: int
    supports: frozenset[int]
    radius: float


@dataclass(frozen=True)
class Aside:
    """rounds: all that have to go together, by face; patches: free-form corners where rounds of unlike radii meet."""

    rounds: Mapping[int, Round]
    patches: frozenset[int]

    @property
    def faces(self) -> set[int]:
        return {*self.patches, *self.rounds}


def reround(work: Work, snapshot: Snapshot, body: Body, asked: Mapping[int, float]) -> Snapshot:
    """The chains of rounds (index) with other radii in mm.  Raises LocalFailure or EditError where a chain cannot be
    taken away or a radius does not fit."""
    fabric = work.geometry.solid(body.shape).fabric
    rounds: dict[int, Round] = {}
    radii: dict[int, float] = {}
    for face, radius in asked.items():
        found = chain(fabric, face)
        if not found or radius < 1e-6:
            raise LocalFailure("it is no round between two faces", [face])
        rounds |= found
        radii |= dict.fromkeys(found, radius)
    return with_rounds_aside(work, snapshot, body, _with_corners(fabric, rounds), lambda after: after, radii)


def reshaped_with_rounds_aside(work: Work, snapshot: Snapshot, body: Body, steps: Mapping[int, Step]) -> Snapshot:
    """Faces (ids) on new carriers where the rounds beside them cannot follow as rounds of one radius about a line or
    circle: they are made afresh.  Raises LocalFailure or EditError and changes nothing."""
    aside = rounds_beside(work.geometry.solid(body.shape).fabric, {body.faces.index(f) for f in steps})
    return with_rounds_aside(
        work, snapshot, body, aside, lambda sharp: reshape_step(work, sharp, sharp.body(body.id), steps)[0]
    )


def rounds_beside(fabric: Fabric, faces: Iterable[int], others: Iterable[int] = ()) -> Aside:
    """The chains of the rounds that touch these faces, or others.  Raises LocalFailure where there are none, or where
    the faces themselves belong to them."""
    places = set(faces)
    found: dict[int, Round] = {}
    for face in (*places, *others):
        for beside in (face, *fabric.neighbours(face)):
            if beside not in found and round_of(fabric, beside):
                found |= chain(fabric, beside)
    aside = _with_corners(fabric, found)
    if not found or places & aside.faces:
        raise LocalFailure("no round is in the way", sorted(places))
    return aside


def _with_corners(fabric: Fabric, rounds: Mapping[int, Round]) -> Aside:
    """Rounds with all that meet them in patches or roll along them, and the patches."""
    every, patches = dict(rounds), set[int]()
    waiting = list(every)
    while waiting:
        this = waiting.pop()
        for beside in fabric.neighbours(this):
            if beside in patches or beside in every:
                continue
            item = round_of(fabric, beside)
            if is_corner_patch(fabric, beside):
                patches.add(beside)
                waiting.append(beside)
            elif item is not None and (this in patches or this in item.supports):
                found = chain(fabric, beside)
                waiting += [f for f in found if f not in every]
                every |= found
    return Aside(every, frozenset(patches))


def with_rounds_aside(
    work: Work,
    snapshot: Snapshot,
    body: Body,
    aside: Aside,
    doing: Callable[[Snapshot], Snapshot],
    radii: Mapping[int, float] | None = None,
) -> Snapshot:
    """`doing` takes the snapshot with the sharp body, where the faces besides the rounds have their ids, to the one
    whose edges are rounded again, some with another radius in mm.  The round faces keep their ids.  Raises
    LocalFailure or EditError where one of the three steps fails."""
    radii = radii or {}
    kept = [
        _Kept(body.faces[r.face], frozenset(body.faces[f] for f in r.supports), radii.get(r.face, r.radius))
        for r in aside.rounds.values()
        if r.kind != "sphere" and not aside.rounds.keys() & set(r.supports)
    ]
    after = doing(take_away(work, snapshot, body, aside.faces, by_kernel=False))
    return _rounded_in_turn(work, after, after.body(body.id), kept)


def _rounded_in_turn(work: Work, snapshot: Snapshot, body: Body, kept: list[_Kept]) -> Snapshot:
    """All at once; else by radius, small or large ones first, of which one or the other does at corners."""
    try:
        return _rounded(work, snapshot, body, kept)
    except EditError as error:
        sizes = sorted({item.radius for item in kept})
        for order in (sizes, sizes[::-1]) if len(sizes) > 1 else ():
            after = snapshot
            try:
                for size in order:
                    after = _rounded(work, after, after.body(body.id), [k for k in kept if k.radius == size])
            except EditError:
                continue
            return after
        raise error


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
    try:
        return _rolled_by_kernel(work, snapshot, body, edges)
    except EditError as error:
        try:
            rolled = {e: Rolled(item.face, item.radius) for e, item in edges.items()}
            return rounded_by_matter(work, snapshot, body, rolled)
        except FAILURES:
            raise error from None


def _rolled_by_kernel(work: Work, snapshot: Snapshot, body: Body, edges: Mapping[int, _Kept]) -> Snapshot:
    index = work.geometry.solid(body.shape).index
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
