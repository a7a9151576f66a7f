"""Where a plane cuts the triangles of a body: closed outlines, each stretch knowing the face it lies in."""

from __future__ import annotations

from dataclasses import dataclass
from weakref import WeakKeyDictionary

import mapbox_earcut
import numpy as np
from numpy.typing import NDArray

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.tessellate import deflection_of, face_mesh, join_meshes
from ..local.surfaces import Floats
from ..model.geometry import Geometry, Solid
from ..model.trimesh_body import TriangleMesh
from ..sketch.entities import Plane

Ints = NDArray[np.int64]
MEET = 1e-6  # mm within which ends of stretches are one
STRAIGHT = 1e-7  # of the length: a place this near the line between its neighbours says nothing


@dataclass(frozen=True, eq=False)
class Skin:
    """points (n, 3) mm, triangles (m, 3) counter-clockwise from outside, faces (m,): the index of each one's face."""

    points: Floats
    triangles: Ints
    faces: Ints


@dataclass(frozen=True, eq=False)
class CutRing:
    """places (n, 2) mm in the plane; faces (n,): of the stretch that begins at each place; area mm², below zero for
    a hole.  Matter lies to the left, so outlines of matter run counter-clockwise and holes clockwise; an open
    one bounds no area."""

    places: Floats
    faces: Ints
    closed: bool
    area: float

    def opened(self) -> CutRing:
        """The same line, bounding nothing."""
        if not self.closed:
            return self
        round_ = [*range(len(self.places)), 0]
        return CutRing(self.places[round_], self.faces[round_], False, 0.0)


_skins: WeakKeyDictionary[Geometry, Skin] = WeakKeyDictionary()


def skin_of(geometry: Geometry) -> Skin:
    """The triangles the view draws; worked out once for each geometry."""
    found = _skins.get(geometry)
    if found is None:
        found = _skins[geometry] = _skin(geometry)
    return found


def _skin(geometry: Geometry) -> Skin:
    if isinstance(geometry, TriangleMesh):
        labels = np.zeros(len(geometry.triangles)) if geometry.labels is None else geometry.labels
        return Skin(geometry.points, geometry.triangles.astype(np.int64), labels.astype(np.int64))
    assert isinstance(geometry, Solid)
    index = geometry.index
    mesh_for_view(index, deflection_of(index))
    meshes = [face_mesh(face) for face in index.all("face")]
    points, triangles = join_meshes(meshes)
    faces = np.repeat(np.arange(len(meshes)), [len(m.triangles) for m in meshes])
    return Skin(points, triangles.astype(np.int64), faces)


def crossings(points: Floats, triangles: Ints, plane: Plane) -> tuple[Ints, Floats, Floats]:
    """Numbers of the triangles that a plane crosses, and where the crossing of each begins and ends, (n, 2) in the
    plane; the outside of a triangle that is counter-clockwise from outside lies to the right."""
    origin, x, y, z = (np.array(v) for v in (plane.origin, plane.x, plane.y, plane.normal))
    height = (points - origin) @ z
    height = np.where(np.abs(height) < 1e-9, 1e-9, height)  # a corner on the plane counts as above it
    up = height[triangles] > 0
    rows = np.flatnonzero(up.any(axis=1) & ~up.all(axis=1))
    up, triangles = up[rows], triangles[rows]
    tip_above = up.sum(axis=1) == 1
    lone = np.where(tip_above, np.argmax(up, axis=1), np.argmin(up, axis=1))
    each = np.arange(len(rows))
    tip, left, right = (triangles[each, (lone + k) % 3] for k in range(3))

    def crossing(a: Ints, b: Ints) -> Floats:
        swap = height[a] > height[b]  # always from below, so that both faces of an edge give the same place
        low, high = np.where(swap, b, a), np.where(swap, a, b)
        share = height[low] / (height[low] - height[high])
        spot = points[low] + share[:, None] * (points[high] - points[low]) - origin
        return np.column_stack([spot @ x, spot @ y])

    first, second = crossing(tip, left), crossing(tip, right)
    turned = tip_above[:, None]
    return rows, np.where(turned, first, second), np.where(turned, second, first)


def rings_of(skin: Skin, plane: Plane) -> list[CutRing]:
    """Of a skin and a plane in the same coordinates."""
    rows, start, end = crossings(skin.points, skin.triangles, plane)
    if not len(rows):
        return []
    places = np.concatenate([start, end])
    number = same_places(places)
    runs = _joined(number[: len(rows)].tolist(), number[len(rows) :].tolist())
    return _rings(runs, start, end, skin.faces[rows])


