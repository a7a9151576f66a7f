"""What keeps a solid from being sheet: which faces, and by how much.  Problems are data; words are for people."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..local.topology import SolidTopology
from .development import DEVELOPABLE
from .outlines import drawn_edges
from .pairing import Back, span_below

if TYPE_CHECKING:
    from .reading import SheetReading

SAME = 1e-4  # of the thickness, within which lengths are the same
STRAIGHT = 1e-4  # rad
SHARED = 8.0  # thicknesses, up to which an edge between two facets may lie about a corner that they share

KINDS = {
    "thickness": "the thickness differs",
    "wedge": "the thickness varies",
    "axis": "the two faces of a bend share no axis",
    "kink": "a bend does not run on smoothly",
    "corner": "walls meet without a bend or a rip",
    "square": "an edge is not square to the sheet",
    "round": "an edge of the sheet is rounded or chamfered",
    "closed": "the sheet closes on itself without a seam",
    "piece": "a solid piece is joined to the sheet",
    "second": "another sheet is joined to it",
    "odd": "faces that are no sheet",
}


@dataclass(frozen=True)
class Fault:
    """kind: of KINDS; faces: numbers in the solid; size: mm or rad by which it is off, 0 where that says nothing."""

    kind: str
    faces: tuple[int, ...]
    size: float = 0.0


def faults_of(reading: SheetReading, backs: dict[int, list[Back]]) -> list[Fault]:
    return [*_depths(reading), *_kinks(reading), *_corners(reading, backs), *_cut_edges(reading), *_odd(reading, backs)]


def _depths(reading: SheetReading) -> list[Fault]:
    found = []
    outlines, most = reading.outlines, SAME * reading.thickness
    for panel in reading.panels.values():
        for back in panel.backs:
            a, b = outlines.skin(panel.face), outlines.skin(back.face)
            faces = (panel.face, back.face)
            if not panel.bend:
                low, high = span_below(outlines, panel.face, back.face)
                if high - low > most:
                    if panel.face in reading.folds and back is not panel.backs[0]:
                        continue  # the other side of its neighbour
                    found.append(Fault("wedge", faces, high - low))
                    continue
            else:
                gap = a.origin - b.origin
                away = float(np.linalg.norm(gap - (gap @ a.z) * a.z))
                lean = float(np.linalg.norm(np.cross(a.z, b.z)))
                if away > most or lean > STRAIGHT or abs(a.slope - b.slope) > STRAIGHT:
                    found.append(Fault("axis", faces, away if away > most else max(lean, abs(a.slope - b.slope))))
                    continue
            if abs(back.depth - reading.thickness) > most:
                found.append(Fault("thickness", faces, back.depth - reading.thickness))
    return found


def _kinks(reading: SheetReading) -> list[Fault]:
    from .reading import kink_at

    topology = reading.topology
    return [
        Fault("kink", (j.first, j.second), kink_at(topology, j.edge))
        for j in reading.joints
        if not j.fold and topology.meeting(j.edge) == "sharp"
    ]


def _corners(reading: SheetReading, backs: dict[int, list[Back]]) -> list[Fault]:
    """A face that has its other side behind it, beside a panel across a sharp edge, though it is no cut edge: a wall
    that was never bent, or two walls that are joined at a corner."""
    topology = reading.topology
    found: dict[frozenset[int], Fault] = {}
    pressed = {f for row in (reading.forms, reading.pieces) for found in row for f in found.faces}
    behind = reading.behind
    for panel in reading.panels.values():
        for edge in topology.edges_of(panel.face):
            other = topology.other_face(edge, panel.face)
            if topology.meeting(edge) != "sharp" or other == panel.face or other in behind | pressed:
                continue
            if {panel.face, other} <= reading.folds.keys() and _length(topology, edge) < SHARED * reading.thickness:
                continue  # facets that share a corner meet there out of turn on the inner side
            joined = any(j.edge == edge for j in reading.joints)
            wall = other in reading.panels or (other in backs and other not in reading.cut)
            if wall and not joined:
                found.setdefault(frozenset((panel.face, other)), Fault("corner", (panel.face, other)))
    return list(found.values())


def _length(topology: SolidTopology, edge: int) -> float:
    return float(np.linalg.norm(np.diff(topology.samples(edge, 2), axis=0)))


def _cut_edges(reading: SheetReading) -> list[Fault]:
    """Square to the sheet along the edges that a cut face shares with either side; not beside folds, where the sheet is
    laid flat by its middle."""
    topology, found = reading.topology, []
    for face in sorted(reading.cut):
        worst = 0.0
        for edge in drawn_edges(topology, face):
            other = topology.other_face(edge, face)
            if other in reading.folded or (other not in reading.panels and other not in reading.behind):
                continue
            points = topology.samples(edge)
            off = np.abs(np.einsum("ij,ij->i", topology.outward(face, points), topology.outward(other, points)))
            worst = max(worst, float(off.max()))
        if worst > STRAIGHT:
            found.append(Fault("square", (face,), float(np.arcsin(min(worst, 1.0)))))
    return found


def _odd(reading: SheetReading, backs: dict[int, list[Back]]) -> list[Fault]:
    """In groups that hang together: rounds and chamfers that run along cut edges, and all else."""
    from .reading import hanging_together

    topology = reading.topology
    sides = set(reading.panels) | reading.behind
    found = []
    for group in sorted(hanging_together(topology, reading.others), key=min):
        beside = {f: {topology.other_face(e, f) for e in topology.edges_of(f)} for f in group}
        blends = all(b & sides and b & (reading.cut | group) for b in beside.values())
        ends = any(b & reading.cut for b in beside.values())
        kind = "round" if blends and ends else "second" if _is_sheet(reading, group, backs) else "odd"
        found.append(Fault(kind, tuple(sorted(group))))
    return found + [Fault("piece", p.faces) for p in reading.pieces]


def _is_sheet(reading: SheetReading, group: set[int], backs: dict[int, list[Back]]) -> bool:
    """Most of its area has another face of it behind."""
    areas = {f: reading.outlines.area(f) for f in group if reading.topology.surface(f).kind in DEVELOPABLE}
    paired = [f for f in areas if any(b.face in group for b in backs.get(f, ()))]
    return sum(areas[f] for f in paired) > 0.5 * sum(areas.values())
