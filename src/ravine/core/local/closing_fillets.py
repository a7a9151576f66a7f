"""Gaps that fillets leave: a ring between one loop and the neighbours around it, and networks of fillets with their
corners, which shrink to the edges and vertices they stood for."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..kernel.carriers import flat_start, forward, oriented
from .closing_ways import Network, Ring
from .edge_curves import SAMPLES
from .failure import LocalFailure
from .fillets import Fillet
from .gap import Gap
from .outline import Side, ordered_wires


def close_ring(gap: Gap, part: Ring) -> None:
    """Between one whole loop of `whole.face` and several neighbours around it."""
    top, sides = part.whole.face, part.sides
    for side in sides:
        for corner in side.corners:
            if corner not in gap.places:
                beside = [s.face for s in sides if corner in s.corners]
                gap.places[corner] = gap.meet(gap.topology.point(corner), [top, *beside], [corner])
                gap.same[corner] = corner
    uses: list[tuple[int, bool]] = []
    turned = gap.topology.is_reversed(top)
    for side in sides:
        near = np.concatenate([gap.samples(edge, against) for edge, against in side.edges])
        new = gap.edge(side.corners[0], side.corners[1], (side.face, top), near)
        new.turn = _flat_start(gap, side)
        gap.runs[side.face, side.wire, side.edges[0][0]] = [(new.number, False)]
        uses.append((new.number, (not gap.topology.is_reversed(side.face)) ^ turned))
    gap.runs[top, part.whole.wire, part.whole.edges[0][0]] = uses


def _flat_start(gap: Gap, side: Side) -> tuple[float, float] | None:
    edge, against = side.edges[0]
    _, first, last = gap.topology.curve(edge)
    shape, face = (gap.topology.index.get(k, n) for k, n in (("edge", edge), ("face", side.face)))
    return flat_start(oriented(shape, against), forward(face), last if against else first)


def close_network(gap: Gap, part: Network) -> None:
    """Each strip shrinks to an edge, each corner and end of a strip to a vertex."""
    topology = gap.topology
    stands: dict[int, int] = {}

    def root(vertex: int) -> int:
        while stands.setdefault(vertex, vertex) != vertex:
            vertex = stands[vertex]
        return vertex

    contacts = {e for item in part.strips for e in item.contacts}
    for edge in {e for f in gap.faces for e in topology.edges_of(f)} - contacts:
        a, b = topology.ends(edge)
        stands[root(a)] = root(b)
        gap.ends_gone.add(edge)
    vertices = {v for f in gap.faces for v in topology.vertices_of(f)}
    for tip in {root(v) for v in vertices}:
        group = [v for v in vertices if root(v) == tip]
        beside = [f for v in group for f in topology.faces_at(v) if f not in gap.faces]
        start = np.mean([topology.point(v) for v in group], axis=0)
        gap.places[tip] = gap.meet(start, list(dict.fromkeys(beside)), group)
        gap.same.update(dict.fromkeys(group, tip))
    for item in part.strips:
        _strip_to_edge(gap, item, root)


def _strip_to_edge(gap: Gap, item: Fillet, root: Callable[[int], int]) -> None:
    topology = gap.topology
    by_face = {topology.other_face(contact, item.face): contact for contact in item.contacts}
    if len(item.contacts) != 2 or len(by_face) != 2:
        raise LocalFailure("its rails are split", [item.face])
    a, b = by_face
    low, high = (root(v) for v in topology.ends(by_face[a]))
    new = gap.edge(low, high, (a, b), topology.samples(by_face[a], SAMPLES))
    for face, contact in by_face.items():
        for number, wire in enumerate(ordered_wires(topology, face)):
            for edge, against in wire:
                if edge == contact:
                    turned = root(topology.ends(contact)[0]) != low
                    gap.runs[face, number, edge] = [(new.number, against ^ turned)]
