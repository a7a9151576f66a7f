"""The ways to close a gap: which parts it falls into, likely ones first."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice, product

from .failure import LocalFailure
from .fillets import Fillet, fillet_of, is_corner_patch
from .outline import Side
from .topology import SolidTopology

MOST_SIDES = 7
MOST_TRIES = 60

Triangles = tuple[tuple[int, int, int], ...]


@dataclass(frozen=True)
class Drop:
    side: Side


@dataclass(frozen=True)
class Polygon:
    sides: tuple[Side, ...]
    triangles: Triangles


@dataclass(frozen=True)
class Ring:
    whole: Side
    sides: tuple[Side, ...]


@dataclass(frozen=True)
class Network:
    """Rounds with the corners between them: each strip shrinks to an edge, each corner and end of a strip to a
    vertex."""

    strips: tuple[Fillet, ...]


Part = Drop | Polygon | Ring | Network


def ways(topology: SolidTopology, faces: set[int], loops: list[list[Side]]) -> Iterator[list[Part]]:
    """To close all loops, likely ones first."""
    network = _network_of(topology, faces)
    if network is not None and sum(loop[0].whole and loop[0].wire == 0 for loop in loops) > 1:
        yield [network]
        return
    try:
        choices = _choices(loops)
    except LocalFailure:
        if network is None:
            raise
        choices = []
    if choices:
        for choice in islice(product(*choices), MOST_TRIES):
            yield [part for part in choice if part is not None]
    if network is not None and len(network.strips) > 1:
        yield [network]


def _choices(loops: list[list[Side]]) -> list[list[Part | None]]:
    """For each loop the ways to close it."""
    whole = [loop[0] for loop in loops if loop[0].whole]
    open_ = [loop for loop in loops if not loop[0].whole]
    if len(whole) == 1 and len(open_) == 1:
        ring: list[Part | None] = [Ring(whole[0], tuple(open_[0]))]
        if whole[0].wire == 0:
            return [ring]
        return [[*ring, Drop(whole[0])], [None, *_polygons(open_[0])]] if len(open_[0]) > 1 else [ring]
    for side in whole:
        if side.wire == 0:
            raise LocalFailure("a whole neighbour would have to go, too; pick it as well", [side.face])
    drops: list[list[Part | None]] = [[Drop(side)] for side in whole]
    return drops + [_polygons(loop) for loop in open_]


def _network_of(topology: SolidTopology, faces: set[int]) -> Network | None:
    """None where some of the faces are neither fillets nor corners of them.  A round along another one that goes, too,
    is a corner."""
    fillets = {f: item for f in faces if (item := fillet_of(topology, f)) is not None}
    if not all(is_corner_patch(topology, f) for f in faces - fillets.keys()):
        return None
    strips = tuple(item for item in fillets.values() if item.contacts and not faces.intersection(item.supports))
    return Network(strips) if strips else None


def _polygons(loop: Sequence[Side]) -> list[Part | None]:
    count = len(loop)
    if count > MOST_SIDES:
        raise LocalFailure(f"{count} neighbours would have to meet", [s.face for s in loop])
    if count < 2:
        raise LocalFailure("one neighbour alone cannot close the gap", [s.face for s in loop])
    return [Polygon(tuple(loop), t) for t in triangulations(0, count - 1)]


def triangulations(first: int, last: int) -> Iterator[Triangles]:
    """Of the polygon with corners first … last."""
    if last - first < 2:
        yield ()
        return
    for tip in range(first + 1, last):
        for left in triangulations(first, tip):
            for right in triangulations(tip, last):
                yield (*left, (first, tip, last), *right)
