"""Which way up a part prints best: many directions scored at once.

Directions are those of the hull's faces, where a part lies flat, and evenly over the sphere (Fibonacci's spiral).
Support is estimated as the matter below what overhangs, down to the bed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from ..local.surfaces import Floats
from .machines import Machine
from .printed import Printed, laid_down, turned_down

EVENLY = 300
SAME = math.radians(4)  # of two directions that are one
BED = 0.02  # mm above the bed that still lies on it
CHUNK = 24
CLOSER = 16  # directions that are looked at more closely
CELLS = 90  # of a grid across a part


@dataclass(frozen=True)
class Orientation:
    """down: direction of the part, unit; height: mm; support: mm³; bed: mm² that lies on it; overhang: mm² that needs
    support; score: the less the better, 1 for the support of a third of the part with no height."""

    down: tuple[float, float, float]
    height: float
    support: float
    bed: float
    overhang: float
    score: float


def directions(corners: Floats, normals: Floats, areas: Floats, count: int = 500) -> Floats:
    """(n, 3): flat sides of the hull first, then even ones."""
    points = corners.reshape(-1, 3)
    try:
        hull = ConvexHull(points)
        flat = hull.equations[:, :3]
        sizes = hull_areas(hull)
    except QhullError:
        flat, sizes = normals[areas > 0], areas[areas > 0]
    found: list[Floats] = []
    for k in np.argsort(-sizes):
        if all(float(flat[k] @ d) < math.cos(SAME) for d in found):
            found.append(flat[k])
        if len(found) >= count - EVENLY:
            break
    k = np.arange(EVENLY) + 0.5
    z, turn = 1 - 2 * k / EVENLY, math.pi * (1 + 5**0.5) * k
    ring = np.sqrt(1 - z**2)
    return np.vstack([*found, np.column_stack([ring * np.cos(turn), ring * np.sin(turn), z])])


def hull_areas(hull: ConvexHull) -> Floats:
    """Of each triangle of a hull, those in one plane summed."""
    corners = hull.points[hull.simplices]
    own = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2
    keys = np.round(hull.equations / 1e-6).astype(np.int64)
    _, group = np.unique(keys, axis=0, return_inverse=True)
    return np.asarray(np.bincount(group.ravel(), own)[group.ravel()])


def orientations(
    part: Printed, machine: Machine, count: int = 5, clean: frozenset[int] = frozenset(), strong: Floats | None = None,
    tried: int = 500,
) -> list[Orientation]:  # fmt: skip
    """The best first.  part: as it lies now; clean: faces that want no support; strong: a direction (of the part) that
    layers should not lie across."""
    corners = part.back(part.corners.reshape(-1, 3)).reshape(-1, 3, 3)
    normals = part.normals @ part.turn
    ways, wanted = directions(corners, normals, part.areas, tried), np.isin(part.faces, list(clean))
    rows = _scored(corners, normals, part.areas, part.volume, machine, ways, wanted, strong)
    looked = [_looked_closer(corners, normals, r, machine, part.volume) for r in _apart(rows, CLOSER)]
    return _apart(looked, count)


def _apart(rows: list[Orientation], count: int) -> list[Orientation]:
    """The best first, none nearly the same as a better one."""
    found: list[Orientation] = []
    for one in sorted(rows, key=lambda r: r.score):
        if all(np.dot(one.down, other.down) < math.cos(4 * SAME) for other in found):
            found.append(one)
        if len(found) == count:
            break
    return found


def _looked_closer(corners: Floats, normals: Floats, one: Orientation, machine: Machine, volume: float) -> Orientation:
    """With the room below it that the part itself does not fill."""
    if not machine.overhang:
        return one
    turn = turned_down(np.array(one.down))
    limit = math.sin(math.radians(machine.overhang))
    support = room_below(corners @ turn.T, (normals @ turn.T)[:, 2], limit)
    return replace(one, support=support, score=one.score + 3 * (support - one.support) / volume)


def room_below(corners: Floats, upward: Floats, limit: float, cells: int = CELLS) -> float:
    """mm³ of empty room below undersides steeper than a limit (sine), down to what lies below or to the bed: by upright
    rays through a grid.  upward (n,): of the triangles' unit normals."""
    ends = [f(f(corners[:, 0], corners[:, 1]), corners[:, 2]) for f in (np.minimum, np.maximum)]  # of each triangle
    low = ends[0].min(axis=0)
    cell = float((ends[1].max(axis=0) - low)[:2].max()) / cells
    begin = np.ceil((ends[0][:, :2] - low[:2]) / cell - 0.5).astype(np.int64)
    count = np.maximum(np.floor((ends[1][:, :2] - low[:2]) / cell - 0.5).astype(np.int64) - begin + 1, 0)
    total = count[:, 0] * count[:, 1]
    of = np.repeat(np.arange(len(corners)), total)
    at = np.arange(len(of)) - np.repeat(np.cumsum(total) - total, total)
    x, y = begin[of, 0] + at % np.maximum(count[of, 0], 1), begin[of, 1] + at // np.maximum(count[of, 0], 1)
    a, b, c = ((corners[of, k, :2] - low[:2]) / cell - 0.5 for k in range(3))
    u, v, p = b - a, c - a, np.column_stack([x, y]) - a
    size = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        s, t = (p[:, 0] * v[:, 1] - p[:, 1] * v[:, 0]) / size, (u[:, 0] * p[:, 1] - u[:, 1] * p[:, 0]) / size
        hit = (size != 0) & (s >= 0) & (t >= 0) & (s + t <= 1)
    of, s, t, column = of[hit], s[hit], t[hit], (x * (cells + 2) + y)[hit]
    z = corners[of, 0, 2] + s * (corners[of, 1, 2] - corners[of, 0, 2]) + t * (corners[of, 2, 2] - corners[of, 0, 2])
    order = np.lexsort((z, column))
    z, column, faced = z[order] - low[2], column[order], upward[of[order]]
    before = np.where(np.concatenate([[False], column[1:] == column[:-1]]), np.concatenate([[0.0], z[:-1]]), 0.0)
    hangs = (faced < -limit) & (z > BED)
    return float(np.where(hangs, z - before, 0.0).sum() * cell**2)


