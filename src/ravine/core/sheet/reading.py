"""A plain solid read as sheet: the two sides of it, walls and bends, how they hang together, and what is no sheet.

One side is followed from a root face across edges where the surface runs on without a kink; every face of it has its
other side behind it at the depth of the sheet.  All else is cut edge, a form that stands out, or a fault.
"""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..errors import EditError
from ..local.topology import SolidTopology
from .creases import SHARPEST, fold_at
from .faults import Fault, faults_of
from .outlines import Outlines, drawn_edges, walked
from .pairing import Back, backs_of, thickness_of

ROLLED = 20.0  # times as much bent area as flat, from which a part counts as rolled
MUCH = 2.2  # times the area by which a piece stands on one side that it has on the other
KINK = 0.14  # rad, up to which an edge between two faces of a side counts as meant to be smooth


@dataclass(frozen=True)
class Panel:
    """A face of the side that is read, with the sheet below it.  bend: it is bent."""

    face: int
    bend: bool
    backs: tuple[Back, ...]

    @property
    def depth(self) -> float:
        return self.backs[0].depth


@dataclass(frozen=True)
class Joint:
    """Two panels that run on into each other across an edge; fold: rad, where flat walls meet in a sharp one."""

    edge: int
    first: int
    second: int
    fold: float = 0.0


@dataclass(frozen=True)
class Form:
    """Sheet that stands out of a panel within its border, as a bead, a dimple or a louvre: the panel's face, the edges
    by which it hangs in it, and its own faces."""

    panel: int
    edges: tuple[int, ...]
    faces: tuple[int, ...]


@dataclass(frozen=True)
class Piece:
    """What is joined to a panel and is no sheet, as a welded nut: the panel's face, the edges by which it stands on it,
    its own faces, and the edges of a hole that goes on through the panel on its other side."""

    panel: int
    edges: tuple[int, ...]
    faces: tuple[int, ...]
    hole: tuple[int, ...]


@dataclass(eq=False)
class SheetReading:
    """thickness: mm; panels: by face, the root first; joints: of the side; cut: faces of the thickness; forms: what was
    pressed out; pieces: what is joined to it; others: faces that are none of it."""

    topology: SolidTopology
    outlines: Outlines
    thickness: float
    root: int
    panels: dict[int, Panel] = field(default_factory=dict)
    joints: list[Joint] = field(default_factory=list)
    cut: set[int] = field(default_factory=set)
    others: set[int] = field(default_factory=set)
    forms: list[Form] = field(default_factory=list)
    pieces: list[Piece] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)

    @property
    def behind(self) -> set[int]:
        """Faces of the other side."""
        return {b.face for p in self.panels.values() for b in p.backs}

    def bends(self) -> list[Panel]:
        return [p for p in self.panels.values() if p.bend]

    @cached_property
    def folds(self) -> dict[int, set[int]]:
        """By panel, the edges along which it is folded against its neighbours."""
        found: dict[int, set[int]] = {}
        for joint in self.joints:
            if joint.fold:
                found.setdefault(joint.first, set()).add(joint.edge)
                found.setdefault(joint.second, set()).add(joint.edge)
        return found

    @cached_property
    def folded(self) -> set[int]:
        """Faces of both sides of walls that are folded against their neighbours."""
        return {f for p in self.folds for f in (p, *(b.face for b in self.panels[p].backs))}

    def walls(self) -> list[Panel]:
        return [p for p in self.panels.values() if not p.bend]


def read_sheet(topology: SolidTopology, root: int | None = None, thickness: float | None = None) -> SheetReading:
    """root: face of the side to read, the largest flat one when left out; thickness: mm, measured when left out.
    Raises EditError where there are no two sides at all."""
    outlines = Outlines(topology)
    measured = root if root is not None and topology.surface(root).kind == "plane" else None
    found = thickness if thickness is not None else thickness_of(outlines, measured) or thickness_of(outlines)
    if found is None:
        raise EditError("no flat face has another side behind it, so this is no sheet")
    backs = backs_of(outlines, found)
    if root is None:
        flat = [f for f in backs if topology.surface(f).kind == "plane"]
        bent = [f for f in backs if f not in flat]
        if sum(map(outlines.area, bent)) > ROLLED * sum(map(outlines.area, flat)):
            flat = bent  # a rolled part, whose flat faces are none of the sheet's
        root = max(flat, key=lambda f: (round(outlines.area(f), 3), -f), default=None)
    if root is None or root not in backs:
        raise EditError(f"nothing lies {found:.6g} mm behind this face; pick a face of the sheet")
    reading = SheetReading(topology, outlines, found, root)
    _follow(reading, backs)
    _sort_the_rest(reading, backs)
    reading.faults = faults_of(reading, backs)
    return reading


