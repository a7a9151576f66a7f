"""A plain solid read as sheet: the two sides of it, walls and bends, how they hang together, and what is no sheet.

One side is followed from a root face across edges where the surface runs on without a kink; every face of it has its
other side behind it at the depth of the sheet.  All else is cut edge, a form that stands out, or a fault.
"""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from ..errors import EditError
from ..local.topology import SolidTopology
from .faults import Fault, faults_of
from .outlines import Outlines, walked
from .pairing import Back, backs_of, thickness_of

ROLLED = 20.0  # times as much bent area as flat, from which a part counts as rolled
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
    """Two panels that run on into each other across an edge."""

    edge: int
    first: int
    second: int


@dataclass(frozen=True)
class Form:
    """Sheet that stands out of a panel within its border, as a bead, a dimple or a louvre: the panel's face, the edges
    by which it hangs in it, and its own faces."""

    panel: int
    edges: tuple[int, ...]
    faces: tuple[int, ...]


@dataclass(eq=False)
class SheetReading:
    """thickness: mm; panels: by face, the root first; joints: of the side; cut: faces of the thickness; forms: what was
    pressed out; others: faces that are none of it."""

    topology: SolidTopology
    outlines: Outlines
    thickness: float
    root: int
    panels: dict[int, Panel] = field(default_factory=dict)
    joints: list[Joint] = field(default_factory=list)
    cut: set[int] = field(default_factory=set)
    others: set[int] = field(default_factory=set)
    forms: list[Form] = field(default_factory=list)
    faults: list[Fault] = field(default_factory=list)

    @property
    def behind(self) -> set[int]:
        """Faces of the other side."""
        return {b.face for p in self.panels.values() for b in p.backs}

    def bends(self) -> list[Panel]:
        return [p for p in self.panels.values() if p.bend]

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
            if other == face or other not in backs or other in behind or not runs_on(topology, edge):
                continue
            if edge not in taken:
                taken.add(edge)
                reading.joints.append(Joint(edge, face, other))
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
            cut |= {f for f in group if _stands_square(topology, f, sides)}
    reading.cut, reading.others = cut, left - cut
    _find_forms(reading)


def _find_forms(reading: SheetReading) -> None:
    """What hangs within the border of one panel on the side that is seen, with what lies behind it on the other: the
    two are one where an open form joins them, or where their borders lie over each other."""
    topology = reading.topology
    seen: list[tuple[int, set[int], set[int]]] = []  # panel, edges, faces
    unseen: list[tuple[int, set[int], set[int]]] = []
    for group in hanging_together(topology, set(reading.others)):
        hung = _hung(reading, group)
        fronts, backs = hung.keys() & set(reading.panels), hung.keys() & reading.behind
        if len(hung) == 2 and len(fronts) == len(backs) == 1:
            (front,) = fronts
            reading.forms.append(Form(front, tuple(sorted(hung[front])), tuple(sorted(group))))
            reading.others -= group
        elif len(hung) == 1:
            ((face, edges),) = hung.items()
            (seen if fronts else unseen).append((face, edges, group))
    for face, edges, group in seen:
        behind = {b.face for b in reading.panels[face].backs}
        here = _ring(reading, face, face, edges)
        mates = [row for row in unseen if row[0] in behind and here.intersects(_ring(reading, face, row[0], row[1]))]
        if mates:
            faces = group.union(*(m[2] for m in mates))
            reading.forms.append(Form(face, tuple(sorted(edges)), tuple(sorted(faces))))
            reading.others -= faces


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
    edges = {e for f in group for e in reading.topology.edges_of(f)}
    points = np.concatenate([reading.topology.samples(e, 5) for e in sorted(edges)])
    heights = (points - skin.origin) @ skin.z
    room = 0.05 * reading.thickness
    return bool(heights.max() > room or heights.min() < -reading.thickness - room)


def _stands_square(topology: SolidTopology, face: int, sides: set[int]) -> bool:
    """On every side of the sheet that it touches."""
    for edge in topology.edges_of(face):
        other = topology.other_face(edge, face)
        if other in sides:
            points = topology.samples(edge)
            along = np.einsum("ij,ij->i", topology.outward(face, points), topology.outward(other, points))
            if np.abs(along).max() > KINK:
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
