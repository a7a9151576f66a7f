"""Meshes cut open along the line of a section: triangles split at planes, the cut filled."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from shapely import GeometryCollection, MultiPolygon, Polygon, box

from ...local.surfaces import Floats
from ...rigid import vec_of
from ...section.rings import CutRing, Skin, filled, owners, rings_of
from ...sketch.entities import Plane
from ..projection import ViewFrame
from ..sections.legs import Strip

ON = 1e-7  # mm, within which a corner lies on a plane


@dataclass(frozen=True, eq=False)
class MeshPiece:
    """What is left of a mesh in one strip of a section, where that shows it.  points (n, 3), triangles (m, 3); caps
    (k, 3, 3): that fill the cut; loops: outlines of cut matter with their holes, mm in the view's plane; seam: which
    points lie on the sides of the strip; ragged: whether the outline of the cut does not close."""

    points: Floats
    triangles: np.ndarray
    caps: Floats
    loops: tuple[tuple[Floats, ...], ...]
    seam: np.ndarray
    ragged: bool = False


def cut_mesh(points: Floats, triangles: np.ndarray, strip: Strip, way: Floats, frame: ViewFrame) -> MeshPiece:
    """points: mm in the model, before the strip's motion; way: along the strips, as legs.line_way has it."""
    points = strip.motion.points(points)
    caps = np.zeros((0, 3, 3))
    loops: list[tuple[Floats, ...]] = []
    ragged = False
    if strip.normal is not None:
        level = way - (way @ strip.normal) * strip.normal
        level = level / np.linalg.norm(level)
        plane = Plane(vec_of(strip.point), vec_of(level), vec_of(np.cross(strip.normal, level)))
        found = rings_of(Skin(points, triangles, np.zeros(len(triangles), int)), plane)
        rings, ragged = [r for r in found if r.closed], not all(r.closed for r in found)
        caps = _placed(rings, plane)
        loops = _loops(rings, plane, strip, way, frame)
        points, triangles = clipped(points, triangles, strip.point, strip.normal)
    seam = np.zeros(len(points), dtype=bool)
    for limit, sign in ((strip.low, -1.0), (strip.high, 1.0)):
        if not math.isfinite(limit):
            continue
        at, out = frame.about + limit * way, sign * way
        points, triangles = clipped(points, triangles, at, out)
        soup = np.arange(3 * len(caps)).reshape(-1, 3)
        flat, rows = clipped(caps.reshape(-1, 3), soup, at, out)
        caps = flat[rows]
        seam = np.append(seam, np.zeros(len(points) - len(seam), dtype=bool)) | (np.abs((points - at) @ way) < ON)
    return MeshPiece(points, triangles, caps, tuple(loops), seam, ragged)


def clipped(points: Floats, triangles: np.ndarray, at: Floats, out: Floats) -> tuple[Floats, np.ndarray]:
    """Without what lies beyond a plane.  out: unit, to the side that goes.  Points keep their numbers, new ones come
    after them; neighbours share theirs."""
    height = (points - at) @ out
    height = np.where(np.abs(height) < ON, 0.0, height)
    above = height[triangles] > 0
    stays = triangles[~above.any(axis=1)]
    crossed = triangles[above.any(axis=1) & (height[triangles] < 0).any(axis=1)]
    if not len(crossed):
        return points, stays
    fresh: dict[tuple[int, int], int] = {}
    added: list[Floats] = []

    def cut(a: int, b: int) -> int:
        """The place where an edge meets the plane, the same from both sides."""
        low, high = (a, b) if a < b else (b, a)
        if (low, high) not in fresh:
            fresh[low, high] = len(points) + len(added)
            share = height[low] / (height[low] - height[high])
            added.append(points[low] + share * (points[high] - points[low]))
        return fresh[low, high]

    pieces: list[tuple[int, int, int]] = []
    for triangle in crossed.tolist():
        row: list[int] = []
        for a, b in zip(triangle, (*triangle[1:], triangle[0]), strict=True):
            if height[a] <= 0:
                row.append(a)
            if height[a] * height[b] < 0:
                row.append(cut(a, b))
        pieces += [(row[0], row[k], row[k + 1]) for k in range(1, len(row) - 1)]
    more = np.array(pieces, dtype=triangles.dtype).reshape(-1, 3)
    return np.concatenate([points, np.array(added).reshape(-1, 3)]), np.concatenate([stays, more])


def _placed(rings: list[CutRing], plane: Plane) -> Floats:
    if not rings:
        return np.zeros((0, 3, 3))
    flat = np.concatenate([r.places for r in rings])
    x, y = np.array(plane.x), np.array(plane.y)
    places = np.array(plane.origin) + flat[:, :1] * x + flat[:, 1:] * y
    return np.asarray(places[filled(rings)])


def _loops(
    rings: list[CutRing], plane: Plane, strip: Strip, way: Floats, frame: ViewFrame
) -> list[tuple[Floats, ...]]:  # fmt: skip
    """As they are seen, within the strip."""
    along = frame.way(way)
    turn = np.array([along, [-along[1], along[0]]])  # so that the strip runs upright
    x, y = np.array(plane.x), np.array(plane.y)

    def seen(ring: CutRing) -> Floats:
        flat = ring.places
        return frame.flat(np.array(plane.origin) + flat[:, :1] * x + flat[:, 1:] * y) @ turn.T

    above = owners(rings)
    low, high = (min(max(v, -1e7), 1e7) for v in (strip.low, strip.high))
    found = []
    for k, ring in enumerate(rings):
        if ring.area <= 0:
            continue
        whole = Polygon(seen(ring), [seen(r) for r, o in zip(rings, above, strict=True) if o == k])
        left = whole.buffer(0).intersection(box(low, -1e7, high, 1e7))
        parts = left.geoms if isinstance(left, (MultiPolygon, GeometryCollection)) else [left]
        for part in parts:
            if isinstance(part, Polygon) and part.area > 1e-9:
                rows = [part.exterior, *part.interiors]
                found.append(tuple(np.array(r.coords)[:-1] @ turn for r in rows))
    return found
