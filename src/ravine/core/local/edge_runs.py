"""What goes with a picked edge or face: loops, tangent runs, and the way from a first to a last one."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterable, Iterator

import numpy as np

from .topology import SolidTopology

STRAIGHT_ON = 0.9998  # cosine between tangents of edges that run on into each other, about 1.1°


def tangent_run(topology: SolidTopology, edges: Iterable[int]) -> list[int]:
    """The edges and all sharp ones that continue them without a kink."""
    found = list(dict.fromkeys(edges))
    waiting = list(found)
    while waiting:
        edge = waiting.pop()
        for vertex in topology.ends(edge):
            for other in topology.edges_at(vertex) if vertex >= 0 else ():
                if other in found or topology.meeting(other) != "sharp":
                    continue
                here, there = topology.direction(edge, vertex), topology.direction(other, vertex)
                if abs(float(here @ there)) > STRAIGHT_ON:
                    found.append(other)
                    waiting.append(other)
    return found


def loops_of(topology: SolidTopology, edge: int) -> list[list[int]]:
    """The loops of faces that an edge lies in, shortest first, each beginning with the edge; sharp edges only."""
    found: list[list[int]] = []
    for face in dict.fromkeys(topology.faces_of(edge)):
        for wire in topology.wires(face):
            row = [e for e, _ in wire]
            if edge in row:
                at = row.index(edge)
                loop = [e for e in [*row[at:], *row[:at]] if e == edge or topology.meeting(e) == "sharp"]
                found.append(list(dict.fromkeys(loop)))
    return sorted(found, key=lambda loop: sum(_length(topology, e) for e in loop))


def _length(topology: SolidTopology, edge: int) -> float:
    """mm, well enough to compare."""
    return float(np.linalg.norm(np.diff(topology.samples(edge, 9), axis=0), axis=1).sum())


def loops_with(topology: SolidTopology, edges: Iterable[int]) -> list[int]:
    """All edges of the smaller loop of each."""
    return list(dict.fromkeys(e for edge in edges for e in loops_of(topology, edge)[0]))


def edge_chain(topology: SolidTopology, start: int, end: int) -> list[int]:
    """The shortest way along sharp edges from one to another, both with it; empty where there is none (Dijkstra)."""

    def steps(edge: int) -> Iterator[tuple[int, float]]:
        for vertex in topology.ends(edge):
            for other in topology.edges_at(vertex) if vertex >= 0 else ():
                if other != edge and (other == end or topology.meeting(other) == "sharp"):
                    yield other, _length(topology, other)

    return _shortest(start, end, steps)


def tangent_faces(topology: SolidTopology, faces: Iterable[int]) -> list[int]:
    """The faces and all that run on from them without a kink."""
    found = list(dict.fromkeys(faces))
    waiting = list(found)
    while waiting:
        for beside in topology.neighbours(waiting.pop(), "smooth", "same"):
            if beside not in found:
                found.append(beside)
                waiting.append(beside)
    return found


def face_chain(topology: SolidTopology, start: int, end: int) -> list[int]:
    """The way over the fewest faces from one to another, both with it."""
    return _shortest(start, end, lambda face: ((other, 1.0) for other in topology.neighbours(face)))


def _shortest(start: int, end: int, steps: Callable[[int], Iterable[tuple[int, float]]]) -> list[int]:
    best = {start: (0.0, start)}
    waiting = [(0.0, start)]
    while waiting:
        far, at = heapq.heappop(waiting)
        if at == end:
            way = [end]
            while way[-1] != start:
                way.append(best[way[-1]][1])
            return way[::-1]
        if far > best[at][0]:
            continue
        for other, length in steps(at):
            if other not in best or far + length < best[other][0]:
                best[other] = (far + length, at)
                heapq.heappush(waiting, (far + length, other))
    return []
