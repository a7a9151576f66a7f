"""The matter between an analytic face and its new place, found as cells.

The band between the old carrier and the new one is cut to what lies outside the body (or inside it, for a face that
goes in), then along the extended surfaces of the neighbours; the cells that rest on the face are the matter to add
or to take.  So nothing is asked of the topology: faces may vanish, split, break through or appear.  Walls that run into
one another tangentially, as around a slot, go together, with their bands cut off square to them where they touch.
Fillets are suppressed before.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.boolean import SpoiledInput, combine
from ..kernel.carriers import Frame
from ..kernel.cells import patch, split
from ..kernel.classify import FaceBounds, inner_place
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.properties import rough_box
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.volumes import volume_properties
from .failure import LocalFailure
from .fillets import fillet_of
from .surfaces import Floats, Surface
from .topology import SolidTopology

THINNEST = 1e-9  # mm³ of a cell that counts


@dataclass(frozen=True)
class SweptCells:
    """cells: solids to unite with the body or cut from it, with `volume` mm³ in all; fronts: their faces at the
    new places, the largest cell's first, each with the face that went there."""

    cells: list[Shape]
    fronts: list[tuple[int, Shape]]
    volume: float


@dataclass(frozen=True)
class _Stretch:
    """How far a face reaches on its carrier: along the axis, or on a plane's x and y (mm), with a margin."""

    low: Floats
    high: Floats


def swept_cells_between(topology: SolidTopology, face: int, distance: float, also: Sequence[int] = ()) -> SweptCells:
    """Along the outward normal, mm.  also: further faces on the same surface that go along.

    Raises LocalFailure where the carrier has no such parallel, a neighbour runs in tangentially that cannot go along,
    or the matter has no end; EditError when the kernel gives up.
    """
    cells: list[Shape] = []
    ends: dict[int, Surface] = {}
    for member in _together(topology, face):
        found, ends[member] = _cells_before(topology, member, distance, also if member == face else ())
        cells += found
    matter = _joined(sorted(cells, key=_volume, reverse=True))
    fronts = []
    for cell in matter:
        there = SolidTopology(ShapeIndex(cell))
        for i in range(there.index.count("face")):
            surface = there.surface(i)
            fronts += [
                (m, there.index.get("face", i)) for m, end in ends.items() if surface.same(end, topology.extent(m))
            ]
    if not any(member == face for member, _ in fronts):
        raise LocalFailure("its neighbours meet before it gets there; a shorter way works", [face])
    return SweptCells(matter, fronts, sum(_volume(cell) for cell in matter))


def _together(topology: SolidTopology, face: int) -> list[int]:
    """The face and those that run into it tangentially, one of each surface."""
    found, waiting = [face], [face]
    while waiting:
        here = waiting.pop()
        for beside in _beside(topology, topology.one_surface(here), "smooth"):
            if _among(topology, beside, found):
                continue
            item = fillet_of(topology, beside, half=True)
            stays = item is not None and not all(_among(topology, s, found) for s in item.supports)
            if topology.surface(beside).kind not in ("plane", "cylinder") or stays:
                raise LocalFailure("a neighbour runs tangentially into it", [beside])
            found.append(beside)
            waiting.insert(0, beside)
    return found


def _among(topology: SolidTopology, face: int, found: Iterable[int]) -> bool:
    return any(topology.surface(face).same(topology.surface(f), 1.0) for f in found)


def _beside(topology: SolidTopology, faces: Iterable[int], meeting: str) -> list[int]:
    return list(dict.fromkeys(f for face in faces for f in topology.neighbours(face, meeting)))


def _cells_before(
    topology: SolidTopology, face: int, distance: float, also: Sequence[int]
) -> tuple[list[Shape], Surface]:
    """The cells between a face and its new place, and its surface there."""
    old = topology.surface(face)
    if old.kind == "spline":
        raise LocalFailure("a freeform face has no neighbours to follow here", [face])
    along = topology.sign(face) * distance
    size = float(np.linalg.norm(np.ptp(topology.boxes[face].reshape(2, 3), axis=0)))
    back = min(abs(distance), 0.05 * size, *([0.5 * old.radius] if old.kind in ("cylinder", "sphere", "torus") else []))
    start, end = old.parallel(-np.sign(along) * back), old.parallel(along)
    if end is None or start is None:
        raise LocalFailure("its radius would vanish", [face])
    whole = sorted(topology.one_surface(face).union(*(topology.one_surface(f) for f in also)))
    edges = [e for f in whole for e in topology.edges_of(f) if topology.meeting(e) != "degenerate"]
    points = np.concatenate([topology.samples(e, 17) for e in edges] or [np.array(topology.middle(face)[:1])])
    stretch = _stretch(old, points, 3 * abs(distance) + 0.02 * size)
    band = _band(start, end, stretch, -_middle_way(topology, face, old))
    cuts = [*_square_cuts(topology, whole), *sharp_beside(topology, whole)]
    cells = cells_on(topology, whole, band, outside=distance > 0, cuts=cuts)
    for cell in cells:
        there = SolidTopology(ShapeIndex(cell))
        surfaces = (there.surface(i) for i in range(there.index.count("face")))
        if any(_at_the_end(s, old, stretch) for s in surfaces if not s.same(end, topology.extent(face))):
            raise LocalFailure("its new place runs past all its neighbours", [face])
    return cells, end


