"""The outline of a set of faces that is to go: loops of edges, cut into sides by the neighbour they run along."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from .failure import LocalFailure
from .topology import SolidTopology


@dataclass(frozen=True)
class Side:
    """A run of edges along one neighbour, in the order and sense of the neighbour's own wire (face taken forward).
    wire: which of its wires; whole: the run is all of it; corners: vertices where it begins and ends."""

    face: int
    wire: int
    edges: tuple[tuple[int, bool], ...]
    whole: bool
    corners: tuple[int, int]


def outline(topology: SolidTopology, faces: set[int]) -> list[list[Side]]:
    """Loops of sides; in a loop each side begins at the corner where the one before it ends or where the next one
    does, as the senses of the neighbours' wires have it.  Raises LocalFailure where the outline is no simple loop."""
    border = {e for f in faces for e in topology.edges_of(f) if sum(g in faces for g in set(topology.faces_of(e))) == 1
              and len(set(topology.faces_of(e))) == 2}  # fmt: skip
    sides = [s for n in _neighbours(topology, faces, border) for s in _sides(topology, n, border)]
    loops = []
    waiting = list(range(len(sides)))
    while waiting:
        loop = [sides[waiting.pop(0)]]
        if not loop[0].whole:
            at = loop[0].corners[1]
            while at != loop[0].corners[0]:
                following = [i for i in waiting if at in sides[i].corners]
                if len(following) != 1:
                    raise LocalFailure("its outline branches at a corner", [s.face for s in loop])
                side = sides[following[0]]
                waiting.remove(following[0])
                at = side.corners[0] if side.corners[1] == at else side.corners[1]
                loop.append(side)
        loops.append(loop)
    return loops


def _neighbours(topology: SolidTopology, faces: set[int], border: Iterable[int]) -> list[int]:
    return list(dict.fromkeys(f for e in border for f in topology.faces_of(e) if f not in faces))


def _sides(topology: SolidTopology, face: int, border: set[int]) -> list[Side]:
    found = []
    for number, wire in enumerate(ordered_wires(topology, face)):
        marks = [edge in border for edge, _ in wire]
        if all(marks):
            start = _start(topology, wire[0])
            found.append(Side(face, number, tuple(wire), True, (start, start)))
            continue
        if not any(marks):
            continue
        first = next(i for i in range(len(wire)) if marks[i] and not marks[i - 1])
        run: list[tuple[int, bool]] = []
        for use in wire[first:] + wire[:first]:  # ends outside the border, so the last run is closed, too
            if use[0] in border:
                run.append(use)
            elif run:
                found.append(Side(face, number, tuple(run), False, (_start(topology, run[0]), _end(topology, run[-1]))))
                run = []
    return found


def _start(topology: SolidTopology, use: tuple[int, bool]) -> int:
    edge, against = use
    return topology.ends(edge)[1 if against else 0]


def _end(topology: SolidTopology, use: tuple[int, bool]) -> int:
    edge, against = use
    return topology.ends(edge)[0 if against else 1]


def ordered_wires(topology: SolidTopology, face: int) -> list[list[tuple[int, bool]]]:
    """The wires of a face with their edges in the order of travel.  Files do not always list them so."""
    return [_ordered(topology, list(wire), face) for wire in topology.wires(face)]


def _ordered(topology: SolidTopology, uses: list[tuple[int, bool]], face: int) -> list[tuple[int, bool]]:
    row = [uses.pop(0)]
    while uses:
        at = _end(topology, row[-1])
        following = [u for u in uses if _start(topology, u) == at]
        if not following:
            raise LocalFailure("one of its loops is not closed", [face])
        # where a seam comes into question, it is not taken back the way it came
        use = next((u for u in following if u[0] != row[-1][0]), following[0])
        uses.remove(use)
        row.append(use)
    return row
