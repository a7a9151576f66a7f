"""What keeps a solid from being sheet: which faces, and by how much.  Problems are data; words are for people."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from .pairing import Back, span_below

if TYPE_CHECKING:
    from .reading import SheetReading

SAME = 1e-4  # of the thickness, within which lengths are the same
STRAIGHT = 1e-4  # rad

KINDS = {
    "thickness": "the thickness differs",
    "wedge": "the thickness varies",
    "axis": "the two faces of a bend share no axis",
    "kink": "a bend does not run on smoothly",
    "corner": "walls meet without a bend or a rip",
    "square": "an edge is not square to the sheet",
    "round": "an edge of the sheet is rounded or chamfered",
    "closed": "the sheet closes on itself without a seam",
    "odd": "faces that are no sheet",
}


@dataclass(frozen=True)
class Fault:
    """kind: of KINDS; faces: numbers in the solid; size: mm or rad by which it is off, 0 where that says nothing."""

    kind: str
    faces: tuple[int, ...]
    size: float = 0.0


def faults_of(reading: SheetReading, backs: dict[int, list[Back]]) -> list[Fault]:
    return [*_depths(reading), *_kinks(reading), *_corners(reading, backs), *_cut_edges(reading), *_odd(reading)]


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
        if topology.meeting(j.edge) == "sharp"
    ]


def _corners(reading: SheetReading, backs: dict[int, list[Back]]) -> list[Fault]:
    """A face that has its other side behind it, beside a panel across a sharp edge, though it is no cut edge: a wall
    that was never bent, or two walls that are joined at a corner."""
    topology = reading.topology
    found: dict[frozenset[int], Fault] = {}
    pressed = {f for form in reading.forms for f in form.faces}
    behind = reading.behind
    for panel in reading.panels.values():
        for edge in topology.edges_of(panel.face):
            other = topology.other_face(edge, panel.face)
            if topology.meeting(edge) != "sharp" or other == panel.face or other in behind | pressed:
                continue
            joined = any(j.edge == edge for j in reading.joints)
            wall = other in reading.panels or (other in backs and other not in reading.cut)
            if wall and not joined:
                found.setdefault(frozenset((panel.face, other)), Fault("corner", (panel.face, other)))
    return list(found.values())


def _cut_edges(reading: SheetReading) -> list[Fault]:
    """Square to the sheet along the edges that a cut face shares with either side."""
    topology, found = reading.topology, []
    for face in sorted(reading.cut):
        worst = 0.0
        for edge in topology.edges_of(face):
            other = topology.other_face(edge, face)
            if other not in reading.panels and other not in reading.behind:
                continue
            points = topology.samples(edge)
            off = np.abs(np.einsum("ij,ij->i", topology.outward(face, points), topology.outward(other, points)))
            worst = max(worst, float(off.max()))
        if worst > STRAIGHT:
            found.append(Fault("square", (face,), float(np.arcsin(min(worst, 1.0)))))
    return found


def _odd(reading: SheetReading) -> list[Fault]:
    """In groups that hang together: rounds and chamfers that run along cut edges, and all else."""
    from .reading import hanging_together

    topology = reading.topology
    sides = set(reading.panels) | reading.behind
    found = []
    for group in sorted(hanging_together(topology, reading.others), key=min):
        beside = {f: {topology.other_face(e, f) for e in topology.edges_of(f)} for f in group}
        blends = all(b & sides and b & (reading.cut | group) for b in beside.values())
        ends = any(b & reading.cut for b in beside.values())
        found.append(Fault("round" if blends and ends else "odd", tuple(sorted(group))))
    return found
