"""Blends suppressed: taken away, something done to the sharp body, and its edges rounded afresh.

The rung for fillets that cannot just be rolled along: they get another radius where no ball touches, or a face beside
them goes where their corners would have to be cut in another way.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from ..errors import EditError
from ..kernel.blend import fillet_edges
from ..kernel.check import fault
from ..kernel.history import carry_ids
from ..kernel.shapes import Shape, ShapeIndex
from ..local.failure import LocalFailure
from ..local.fillets import Fillet, chain, fillet_of, is_corner_patch
from ..local.plan import Step
from ..local.topology import SolidTopology
from ..model.derive import reshape_body
from ..model.geometry import Solid
from ..model.snapshot import Body, Snapshot
from .blend_by_volume import RolledEdge, filleted_by_volume
from .ladder import climbed
from .remove import take_away
from .reshaping import reshape_step
from .work import Work


@dataclass(frozen=True)
class _Kept:
    """What a round is made again from: ids of the face and its supports, and the radius in mm."""

    face: int
    supports: frozenset[int]
    radius: float


@dataclass(frozen=True)
class SuppressedBlends:
    """fillets: all that have to go together, by face; patches: free-form corners where fillets of unlike radii meet."""

    fillets: Mapping[int, Fillet]
    patches: frozenset[int]

    @property
    def faces(self) -> set[int]:
        return {*self.patches, *self.fillets}


def fillets_afresh(work: Work, snapshot: Snapshot, body: Body, asked: Mapping[int, float]) -> Snapshot:
    """The chains of fillets (index) with other radii in mm.  Raises LocalFailure or EditError where a chain cannot be
    taken away or a radius does not fit."""
    topology = work.geometry.solid(body.shape).topology
    fillets: dict[int, Fillet] = {}
    radii: dict[int, float] = {}
    for face, radius in asked.items():
        found = chain(topology, face)
        if not found or radius < 1e-6:
            raise LocalFailure("it is no round between two faces", [face])
        fillets |= found
        radii |= dict.fromkeys(found, radius)
    return with_blends_suppressed(work, snapshot, body, _with_corners(topology, fillets), lambda after: after, radii)


def reshaped_with_blends_suppressed(work: Work, snapshot: Snapshot, body: Body, steps: Mapping[int, Step]) -> Snapshot:
    """Faces (ids) on new carriers where the fillets beside them cannot follow as fillets of one radius about a line or
    circle: they are made afresh.  Raises LocalFailure or EditError and changes nothing."""
    suppressed = blends_beside(work.geometry.solid(body.shape).topology, {body.faces.index(f) for f in steps})
    return with_blends_suppressed(
        work, snapshot, body, suppressed, lambda sharp: reshape_step(work, sharp, sharp.body(body.id), steps)[0]
    )


def blends_beside(topology: SolidTopology, faces: Iterable[int], others: Iterable[int] = ()) -> SuppressedBlends:
    """The chains of the fillets that touch these faces, or others.  Raises LocalFailure where there are none, or where
    the faces themselves belong to them."""
    places = set(faces)
    found: dict[int, Fillet] = {}
    for face in (*places, *others):
        for beside in (face, *topology.neighbours(face)):
            if beside not in found and fillet_of(topology, beside):
                found |= chain(topology, beside)
    suppressed = _with_corners(topology, found)
    if not found or places & suppressed.faces:
        raise LocalFailure("no round is in the way", sorted(places))
    return suppressed


def _with_corners(topology: SolidTopology, fillets: Mapping[int, Fillet]) -> SuppressedBlends:
    """Rounds with all that meet them in patches or roll along them, and the patches."""
    every, patches = dict(fillets), set[int]()
    waiting = list(every)
    while waiting:
        this = waiting.pop()
        for beside in topology.neighbours(this):
            if beside in patches or beside in every:
                continue
            item = fillet_of(topology, beside)
            if is_corner_patch(topology, beside):
                patches.add(beside)
                waiting.append(beside)
            elif item is not None and (this in patches or this in item.supports):
                found = chain(topology, beside)
                waiting += [f for f in found if f not in every]
                every |= found
    return SuppressedBlends(every, frozenset(patches))


def with_blends_suppressed(
    work: Work,
    snapshot: Snapshot,
    body: Body,
    suppressed: SuppressedBlends,
    doing: Callable[[Snapshot], Snapshot],
    radii: Mapping[int, float] | None = None,
) -> Snapshot:
    """`doing` takes the snapshot with the sharp body, where the faces besides the fillets have their ids, to the one
    whose edges are rounded again, some with another radius in mm.  The round faces keep their ids.  Raises
    LocalFailure or EditError where one of the three steps fails."""
    radii = radii or {}
    kept = [
        _Kept(body.faces[r.face], frozenset(body.faces[f] for f in r.supports), radii.get(r.face, r.radius))
        for r in suppressed.fillets.values()
        if r.kind != "sphere" and not suppressed.fillets.keys() & set(r.supports)
    ]
    after = doing(take_away(work, snapshot, body, suppressed.faces, by_kernel=False))
    return _rounded_in_turn(work, after, after.body(body.id), kept)


def _rounded_in_turn(work: Work, snapshot: Snapshot, body: Body, kept: list[_Kept]) -> Snapshot:
    """All at once; else by radius, small or large ones first, of which one or the other does at corners."""
    sizes = sorted({item.radius for item in kept})

    def one_by_one(order: list[float]) -> Snapshot:
        after = snapshot
        for size in order:
            after = _rounded(work, after, after.body(body.id), [k for k in kept if k.radius == size])
        return after

    ways = [("all at once", lambda: _rounded(work, snapshot, body, kept))]
    if len(sizes) > 1:
        ways += [("small first", lambda: one_by_one(sizes)), ("large first", lambda: one_by_one(sizes[::-1]))]
    return climbed(work, "rounds again", ways)


def _rounded(work: Work, snapshot: Snapshot, body: Body, kept: list[_Kept]) -> Snapshot:
    solid = work.geometry.solid(body.shape)
    index = solid.index
    edges: dict[int, _Kept] = {}
    for item in kept:
        pair = {body.faces.index(f) for f in item.supports if f in body.faces}
        found = [
            e for e, beside in enumerate(index.faces_of_edges)
            if set(beside) == pair and len(pair) == 2 and solid.topology.meeting(e) == "sharp"
        ]  # fmt: skip
        if not found:
            raise EditError("a round beside it would have no edge left")
        for edge in found:
            edges.setdefault(edge, item)
    rolled = {e: RolledEdge(item.face, item.radius) for e, item in edges.items()}
    ways = [
        ("the kernel's rounds", lambda: _rolled_by_kernel(work, snapshot, body, edges)),
        ("rounds by volume", lambda: filleted_by_volume(work, snapshot, body, rolled)),
    ]
    return climbed(work, "rolling", ways)


def _rolled_by_kernel(work: Work, snapshot: Snapshot, body: Body, edges: Mapping[int, _Kept]) -> Snapshot:
    index = work.geometry.solid(body.shape).index
    radii = [(item.radius, item.radius) for item in edges.values()]
    made = fillet_edges(index.shape, [index.get("edge", e) for e in edges], radii)
    result = ShapeIndex(made.shape)
    broken = fault(result, index)
    if broken:
        raise EditError(broken)
    stands = [("face", item.face, born[0]) for item, born in zip(edges.values(), made.born, strict=True) if born]

    def trace(shape: Shape) -> list[Shape]:
        return [shape] if any(shape is s for _, _, s in stands) else list(made.trace(shape))

    ids = carry_ids([(index, body.ids())], stands, trace, result)
    return reshape_body(snapshot, work.geometry, body, Solid.mapped(result), ids)
