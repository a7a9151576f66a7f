"""Pins across a cut, so that pieces which are made apart go together again: blind holes in both, pins as parts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np
import shapely

from ..errors import CannotDo
from ..kernel.boolean import combine
from ..kernel.build import cylinder
from ..kernel.shapes import Shape
from ..kernel.volumes import volume_properties
from ..local.surfaces import Floats
from ..model.snapshot import Occurrence, Snapshot
from ..section.cut import section_plane
from ..section.rings import owners, rings_of, skin_of
from ..sketch.entities import Plane
from ..units import format_length
from .bodies import beside, new_body
from .booleans import combined
from .work import Work

WALL = 0.5  # of its diameter that is left of matter around a pin, at least
APART = 2.0  # diameters between the middles of two, at least
DEPTHS = (1.5, 1.0, 0.6)  # diameters that a pin goes into each side: the deepest that stays in the matter
PLAY = 0.2  # mm in diameter, and at each end, as printed parts need to go together by hand


def pinned(
    work: Work, snapshot: Snapshot, place: Occurrence, pieces: Iterable[int], point: Floats, normal: Floats, wide: float
) -> tuple[Snapshot, int]:
    """pieces: bodies that came of place's body by a plane (point, normal in its coordinates); wide: mm across a pin.
    Two for each area of the cut that has room for them, else one.  Raises CannotDo where there is room for none."""
    whole = work.geometry.solid(place.body.shape)
    plane = section_plane([*point.tolist(), *normal.tolist()])
    areas = list(_areas(work, place, plane))
    spots = [s for area in areas for s in _spots(area, wide)]
    found = [(s, deep) for s in spots if (deep := _deep(whole.shape, plane, s, wide)) is not None]
    if not found:
        room = max((_room(a) for a in areas), default=0.0) / (0.5 + WALL)
        raise CannotDo(
            "the cut has no room for pins as thick as that", [f"n{place.node.id}"], field="pins",
            nearest=format_length(0.9 * room, work.snapshot.units) if room > PLAY else "none",
        )  # fmt: skip
    holes = [_pin(plane, s, wide + PLAY, deep + PLAY) for s, deep in found]
    for number in pieces:
        body = snapshot.bodies[number]
        own = [h for h in holes if _meet(work.geometry.solid(body.shape).shape, h)]
        if own:
            snapshot = combined(work, snapshot, body, "subtract", own, (), "pins")
    for k, (spot, deep) in enumerate(found, 1):
        fresh, snapshot = new_body(
            work, snapshot, _pin(plane, spot, wide, deep), f"Pin {k} of {place.body.name}", place.body
        )
        for copy in work.snapshot.occurrences(place.body.id):
            snapshot = beside(snapshot, copy, fresh)
    return snapshot, len(found)


def _areas(work: Work, place: Occurrence, plane: Plane) -> Iterator[shapely.Polygon]:
    """Of matter in the plane."""
    rings = [r for r in rings_of(skin_of(work.geometry.solid(place.body.shape)), plane) if r.closed]
    around = owners(rings)
    for k, ring in enumerate(rings):
        if ring.area > 0:
            holes = [rings[n].places for n, owner in enumerate(around) if owner == k]
            yield shapely.Polygon(ring.places, holes)


def _room(area: shapely.Polygon) -> float:
    """Radius of the largest circle in it."""
    return float(shapely.maximum_inscribed_circle(area).length)


def _spots(area: shapely.Polygon, wide: float) -> list[Floats]:
    """As far apart as its border lets them be."""
    inner = area.buffer(-(0.5 + WALL) * wide)
    if inner.is_empty:
        return []
    corners = shapely.get_coordinates(inner)
    ends = corners[np.linalg.norm(corners - corners.mean(axis=0), axis=1).argmax()]
    far = corners[np.linalg.norm(corners - ends, axis=1).argmax()]
    if float(np.linalg.norm(far - ends)) >= APART * wide:
        return [ends, far]
    return [shapely.get_coordinates(shapely.maximum_inscribed_circle(area))[0]]


def _pin(plane: Plane, spot: Floats, wide: float, deep: float) -> Shape:
    """Reaching as deep on either side of the plane."""
    way = np.array(plane.normal)
    start = np.array(plane.place((float(spot[0]), float(spot[1])))) - deep * way
    return cylinder(wide / 2, 2 * deep, start.tolist(), way.tolist())


def _deep(whole: Shape, plane: Plane, spot: Floats, wide: float) -> float | None:
    """mm: so that matter is all around the hole, and at its ends."""
    for share in DEPTHS:
        grown = _pin(plane, spot, wide * (1 + WALL), share * wide + PLAY + WALL * wide / 2)
        inside = volume_properties(combine("common", whole, [grown], merge=False)[0]).amount
        if inside > (1 - 1e-6) * volume_properties(grown).amount:
            return share * wide
    return None


def _meet(body: Shape, hole: Shape) -> bool:
    return bool(volume_properties(combine("common", body, [hole], merge=False)[0]).amount > 1e-9)