def _square_cuts(topology: SolidTopology, faces: Iterable[int]) -> list[Surface]:
    """Planes square to faces along the lines where others run into them tangentially."""
    found = []
    for face, edge in ((f, e) for f in faces for e in topology.edges_of(f)):
        if topology.meeting(edge) == "smooth":
            curve = topology.curve(edge)[0]
            if curve.kind != "line" or curve.frame is None:
                raise LocalFailure("a neighbour runs tangentially into it", [topology.other_face(edge, face)])
            place = topology.samples(edge)[1]
            found.append(Surface.plane(place, np.cross(curve.frame.z, topology.outward(face, place[None])[0])))
    return found


def _joined(cells: list[Shape]) -> list[Shape]:
    """As one: the kernel's booleans may leave one of many cells out that touch one another."""
    if len(cells) == 1:
        return cells
    try:
        whole = parts_of(combine("unite", cells[0], cells[1:])[0], "solid")
    except SpoiledInput:  # merging their faces would harm them
        return cells
    amount = sum(_volume(cell) for cell in cells)
    if abs(sum(_volume(part) for part in whole) - amount) > 1e-6 * amount:
        return cells
    return sorted(whole, key=_volume, reverse=True)


def cells_on(
    topology: SolidTopology,
    faces: Sequence[int],
    band: Shape,
    *,
    outside: bool,
    cuts: Sequence[Surface],
    each: bool = False,
) -> list[Shape]:
    """The parts of a solid outside (or inside) the body that rest on one of the faces (or on each), cut off along
    `cuts`; the largest first.  Raises LocalFailure when there are none, EditError when the kernel gives up."""
    try:
        return _cells_on(topology, faces, band, outside, cuts, each)
    except KERNEL_FAILURES:
        raise EditError("the geometry kernel gave up on the matter beside this face") from None


def sharp_beside(topology: SolidTopology, faces: Sequence[int]) -> list[Surface]:
    """The surfaces of all that meet these faces at an angle."""
    return [topology.surface(f) for f in _beside(topology, faces, "sharp")]


def _cells_on(
    topology: SolidTopology, faces: Sequence[int], band: Shape, outside: bool, cuts: Sequence[Surface], each: bool
) -> list[Shape]:
    matter, _ = combine("subtract" if outside else "common", band, [topology.index.shape], merge=False)
    reach = np.array(rough_box(band))
    patches = [spread(s, reach) for s in _distinct(cuts) if s.kind != "spline"]
    pieces = split(matter, patches)[0] if patches else matter
    found = []
    for cell in parts_of(pieces, "solid"):
        rests = (_rests_on(SolidTopology(ShapeIndex(cell)), topology, f) for f in faces)
        if _volume(cell) > THINNEST and (all(rests) if each else any(rests)):
            found.append(cell)
    if not found:
        raise LocalFailure("no matter lies between it and its new place", faces)
    return sorted(found, key=_volume, reverse=True)


def _rests_on(cell: SolidTopology, body: SolidTopology, face: int) -> bool:
    """Whether a face of the cell lies within a face of the body.  The history of a boolean does not tell it where both
    have a face in one place."""
    surface, bounds = body.surface(face), FaceBounds(body.index.get("face", face))
    for i in range(cell.index.count("face")):
        if not surface.same(cell.surface(i), body.extent(face)):
            continue
        place = inner_place(cell.index.get("face", i))
        if place is not None and bounds.inside(surface.parameters(place[None])[0]):
            return True
    return False


def _volume(solid: Shape) -> float:
    return abs(volume_properties(solid).amount)


def _middle_way(topology: SolidTopology, face: int, old: Surface) -> Floats:
    """From the axis to the middle of the face: the band's seam goes to the far side."""
    frame = old.axial
    way = np.array(topology.middle(face)[0]) - frame.origin
    way = way - (way @ frame.z) * frame.z
    size = float(np.linalg.norm(way))
    return way / size if size > 1e-9 else frame.x


def _stretch(old: Surface, points: Floats, margin: float) -> _Stretch:
    frame = old.axial
    axes = np.stack([frame.x, frame.y]) if old.kind == "plane" else frame.z[None]
    spots = (points - frame.origin) @ axes.T
    return _Stretch(spots.min(axis=0) - margin, spots.max(axis=0) + margin)


