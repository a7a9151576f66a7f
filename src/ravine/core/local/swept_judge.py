"""Whether a body is what a push should have left, asked of places, whatever way made it.

By the reading in passed_levels: places that the face sweeps, and those that the faces it became level with sweep from
there on, are matter after a push outwards and none after one inwards; places beside what was swept are as they were.
A place is swept where it lies on the same side as the face of all surfaces that bound it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from ..kernel.classify import FaceBounds, Inside, inner_place
from .fillets import fillet_of
from .passed_levels import height_over, heights_of, levels_passed
from .surfaces import Floats, Surface
from .topology import SolidTopology

GRID = 4  # places across a face
MOST = 9  # places of each region
WIDER = 0.013  # of a face, by which places lie beside it
DEPTHS = (0.31, 0.93)  # of the way from where a region joins in to the end
MOST_EDGES = 12  # of a face
MOST_BESIDE = 16  # other faces that are looked at
SKIN = 0.02  # of a face's size, by which places lie off it
CLEAR = 1e-4  # of the part's size: nearer to a bounding surface nothing is asked


@dataclass(frozen=True)
class _Region:
    """A face that goes along from a level (mm) on."""

    face: int
    level: float


def contradiction(before: SolidTopology, after: SolidTopology, distances: Mapping[int, float]) -> str | None:
    """What speaks against `after`, in words; None when nothing does.  distances: of flat or cylindrical faces by their
    number before, mm along the outward normal; others are not judged."""
    inside = Inside(after.index.shape)
    swept: list[_Swept] = []
    for face, distance in distances.items():
        height = height_over(before, face)
        if height is not None:
            swept.append(_Swept(before, face, distance))
    for one in swept:
        for place in one.places():
            if inside.holds(place) != (one.distance > 0):
                return (
                    "it would leave matter standing where the face went"
                    if one.distance < 0
                    else ("it would leave a gap where the face went")
                )
    if len(swept) == len(distances) and all(one.sharp for one in swept):
        was = Inside(before.index.shape)
        for place in _beside(before, swept):
            if was.holds(place) != inside.holds(place):
                return "it would change the body where the face did not go"
    return None


class _Swept:
    """What one face sweeps.  sharp: whether nothing runs into it smoothly, so that its bounds are exact."""

    def __init__(self, topology: SolidTopology, face: int, distance: float) -> None:
        self.topology, self.face, self.distance = topology, face, distance
        passed = levels_passed(topology, face, distance)
        own = topology.one_surface(face)
        self.regions = [_Region(f, 0.0) for f in own] + [_Region(f, level) for level, f in passed]
        self.size = float(np.linalg.norm(np.ptp(topology.boxes.reshape(-1, 2, 3), axis=(0, 1))))
        members = {r.face for r in self.regions}
        self.bounds: list[tuple[Surface, float]] = []
        self.sharp = True
        height = height_over(topology, face)
        assert height is not None
        self.height = height
        low, high = min(0.0, distance), max(0.0, distance)
        for member in members:
            for beside in topology.neighbours(member):
                if beside in members:
                    continue
                self.sharp &= beside not in topology.neighbours(member, "smooth")
                heights = heights_of(topology, beside, height)
                if heights.min() > low - 1e-6 and heights.max() < high + 1e-6:
                    continue  # it is passed, so it bounds nothing in the end
                self._bound(member, beside)

    def _bound(self, face: int, beside: int) -> None:
        topology = self.topology
        shared = [e for e in topology.edges_of(face) if topology.other_face(e, face) == beside]
        if all(topology.meeting(e) == "sharp" for e in shared):
            self.bounds.append((topology.surface(beside), 0.0))
            return
        item = fillet_of(topology, beside)
        supports = [s for s in item.supports if s != face] if item is not None else [beside]
        margin = 3 * item.radius if item is not None else self.size
        self.bounds += [(topology.surface(s), margin) for s in supports]

    def places(self) -> Iterator[Floats]:
        """Before each region, and beside it where what bounds it leans away."""
        for region in self.regions:
            spots = _spots(self.topology, region.face)
            for spot, start in [*((s, s) for s in spots), *_around(self.topology, region.face)]:
                normal = self.topology.outward(region.face, spot[None])[0]
                for depth in DEPTHS:
                    place = start + depth * (self.distance - region.level) * normal
                    if self._holds(spot, place):
                        yield place

    def _holds(self, spot: Floats, place: Floats) -> bool:
        """Whether a place lies within the same bounds as a spot on the face."""
        for surface, margin in self.bounds:
            here, there = surface.distance(np.array([spot, place]))[0]
            if here * there < 0 or min(abs(here), abs(there)) < margin + CLEAR * self.size:
                return False
        return True

    def may_reach(self, place: Floats) -> bool:
        """Whether a place is anywhere near what is swept."""
        height = float(self.height(place[None])[0])
        margin = CLEAR * self.size
        return min(0.0, self.distance) - margin < height < max(0.0, self.distance) + margin


def _spots(topology: SolidTopology, face: int) -> list[Floats]:
    """Places (3,) within a face."""
    u0, u1, v0, v1 = topology.bounds(face)
    steps = (np.arange(GRID) + 0.5) / GRID + 0.013
    rows = np.array([(u0 + s * (u1 - u0), v0 + t * (v1 - v0)) for s in steps for t in steps])
    inside = FaceBounds(topology.index.get("face", face))
    kept = [uv for uv in rows if inside.inside(uv)]
    if kept:
        pick = np.linspace(0, len(kept) - 1, min(MOST, len(kept))).astype(int)
        return list(topology.surface(face).points(np.array(kept)[pick]))
    middle = inner_place(topology.index.get("face", face))
    return [] if middle is None else [middle]


def _around(topology: SolidTopology, face: int) -> Iterator[tuple[Floats, Floats]]:
    """Places just beside the border of a flat face, each with the spot opposite on the face."""
    surface = topology.surface(face)
    if surface.kind != "plane":
        return
    inside = FaceBounds(topology.index.get("face", face))
    low, high = topology.boxes[face][:3], topology.boxes[face][3:]
    normal, off = surface.axial.z, WIDER * float(np.linalg.norm(high - low))
    for edge in topology.edges_of(face)[:MOST_EDGES]:
        row = topology.samples(edge, 9)
        for at in (2, 5):
            across = np.cross(normal, row[at + 1] - row[at - 1])
            across *= off / max(float(np.linalg.norm(across)), 1e-300)
            pair = [row[at] + across, row[at] - across]
            within = [inside.inside(uv) for uv in surface.parameters(np.array(pair))]
            if within.count(True) == 1:
                yield pair[within.index(True)], pair[within.index(False)]


def _beside(topology: SolidTopology, swept: list[_Swept]) -> Iterator[Floats]:
    """Places close to other faces, on both sides, off all that is swept."""
    members = {r.face for one in swept for r in one.regions}
    others = [f for f in range(topology.index.count("face")) if f not in members]
    for face in dict.fromkeys(others[:: max(1, len(others) // MOST_BESIDE)]):
        spot = inner_place(topology.index.get("face", face))
        if spot is None:
            continue
        low, high = topology.boxes[face][:3], topology.boxes[face][3:]
        off = SKIN * float(np.linalg.norm(high - low)) * topology.outward(face, spot[None])[0]
        for place in (spot - off, spot + off):
            if not any(one.may_reach(place) for one in swept):
                yield place
