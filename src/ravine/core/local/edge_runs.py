"""Edges that go with an edge: tangent runs and loops of a face."""

from __future__ import annotations

from collections.abc import Iterable

from .fabric import Fabric

STRAIGHT_ON = 0.9998  # cosine between tangents of edges that run on into each other, about 1.1°


def tangent_run(fabric: Fabric, edges: Iterable[int]) -> list[int]:
    """The edges and all sharp ones that continue them without a kink."""
    found = list(dict.fromkeys(edges))
    waiting = list(found)
    while waiting:
        edge = waiting.pop()
        for vertex in fabric.ends(edge):
            for other in fabric.edges_at(vertex) if vertex >= 0 else ():
                if other in found or fabric.meeting(other) != "sharp":
                    continue
                here, there = fabric.direction(edge, vertex), fabric.direction(other, vertex)
                if abs(float(here @ there)) > STRAIGHT_ON:
                    found.append(other)
                    waiting.append(other)
    return found


def loops_with(fabric: Fabric, edges: Iterable[int]) -> list[int]:
    """All sharp edges of the loops these edges lie in: of the two faces beside an edge, in the smaller loop."""
    found: list[int] = []
    for edge in edges:
        loops = [
            [e for e, _ in wire] for f in fabric.faces_of(edge) for wire in fabric.wires(f)
            if edge in {e for e, _ in wire}
        ]  # fmt: skip
        loop = min(loops, key=len)
        found += [e for e in loop if fabric.meeting(e) == "sharp"]
    return list(dict.fromkeys(found))
