"""What goes with a picked edge or face: loops, tangent runs, and the way from a first to a last one."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterable, Iterator

import numpy as np

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


def loops_of(fabric: Fabric, edge: int) -> list[list[int]]:
    """The loops of faces that an edge lies in, shortest first, each beginning with the edge; sharp edges only."""
    found: list[list[int]] = []
    for face in dict.fromkeys(fabric.faces_of(edge)):
        for wire in fabric.wires(face):
            row = [e for e, _ in wire]
            if edge in row:
                at = row.index(edge)
                loop = [e for e in [*row[at:], *row[:at]] if e == edge or fabric.meeting(e) == "sharp"]
                found.append(list(dict.fromkeys(loop)))
    return sorted(found, key=lambda loop: sum(_length(fabric, e) for e in loop))


def _length(fabric: Fabric, edge: int) -> float:
    """mm, well enough to compare."""
    return float(np.linalg.norm(np.diff(fabric.samples(edge, 9), axis=0), axis=1).sum())


def loops_with(fabric: Fabric, edges: Iterable[int]) -> list[int]:
    """All edges of the smaller loop of each."""
    return list(dict.fromkeys(e for edge in edges for e in loops_of(fabric, edge)[0]))


def edge_chain(fabric: Fabric, start: int, end: int) -> list[int]:
    """The shortest way along sharp edges from one to another, both with it; empty where there is none (Dijkstra)."""

    def steps(edge: int) -> Iterator[tuple[int, float]]:
        for vertex in fabric.ends(edge):
            for other in fabric.edges_at(vertex) if vertex >= 0 else ():
                if other != edge and (other == end or fabric.meeting(other) == "sharp"):
                    yield other, _length(fabric, other)

    return _shortest(start, end, steps)


def tangent_faces(fabric: Fabric, faces: Iterable[int]) -> list[int]:
    """The faces and all that run on from them without a kink."""
    found = list(dict.fromkeys(faces))
    waiting = list(found)
    while waiting:
        for beside in fabric.neighbours(waiting.pop(), "smooth", "same"):
            if beside not in found:
                found.append(beside)
                waiting.append(beside)
    return found


def face_chain(fabric: Fabric, start: int, end: int) -> list[int]:
    """The way over the fewest faces from one to another, both with it."""
    return _shortest(start, end, lambda face: ((other, 1.0) for other in fabric.neighbours(face)))


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