def _scored(
    corners: Floats, normals: Floats, areas: Floats, volume: float, machine: Machine, ways: Floats, clean: np.ndarray,
    strong: Floats | None,
) -> list[Orientation]:  # fmt: skip
    whole = corners.reshape(-1, 3)
    try:
        points = whole[ConvexHull(whole).vertices]
    except QhullError:
        points = whole
    seen = areas > 0
    small = np.float32  # directions are compared, not measured
    middles, facing, sizes = (v[seen].astype(small) for v in (corners.mean(axis=1), normals, areas))
    wanted = clean[seen]
    limit = math.sin(math.radians(machine.overhang)) if machine.overhang else 2.0
    size = float(np.linalg.norm(np.ptp(points, axis=0)))
    found = []
    for start in range(0, len(ways), CHUNK):
        some = ways[start : start + CHUNK]
        levels = points @ some.T  # along the direction that is down
        low, high = levels.max(axis=0), levels.min(axis=0)
        faced = facing @ some.T.astype(small)
        above = low.astype(small) - middles @ some.T.astype(small)
        lies = (faced > 1 - 1e-4) & (above < BED)
        hangs = (faced > limit) & ~lies
        support = np.einsum("nk,nk,nk,n->k", hangs, faced, above, sizes, optimize=True)
        bed, overhang = sizes @ lies, sizes @ hangs
        dirty = sizes[wanted] @ hangs[wanted]
        for k, way in enumerate(some):
            height = float(low[k] - high[k])
            score = (
                3 * float(support[k]) / volume + 0.35 * height / size + 4 * float(dirty[k]) / max(areas[clean].sum(), 1)
            )
            score += 0.8 * max(0.0, 1 - float(bed[k]) / (0.02 * size**2))  # to stand on
            if strong is not None:
                score += 0.5 * abs(float(way @ strong)) / float(np.linalg.norm(strong))
            x, y, z = way.tolist()
            found.append(Orientation((x, y, z), height, float(support[k]), float(bed[k]), float(overhang[k]), score))
    return found


def laid(part: Printed, orientation: Orientation) -> Printed:
    corners = part.back(part.corners.reshape(-1, 3)).reshape(-1, 3, 3)
    return laid_down(corners, part.faces, np.array(orientation.down))