def _band(start: Surface, end: Surface, stretch: _Stretch, seam: Floats) -> Shape:
    """The solid between two parallel carriers, over the stretch of the face."""
    frame = start.axial
    if start.kind == "plane":
        corners = [start.axial.origin + u * frame.x + v * frame.y for u, v in (
            (stretch.low[0], stretch.low[1]), (stretch.high[0], stretch.low[1]),
            (stretch.high[0], stretch.high[1]), (stretch.low[0], stretch.high[1]),
        )]  # fmt: skip
        step = ((end.axial.origin - frame.origin) @ frame.z) * frame.z
        return build.extrude(build.outline([c.tolist() for c in corners]), step.tolist())
    inner, outer = sorted((start, end), key=lambda s: float(s.distance(frame.origin[None] + 1e4 * seam)[0][0]))[::-1]
    if start.kind == "sphere":
        balls = [build.sphere(s.radius, frame.origin.tolist()) for s in (outer, inner)]
        return build.subtract(*balls)
    if start.kind == "torus":
        rings = [build.torus(s.numbers[0], s.radius, frame.origin.tolist(), frame.z.tolist()) for s in (outer, inner)]
        return build.subtract(*rings)
    low, high = float(stretch.low[0]), float(stretch.high[0])
    low, high = _before_the_tip((inner, outer), frame, low, high)
    spots = [frame.origin + h * frame.z + _radius(s, frame, h) * seam
             for s, h in ((inner, low), (outer, low), (outer, high), (inner, high))]  # fmt: skip
    return build.revolve(build.outline([p.tolist() for p in spots]), frame.origin.tolist(), frame.z.tolist())


def _radius(surface: Surface, frame: Frame, height: float) -> float:
    """Of a cylinder or cone at a height above the origin of `frame`, which has the same axis."""
    if surface.kind == "cylinder":
        return surface.radius
    own = surface.axial
    shift = float((frame.origin - own.origin) @ own.z)
    return surface.numbers[0] + (height + shift) * float(np.tan(surface.numbers[1]))


def _before_the_tip(pair: tuple[Surface, Surface], frame: Frame, low: float, high: float) -> tuple[float, float]:
    """Heights between which both cones have a radius."""
    for surface in pair:
        if surface.kind == "cone":
            slope = float(np.tan(surface.numbers[1]))
            tip = -_radius(surface, frame, 0.0) / slope
            if slope > 0:
                low = max(low, tip + 1e-4)
            else:
                high = min(high, tip - 1e-4)
    if high - low < 1e-4:
        raise LocalFailure("it would shrink beyond its tip", [])
    return low, high


def _distinct(surfaces: Sequence[Surface]) -> list[Surface]:
    found: list[Surface] = []
    for surface in surfaces:
        if not any(surface.same(s, 1.0) for s in found):
            found.append(surface)
    return found


def spread(surface: Surface, reach: Floats) -> Shape:
    """A face on an analytic surface that covers all of a box (2, 3)."""
    frame = surface.axial
    corners = np.array([[reach[i, 0], reach[j, 1], reach[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
    turn = 2 * np.pi
    if surface.kind == "sphere":
        return patch(surface.kernel, (0.0, -np.pi / 2), (turn, np.pi / 2))
    if surface.kind == "torus":
        return patch(surface.kernel, (0.0, 0.0), (turn, turn))
    off = corners - frame.origin
    if surface.kind == "plane":
        u, v = off @ frame.x, off @ frame.y
        return patch(surface.kernel, (u.min() - 1, v.min() - 1), (u.max() + 1, v.max() + 1))
    low, high = float((off @ frame.z).min()) - 1, float((off @ frame.z).max()) + 1
    if surface.kind == "cone":
        low, high = _before_the_tip((surface, surface), frame, low, high)
        slant = float(np.cos(surface.numbers[1]))
        low, high = low / slant, high / slant
    return patch(surface.kernel, (0.0, low), (turn, high))


def _at_the_end(surface: Surface, old: Surface, stretch: _Stretch) -> bool:
    """Whether a face of a cell lies where the band was cut off."""
    if surface.kind != "plane" or old.kind in ("sphere", "torus"):
        return False
    frame = old.axial
    axes = (frame.x, frame.y) if old.kind == "plane" else (frame.z,)
    for axis, low, high in zip(axes, stretch.low, stretch.high, strict=True):
        if abs(float(surface.axial.z @ axis)) > 1 - 1e-12:
            at = float((surface.axial.origin - frame.origin) @ axis)
            if min(abs(at - low), abs(at - high)) < 1e-6:
                return True
    return False
