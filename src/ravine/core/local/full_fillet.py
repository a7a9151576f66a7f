"""A full round: a strip between two neighbours becomes the round that touches all three."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kernel.classify import FaceBounds
from ..kernel.shapes import Shape, ShapeIndex
from .blend_volumes import is_hollow
from .failure import LocalFailure
from .strips import Line, Way, way_along
from .surfaces import Floats
from .swept_cells import cells_on, sharp_beside
from .topology import SolidTopology


@dataclass(frozen=True)
class FullFillet:
    """cells: solids to take from the body (or to add, in a groove); fronts: their faces on the round."""

    cells: list[Shape]
    fronts: list[Shape]
    adds: bool
    radius: float


def full_fillet(topology: SolidTopology, face: int) -> FullFillet:
    """Raises LocalFailure where the face is no strip with two neighbours along it, or the round is too large for
    them; EditError when the kernel gives up."""
    contacts, sides = _long_sides(topology, face)
    way = way_along(topology, [e for row in contacts for e in row], face)
    lines = [way.line(topology.surface(f), topology.sign(f), f) for f in (face, *sides)]
    spots = way.flat(np.array([topology.point(v) for v in topology.vertices_of(face)]).reshape(-1, 3))
    off = np.min([np.abs(spots @ line.normal - line.level) for line in lines[1:]], axis=0)
    if len(spots) and off.max() > 1e-5:
        raise LocalFailure("it is no strip of one width between two neighbours", [face])
    adds = is_hollow(topology, contacts[0][0])
    if adds != is_hollow(topology, contacts[1][0]):
        raise LocalFailure("one of its neighbours rises and the other falls, so no round touches all three", [face])
    way_in = -1.0 if not adds else 1.0
    system = np.array([[*line.normal, -way_in] for line in lines])
    if abs(float(np.linalg.det(system))) < 1e-9:
        raise LocalFailure("no round touches it and both neighbours", [face, *sides])
    x, y, radius = np.linalg.solve(system, [line.level for line in lines])
    if radius < 1e-6:
        raise LocalFailure("no round touches it and both neighbours", [face, *sides])
    centre = np.array([x, y])
    touches = [centre - way_in * radius * line.normal for line in lines]
    for side, touch in zip(sides, touches[1:], strict=True):
        _check_on(topology, side, way, touch)
    cells: list[Shape] = []
    for line, touch in zip(lines[1:], touches[1:], strict=True):
        cells += _corner(topology, face, way, lines[0], line, touches[0], touch, centre, float(radius), adds)
    fronts = [
        there.get("face", i)
        for there in map(ShapeIndex, cells)
        for i, surface in enumerate(map(SolidTopology(there).surface, range(there.count("face"))))
        if surface.kind in ("cylinder", "torus", "sphere") and abs(surface.radius - radius) < 1e-6
    ]
    return FullFillet(cells, fronts, adds, float(radius))


def _long_sides(topology: SolidTopology, face: int) -> tuple[list[list[int]], list[int]]:
    """The edges along each of the two neighbours that run the length of the strip."""
    rows: dict[int, list[int]] = {}
    for edge in topology.edges_of(face):
        if topology.meeting(edge) == "sharp":
            beside = topology.other_face(edge, face)
            key = next((f for f in rows if topology.surface(f).same(topology.surface(beside), 1.0)), beside)
            rows.setdefault(key, []).append(edge)

    def length(row: list[int]) -> float:
        return sum(float(np.linalg.norm(np.diff(topology.samples(e, 17), axis=0), axis=1).sum()) for e in row)

    longest = sorted(rows, key=lambda f: -length(rows[f]))[:2]
    if len(longest) < 2:
        raise LocalFailure("it has no two neighbours along it to round over to", [face])
    return [rows[f] for f in longest], longest


def _check_on(topology: SolidTopology, side: int, way: Way, touch: Floats) -> None:
    """The round has to end on the neighbour, not beyond it."""
    surface = topology.surface(side)
    spot = way.point(touch, 0.5 * way.length)
    bounds = FaceBounds(topology.index.get("face", side))
    uv = surface.parameters(spot[None])[0]
    tries = [uv]
    for i, period in enumerate(surface.periods):
        if period:
            tries += [t + s * period * np.eye(2)[i] for t in list(tries) for s in (-1.0, 1.0)]
    if not any(bounds.inside(t) for t in tries):
        raise LocalFailure("the round would run beyond a neighbour, which is too low for it", [side])


def _corner(
    topology: SolidTopology, face: int, way: Way, top: Line, side: Line, crest: Floats, touch: Floats, centre: Floats,
    radius: float, adds: bool,
) -> list[Shape]:  # fmt: skip
    """The matter between the strip, one neighbour and the round."""
    corner = top.meets(side)
    middle = (crest + touch) / 2 - centre
    bulge = centre + radius * middle / np.linalg.norm(middle)
    margin = 0.0 if way.closed else (0.2 if way.turning else 2 * radius)
    if way.turning and not way.closed:
        margin = min(margin, 0.45 * (2 * np.pi - way.length))
    band = way.solid([corner, crest, touch], [None, bulge, None], -margin, way.length + margin)
    return cells_on(topology, [face], band, outside=adds, cuts=sharp_beside(topology, [face]))


def is_hollow_round(topology: SolidTopology, face: int) -> bool:
    """Whether a round fills an inner corner: its axis lies outside the body."""
    return topology.sign(face) < 0