def same_places(places: Floats, meet: float = MEET) -> Ints:
    """A number for each of many places (n, 2), equal where they lie within `meet` mm."""
    grid = np.round((places - places.min(axis=0)) / meet).astype(np.int64)
    rows = int(grid[:, 1].max()) + 1
    return np.unique(grid[:, 0] * rows + grid[:, 1], return_inverse=True)[1].reshape(-1)


def _joined(start: list[int], end: list[int]) -> list[tuple[list[int], bool]]:
    """Stretches between numbered places put one after the other: their rows, and whether the last meets the first."""
    onward: dict[int, list[int]] = {}
    for row, place in enumerate(start):
        if place != end[row]:
            onward.setdefault(place, []).append(row)
    arriving = {e for s, e in zip(start, end, strict=True) if s != e}
    begins = [p for p in onward if p not in arriving]  # open runs from their beginning
    found = []
    for place in (*begins, *onward):
        while onward[place]:
            rows, here = [], place
            while left := onward.get(here):
                rows.append(left.pop())
                here = end[rows[-1]]
                if here == place:
                    break
            found.append((rows, here == place and len(rows) > 2))
    return found


def _rings(runs: list[tuple[list[int], bool]], start: Floats, end: Floats, faces: Ints) -> list[CutRing]:
    """All at once: places in the middle of straight stretches of one face say nothing and are left out."""
    if not runs:
        return []
    rows = np.array([r for run, closed in runs for r in (run if closed else [*run, run[-1]])])
    sizes = np.array([len(run) + (not closed) for run, closed in runs])
    last = np.cumsum(sizes) - 1
    first = last - sizes + 1
    closed = np.array([c for _, c in runs])
    places, marks = start[rows], faces[rows]
    places[last[~closed]] = end[rows[last[~closed]]]
    before, after = np.arange(len(rows)) - 1, np.arange(len(rows)) + 1
    before[first], after[last] = last, first
    span, step = places[after] - places[before], places - places[before]
    off = np.abs(span[:, 0] * step[:, 1] - span[:, 1] * step[:, 0])
    keep = (off > STRAIGHT * (span**2).sum(axis=1)) | (marks[before] != marks)
    keep[first[~closed]] = keep[last[~closed]] = True
    few = np.add.reduceat(keep, first) < 3
    keep |= np.repeat(few, sizes)
    x, y = places.T
    areas = np.add.reduceat(x * y[after] - y * x[after], first) / 2
    return [
        CutRing(places[a : b + 1][keep[a : b + 1]], marks[a : b + 1][keep[a : b + 1]], bool(c), float(s) if c else 0.0)
        for a, b, c, s in zip(first, last, closed, areas, strict=True)
    ]


def owners(rings: list[CutRing]) -> list[int]:
    """For each ring the number of the outline that it is a hole in; −1 for outlines and open runs."""
    outer = sorted((k for k, r in enumerate(rings) if r.area > 0), key=lambda k: rings[k].area)
    boxes = {k: (*rings[k].places.min(axis=0), *rings[k].places.max(axis=0)) for k in outer}
    found = [-1] * len(rings)
    for k, ring in enumerate(rings):
        if ring.area >= 0:
            continue
        x, y = ring.places[0]
        around = [o for o in outer if boxes[o][0] <= x <= boxes[o][2] and boxes[o][1] <= y <= boxes[o][3]]
        found[k] = next(
            (o for o in around[:-1] if inside(ring.places[0], rings[o].places)), around[-1] if around else -1
        )
    return found


def inside(place: Floats, ring: Floats) -> bool:
    """Even-odd, for a closed ring (n, 2)."""
    a, b = ring, np.roll(ring, -1, axis=0)
    across = (a[:, 1] > place[1]) != (b[:, 1] > place[1])
    a, b = a[across], b[across]
    x = a[:, 0] + (place[1] - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool((x > place[0]).sum() % 2)


def filled(rings: list[CutRing]) -> Ints:
    """Triangles (m, 3) of the matter, counted over the places of all rings one after the other."""
    starts = np.cumsum([0, *(len(r.places) for r in rings)])
    holes_in: dict[int, list[int]] = {}
    for k, owner in enumerate(owners(rings)):
        if owner >= 0:
            holes_in.setdefault(owner, []).append(k)
    found = [np.zeros((0, 3), np.int64)]
    for k, ring in enumerate(rings):
        if ring.area <= 0:
            continue
        row = [k, *holes_in.get(k, [])]
        flat = np.concatenate([rings[r].places for r in row])
        numbers = np.concatenate([starts[r] + np.arange(len(rings[r].places)) for r in row])
        ends = np.cumsum([len(rings[r].places) for r in row]).astype(np.uint32)
        found.append(numbers[mapbox_earcut.triangulate_float64(flat, ends).reshape(-1, 3).astype(np.int64)])
    return np.concatenate(found)
