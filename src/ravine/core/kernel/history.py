"""Who became what: ids carried from the shapes that went into an operation to the shape that came out."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from .properties import area_properties, length_properties
from .shapes import Shape, ShapeIndex

Trace = Callable[[Shape], Sequence[Shape]]
Ids = dict[str, list[int | None]]


def _size(kind: str, shape: Shape) -> float:
    if kind == "face":
        return abs(area_properties(shape).amount)
    return length_properties(shape).amount if kind == "edge" else 0.0


def carry_ids(
    sources: Sequence[tuple[ShapeIndex, Mapping[str, Sequence[int]]]],
    stand_ins: Sequence[tuple[str, int, Shape]],
    trace: Trace,
    result: ShapeIndex,
) -> Ids:
    """Ids for every face, edge and vertex of `result`; None where a new id is due.

    sources:   index and ids of each body that went in, the most important first
    stand_ins: (kind, id, shape): this shape of a tool carries on the id, before anybody else
    trace:     the shapes an input shape became; empty when it vanished

    When one face becomes several, the largest keeps the id; when several become one, the first source's (then
    the largest old one's) id stays.  Every other id ends.
    """
    ids: Ids = {kind: [None] * result.count(kind) for kind in ("face", "edge", "vertex")}
    taken: dict[str, set[int]] = {kind: set() for kind in ids}

    def give(kind: str, ident: int, shapes: Sequence[Shape]) -> None:
        places = [i for i in (result.find(kind, s) for s in shapes) if i >= 0 and ids[kind][i] is None]
        if not places or ident in taken[kind]:
            return
        best = places[0]
        if len(places) > 1:
            best = max(places, key=lambda i: _size(kind, result.get(kind, i)))
        ids[kind][best] = ident
        taken[kind].add(ident)

    for kind, ident, shape in stand_ins:
        give(kind, ident, trace(shape))
    for index, known in sources:
        for kind in ids:
            merged: list[tuple[int, Shape, Sequence[Shape]]] = []
            for i, ident in enumerate(known[kind]):
                shape = index.get(kind, i)
                at = result.find(kind, shape)
                if at >= 0:  # untouched: the common case, kept cheap
                    if ids[kind][at] is None and ident not in taken[kind]:
                        ids[kind][at] = ident
                        taken[kind].add(ident)
                else:
                    merged.append((ident, shape, trace(shape)))
            if len(merged) > 1:
                merged.sort(key=lambda row: -_size(kind, row[1]))
            for ident, _, became in merged:
                give(kind, ident, became)
    return ids
