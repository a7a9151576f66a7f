"""The matter between an analytic face and its new place, found as cells.

The band between the old carrier and the new one is cut to what lies outside the body (or inside it, for a face that
goes in), then along the extended surfaces of the neighbours; the cells that rest on the face are the matter to add
or to take.  So nothing is asked of the topology: faces may vanish, split, break through or appear.  It needs the
neighbours to meet the face at an angle; rounds are set aside before.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import EditError
from ..kernel import build
from ..kernel.boolean import SpoiledInput, combine
from ..kernel.cells import patch, split
from ..kernel.failures import KERNEL_FAILURES
from ..kernel.properties import rough_box
from ..kernel.shapes import Shape, ShapeIndex, parts_of
from ..kernel.volumes import volume_properties
from .fabric import Fabric
from .failure import LocalFailure
from .surfaces import Floats, Surface

THINNEST = 1e-9  # mm³ of a cell that counts


@dataclass(frozen=True)
class Matter:
    """cells: solids to unite with the body or cut from it, with `volume` mm³ in all; fronts: their faces at the
    face's new place, the largest cell's first."""

    cells: list[Shape]
    fronts: list[Shape]
    volume: float


@dataclass(frozen=True)
class _Stretch:
    """How far a face reaches on its carrier: along the axis, or on a plane's x and y (mm), with a margin."""

    low: Floats
    high: Floats


def matter_between(fabric: Fabric, face: int, distance: float) -> Matter:
    """Along the outward normal, mm.  Raises LocalFailure where the carrier has no such parallel, a neighbour runs in
    tangentially, or the matter has no end; EditError when the kernel gives up."""
    old = fabric.surface(face)
    if old.kind == "spline":
        raise LocalFailure("a freeform face has no neighbours to follow here", [face])
    if fabric.neighbours(face, "smooth"):
        raise LocalFailure("a neighbour runs tangentially into it", fabric.neighbours(face, "smooth"))
    along = fabric.sign(face) * distance
    back = min(abs(distance), 0.05 * fabric.extent(face))
    start, end = old.parallel(-np.sign(along) * back), old.parallel(along)
    if end is None or start is None:
        raise LocalFailure("its radius would vanish", [face])
    edges = [e for e in fabric.edges_of(face) if fabric.meeting(e) != "degenerate"]
    points = np.concatenate([fabric.samples(e, 17) for e in edges] or [np.array(fabric.middle(face)[:1])])
    stretch = _stretch(old, points, 3 * abs(distance) + 0.02 * fabric.extent(face))
    band = _band(start, end, stretch, -_middle_way(fabric, face, old))
    matter = _joined(cells_on(fabric, face, band, outside=distance > 0))
    fronts = []
    for cell in matter:
        there = Fabric(ShapeIndex(cell))
        for i in range(there.index.count("face")):
            surface = there.surface(i)
            if surface.same(end, fabric.extent(face)):
                fronts.append(there.index.get("face", i))
            elif _at_the_end(surface, old, stretch):
                raise LocalFailure("its new place runs past all its neighbours", [face])
    if not fronts:
        raise LocalFailure("its neighbours meet before it gets there; a shorter way works", [face])
    return Matter(matter, fronts, sum(_volume(cell) for cell in matter))


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


def cells_on(fabric: Fabric, face: int, band: Shape, *, outside: bool) -> list[Shape]:
    """The parts of a solid outside (or inside) the body that rest on a face, cut off where the surfaces of its sharp
    neighbours run on; the largest first.  Raises LocalFailure when there are none, EditError when the kernel gives
    up."""
    try:
        return _cells_on(fabric, face, band, outside)
    except KERNEL_FAILURES:
        raise EditError("the geometry kernel gave up on the matter beside this face") from None


def _cells_on(fabric: Fabric, face: int, band: Shape, outside: bool) -> list[Shape]:
    matter, first = combine("subtract" if outside else "common", band, [fabric.index.shape], merge=False)
    resting = first(fabric.index.get("face", face))
    beside = [fabric.surface(f) for f in fabric.neighbours(face, "sharp")]
    reach = np.array(rough_box(band))
    patches = [spread(s, reach) for s in _distinct(beside) if s.kind != "spline"]
    pieces, second = split(matter, patches) if patches else (matter, lambda shape: [shape])
    roots = [piece for shape in resting for piece in second(shape)]
    found = []
    for cell in parts_of(pieces, "solid"):
        index = ShapeIndex(cell)
        if any(index.find("face", root) >= 0 for root in roots) and _volume(cell) > THINNEST:
            found.append(cell)
    if not found:
        raise LocalFailure("no matter lies between it and its new place", [face])
    return sorted(found, key=_volume, reverse=True)


def _volume(solid: Shape) -> float:
    return abs(volume_properties(solid).amount)


def _middle_way(fabric: Fabric, face: int, old: Surface) -> Floats:
    """From the axis to the middle of the face: the band's seam goes to the far side."""
    frame = old.axial
    way = np.array(fabric.middle(face)[0]) - frame.origin
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


def _radius(surface: Surface, frame: object, height: float) -> float:
    """Of a cylinder or cone at a height above the origin of `frame`, which has the same axis."""
    if surface.kind == "cylinder":
        return surface.radius
    own = surface.axial
    shift = float((frame.origin - own.origin) @ own.z)  # type: ignore[attr-defined]
    return surface.numbers[0] + (height + shift) * float(np.tan(surface.numbers[1]))


def _before_the_tip(pair: tuple[Surface, Surface], frame: object, low: float, high: float) -> tuple[float, float]:
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


def _distinct(surfaces: list[Surface]) -> list[Surface]:
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
