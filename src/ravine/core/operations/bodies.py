"""What the edits on whole bodies share: which places are meant, and bodies that come in pieces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..errors import CannotDo, EditError
from ..kernel.check import fault
from ..kernel.history import Ids, Trace, carry_ids
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.volumes import volume_properties
from ..model.derive import blank_ids, reshape_body
from ..model.geometry import Solid
from ..model.references import Reference
from ..model.snapshot import Body, Node, Occurrence, Snapshot
from .work import Work


def places_of(work: Work, parts: Sequence[Reference], field: str) -> list[Occurrence]:
    """The solids below picked parts and groups, where they stand, each place once.  Raises EditError for bodies that
    are no solids."""
    leaves = dict.fromkeys(leaf for p in parts for leaf in work.snapshot.leaves_below(p.number))
    found = [o for o in work.snapshot.occurrences() if o.node.id in leaves]
    for place in found:
        if place.body.kind != "solid":
            what = "a mesh of triangles" if place.body.kind == "mesh" else "an open surface"
            raise EditError(f"{place.body.name} is {what}; this edit needs a solid", [f"n{place.node.id}"], field=field)
    return found


def each_body(work: Work, parts: Sequence[Reference]) -> list[Occurrence]:
    """The same with every body once, where it is first shown: what changes a body shows in all its places."""
    found: dict[int, Occurrence] = {}
    for place in places_of(work, parts, "parts"):
        found.setdefault(place.body.id, place)
    return list(found.values())


def beside(snapshot: Snapshot, place: Occurrence, body: Body) -> Snapshot:
    """Another body at the same place in the tree."""
    (number,), snapshot = snapshot.fresh(1)
    snapshot = snapshot.with_node(Node(number, body.name, place.node.placement, (), body.id))
    if not place.path:
        return replace(snapshot, roots=(*snapshot.roots, number))
    above = snapshot.nodes[place.path[-1]]
    return snapshot.with_node(replace(above, children=(*above.children, number)))


def new_body(work: Work, snapshot: Snapshot, shape: Shape, name: str, like: Body) -> tuple[Body, Snapshot]:
    """A solid with fresh ids and the looks of another.  It shows nowhere yet."""
    (number,), snapshot = snapshot.fresh(1)
    fresh = Body(number, name, "solid", "", (), finish=like.finish, material=like.material)
    snapshot = reshape_body(snapshot, work.geometry, fresh, Solid(shape), blank_ids(shape))
    return snapshot.body(number), snapshot


def in_pieces(
    work: Work,
    snapshot: Snapshot,
    body: Body,
    result: Shape,
    sources: Sequence[tuple[ShapeIndex, dict[str, tuple[int, ...]]]],
    trace: Trace,
) -> tuple[Snapshot, int]:
    """A body that became the solids of `result`: the largest stays the body, the others become parts of their own
    beside it, wherever it stands.  Every piece keeps the ids of its faces.  Raises EditError when one is unsound."""
    shapes, was = parts_of(result, "solid"), work.geometry.solid(body.shape)
    if len(shapes) == 1:
        pieces = [was.turned_into(shapes[0])]
    else:
        pieces = [Solid.weighed(s, volume_properties(s).amount) for s in shapes]
        pieces.sort(key=lambda s: -s.volume_mm3)
    whole = ShapeIndex(result)
    known = carry_ids(sources, [], trace, whole)
    before = sources[0][0]
    for piece in pieces:
        found = None if not work.mode.checks else fault(piece.index, before, piece.volume_mm3)
        if found:
            raise CannotDo(f"{found}")
    given: set[tuple[str, int]] = set()
    for number, piece in enumerate(pieces):
        ids = _ids_of(piece.index, whole, known, given)
        if not number:
            snapshot = reshape_body(snapshot, work.geometry, body, piece, ids)
            continue
        (fresh,), snapshot = snapshot.fresh(1)
        other = replace(body, id=fresh, name=f"{body.name} {number + 1}")
        snapshot = reshape_body(snapshot, work.geometry, other, piece, ids)
        for place in work.snapshot.occurrences(body.id):
            snapshot = beside(snapshot, place, snapshot.body(fresh))
    return snapshot, len(pieces)


def _ids_of(index: ShapeIndex, whole: ShapeIndex, known: Ids, given: set[tuple[str, int]]) -> Ids:
    """What two pieces share keeps its id on the first."""
    ids: Ids = {}
    for kind, row in known.items():
        ids[kind] = [row[whole.find(kind, part)] for part in index.all(kind)]
        ids[kind] = [None if i is None or (kind, i) in given else i for i in ids[kind]]
        given.update((kind, i) for i in ids[kind] if i is not None)
    return ids