def _follow(reading: SheetReading, backs: dict[int, list[Back]]) -> None:
    """From the root over all that runs on."""
    topology = reading.topology
    waiting = deque([reading.root])
    behind: set[int] = set()
    taken: set[int] = set()
    while waiting:
        face = waiting.popleft()
        if face in reading.panels:
            continue
        rows = tuple(b for b in backs[face] if b.face not in reading.panels)
        if not rows:
            continue
        reading.panels[face] = Panel(face, topology.surface(face).kind != "plane", rows)
        behind |= {b.face for b in rows}
        for edge in topology.edges_of(face):
            other = topology.other_face(edge, face)
            if other == face or other not in backs or other in behind:
                continue
            fold = fold_at(topology, edge, backs)
            if not fold and not runs_on(topology, edge):
                continue
            if edge not in taken:
                taken.add(edge)
                reading.joints.append(Joint(edge, face, other, fold))
            waiting.append(other)
    reading.joints = [j for j in reading.joints if j.first in reading.panels and j.second in reading.panels]


def runs_on(topology: SolidTopology, edge: int) -> bool:
    """Whether the surface goes on without a kink, or with one so small that none is meant."""
    meeting = topology.meeting(edge)
    if meeting in ("smooth", "same"):
        return True
    if meeting != "sharp":
        return False
    return kink_at(topology, edge) < KINK


def kink_at(topology: SolidTopology, edge: int) -> float:
    """The largest angle (rad) between the outward normals along an edge."""
    points = topology.samples(edge)
    a, b = (topology.outward(f, points) for f in topology.faces_of(edge))
    return float(np.arccos(np.clip(np.einsum("ij,ij->i", a, b), -1, 1)).max())


def _sort_the_rest(reading: SheetReading, backs: dict[int, list[Back]]) -> None:
    """Cut edges touch both sides, or run on from one that does."""
    topology = reading.topology
    behind = reading.behind
    left = set(range(topology.index.count("face"))) - set(reading.panels) - behind
    touching = {f: {topology.other_face(e, f) for e in topology.edges_of(f)} for f in left}
    cut = {f for f, beside in touching.items() if beside & behind and beside & set(reading.panels)}
    for group in hanging_together(topology, left - cut):
        beside = {b for f in group for b in touching[f]}
        fronts = beside & set(reading.panels)
        # a cut edge with rounds or chamfers along the sides, unless it stands out, as a form or a wall
        if beside & behind and fronts and not group & backs.keys() and not _stands_out(reading, group, fronts):
            sides = behind | set(reading.panels)
            cut |= {f for f in group if _stands_square(reading, f, sides)}
    reading.cut, reading.others = cut, left - cut
    _find_forms(reading, backs)


def _find_forms(reading: SheetReading, backs: dict[int, list[Back]]) -> None:
    """What hangs within the border of one panel on the side that is seen, with what lies behind it on the other: the
    two are one where an open form joins them, or where their borders lie over each other."""
    topology = reading.topology
    seen: list[tuple[int, set[int], set[int]]] = []  # panel, edges, faces
    unseen: list[tuple[int, set[int], set[int]]] = []
    for group in hanging_together(topology, set(reading.others)):
        group |= _lanced(reading, group)
        hung = _hung(reading, group)
        fronts, others = hung.keys() & set(reading.panels), hung.keys() & reading.behind
        if len(hung) == 2 and len(fronts) == len(others) == 1:
            (front,) = fronts
            if _is_solid(reading, group, backs, front, hung):
                reading.pieces.append(Piece(front, tuple(sorted(hung[front])), tuple(sorted(group)),
                                            tuple(sorted(hung[others.pop()]))))  # fmt: skip
                reading.others -= group
                reading.cut -= group
                continue
            reading.forms.append(Form(front, tuple(sorted(hung[front])), tuple(sorted(group))))
            reading.others -= group
            reading.cut -= group
        elif len(hung) == 1:
            ((face, edges),) = hung.items()
            (seen if fronts else unseen).append((face, edges, group))
    for face, edges, group in seen:
        behind = {b.face for b in reading.panels[face].backs}
        here = _ring(reading, face, face, edges)
        mates = [row for row in unseen if row[0] in behind and here.intersects(_ring(reading, face, row[0], row[1]))]
        if not mates and not any(f in backs for f in group):
            reading.pieces.append(Piece(face, tuple(sorted(edges)), tuple(sorted(group)), ()))
            reading.others -= group
        if mates:
            faces = group.union(*(m[2] for m in mates))
            reading.forms.append(Form(face, tuple(sorted(edges)), tuple(sorted(faces))))
            reading.others -= faces
    for face, _, group in unseen:
        if group <= reading.others and not any(f in backs for f in group):
            panel = next(p.face for p in reading.panels.values() if face in {b.face for b in p.backs})
            reading.pieces.append(Piece(panel, (), tuple(sorted(group)), ()))
            reading.others -= group


