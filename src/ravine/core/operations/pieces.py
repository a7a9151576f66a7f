"""Which of the pieces that an edit leaves are kept."""

from __future__ import annotations

from collections.abc import Sequence

from ..errors import EditError
from ..model.snapshot import Snapshot
from .work import Piece, Work


def kept_pieces(
    work: Work, snapshot: Snapshot, before: Sequence[int], dropped: Sequence[int]
) -> tuple[Snapshot, tuple[Piece, ...]]:
    """`snapshot` holds the pieces of the bodies that were there before and what is new, in their order.  Without
    those dropped, but in a preview, which shows them as going; and a list of all pieces when there are several.
    Raises EditError for numbers that no piece has, and when nothing would be left."""
    bodies = [*before, *(b for b in snapshot.bodies if b not in work.snapshot.bodies)]
    wrong = next((n for n in dropped if n > len(bodies)), None)
    if wrong is not None:
        raise EditError(f"there is no piece {wrong}; there are {len(bodies)}", field="drop", nearest=str(len(bodies)))
    if dropped and len(set(dropped)) == len(bodies):
        raise EditError("with all pieces dropped nothing would be left", field="drop")
    if len(bodies) == len(before):
        return snapshot, ()
    listed = tuple(
        Piece(place.node.id, number, number in dropped)
        for number, piece in enumerate(bodies, 1)
        for place in snapshot.occurrences(piece)
    )
    doomed = {p.node for p in listed if p.dropped}
    return (snapshot if work.mode.shows or not doomed else snapshot.without_nodes(doomed)), listed