def _is_solid(
    reading: SheetReading, group: set[int], backs: dict[int, list[Back]], front: int, hung: dict[int, set[int]]
) -> bool:
    """Whether what hangs in both sides is no sheet: no face of it has another one behind, and it is much wider on one
    side than on the other, as a nut about its hole."""
    if any(b.face in group for f in group for b in backs.get(f, ())):
        return False
    sizes = sorted(_ring(reading, front, face, edges).area for face, edges in hung.items())
    return bool(sizes[1] > MUCH * sizes[0])


def _lanced(reading: SheetReading, group: set[int]) -> set[int]:
    """Cut edges along which a form was lanced open, as a louvre's: they touch nothing but it and the two sides."""
    topology = reading.topology
    sides = set(reading.panels) | reading.behind
    found = set()
    for face in reading.cut:
        beside = {topology.other_face(e, face) for e in topology.edges_of(face)}
        if beside & group and beside <= group | sides:
            found.add(face)
    return found


def _hung(reading: SheetReading, group: set[int]) -> dict[int, set[int]]:
    """By face outside the group, the edges by which the group hangs in it; empty where one is on its outer border."""
    topology = reading.topology
    found: dict[int, set[int]] = {}
    for face in group:
        for edge in topology.edges_of(face):
            other = topology.other_face(edge, face)
            if other not in group:
                found.setdefault(other, set()).add(edge)
    for face, edges in found.items():
        if edges & {e for e, _ in topology.wires(face)[0]}:
            return {}
    return found


def _ring(reading: SheetReading, on: int, face: int, edges: set[int]) -> BaseGeometry:
    """The area within the wire of a face that has these edges, as it lies over a panel."""
    topology = reading.topology
    wire = next(w for w in topology.wires(face) if edges & {e for e, _ in w})
    points = np.concatenate([topology.samples(e, 17) for e, _ in walked(topology, wire)])
    return shapely.MultiPoint(reading.outlines.skin(on).flat(points)).convex_hull


def _stands_out(reading: SheetReading, group: set[int], panels: set[int]) -> bool:
    """Whether faces that hang in one flat panel reach beyond either of its sides."""
    (panel, *others) = panels
    skin = reading.outlines.skin(panel)
    if others or skin.kind != "plane":
        return False
    edges = {e for f in group for e in drawn_edges(reading.topology, f)}
    points = np.concatenate([reading.topology.samples(e, 5) for e in sorted(edges)])
    heights = (points - skin.origin) @ skin.z
    room = 0.05 * reading.thickness
    return bool(heights.max() > room or heights.min() < -reading.thickness - room)


def _stands_square(reading: SheetReading, face: int, sides: set[int]) -> bool:
    """On every side of the sheet that it touches; nearly so where the sheet is folded, since one cut runs over
    several facets."""
    topology = reading.topology
    for edge in drawn_edges(topology, face):
        other = topology.other_face(edge, face)
        if other in sides:
            points = topology.samples(edge)
            along = np.einsum("ij,ij->i", topology.outward(face, points), topology.outward(other, points))
            if np.abs(along).max() > (math.sin(SHARPEST) if other in reading.folded else KINK):
                return False
    return True


def hanging_together(topology: SolidTopology, faces: set[int]) -> list[set[int]]:
    """Groups of them that touch along edges."""
    left, found = set(faces), []
    while left:
        group, waiting = set(), [left.pop()]
        while waiting:
            face = waiting.pop()
            group.add(face)
            beside = {topology.other_face(e, face) for e in topology.edges_of(face)} & left
            left -= beside
            waiting += beside
        found.append(group)
    return found
