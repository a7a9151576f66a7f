"""In which order the bends of a flat can be made on a press brake, so that the part meets neither itself nor the punch.

Walls are taken as their middle planes.  While a bend is made, what hangs beyond it swings; the punch is a blade that
stands on the bend line between the two walls, as wide as the bend.  The order is searched from the last bend backwards
in depth, outer bends and short ones first (after the disassembly approach of Duflou et al., Computer-aided process
planning for sheet metal bending, 2005).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np
from shapely.affinity import affine_transform
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..errors import EditError
from ..local.surfaces import Floats
from ..rigid import Rigid
from .folding import bent_so_far
from .unfold import UP, BendLine, Flat

STOPS = (0.35, 0.7, 1.0)  # shares of its angle at which a bend is looked at
MOST = 40  # bends
TRIES = 400  # steps looked at
PUNCH = 120.0  # mm that the punch stands above the bend line
SPARED = 0.15  # of the thickness, to which walls may come together before they meet
LEVEL = 1e-9


@dataclass(frozen=True)
class BendStep:
    """bend: its face; walls: faces of walls that meet meanwhile, in pairs; punch: walls that meet the punch."""

    bend: int
    walls: tuple[tuple[int, int], ...] = ()
    punch: tuple[int, ...] = ()

    @property
    def free(self) -> bool:
        return not self.walls and not self.punch


@dataclass(eq=False)
class _Sheet:
    flat: Flat
    below: dict[int, set[int]] = field(default_factory=dict)  # panels that hang on a bend, itself left out
    known: dict[tuple[int, frozenset[int]], BendStep] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for face in self.flat.panels:
            at = face
            while at in self.flat.tree:
                at = self.flat.tree[at][0]
                self.below.setdefault(at, set()).add(face)
        for bend in self.flat.bends:
            self.below.setdefault(bend.face, set())
            if bend.edge is not None:
                self.below[bend.face].add(bend.face)


def bending_order(flat: Flat) -> list[BendStep]:
    """Of all bends; where no order is free of clashes, the one that was got farthest with, clashes told.  Raises
    EditError for a rolled sheet and for too many bends."""
    if len(flat.bends) > MOST:
        raise EditError(f"an order is looked for up to {MOST} bends; this sheet has {len(flat.bends)}")
    if flat.reading.panels[flat.reading.root].bend:
        raise EditError("a rolled sheet is made in no order of bends")
    sheet = _Sheet(flat)
    bends = {b.face: b for b in flat.bends}
    depth = {f: sum(f in below for below in sheet.below.values()) for f in bends}
    ranked = sorted(bends, key=lambda f: (-depth[f], bends[f].length, f))
    tries = 0
    best: list[int] = []

    def further(done: list[int]) -> bool:
        nonlocal tries, best
        if len(done) > len(best):
            best = list(done)
        if len(done) == len(ranked):
            return True
        for face in ranked:
            if face in done or tries >= TRIES:
                continue
            tries += 1
            if _step(sheet, bends[face], frozenset(done)).free and further([*done, face]):
                return True
        return False

    further([])
    order = [*best, *(f for f in ranked if f not in best)]
    return [_step(sheet, bends[f], frozenset(order[:k])) for k, f in enumerate(order)]


def _step(sheet: _Sheet, bend: BendLine, done: frozenset[int]) -> BendStep:
    key = (bend.face, done)
    if key not in sheet.known:
        sheet.known[key] = _looked_at(sheet, bend, done)
    return sheet.known[key]


def _looked_at(sheet: _Sheet, bend: BendLine, done: frozenset[int]) -> BendStep:
    flat = sheet.flat
    walls = [f for f, p in flat.reading.panels.items() if not p.bend and f in flat.panels]
    moving = [f for f in walls if f in sheet.below[bend.face]]
    still = [f for f in walls if f not in sheet.below[bend.face]]
    met: set[tuple[int, int]] = set()
    hit: set[int] = set()
    for stop in STOPS:
        _, motions, _ = bent_so_far(flat, {**dict.fromkeys(done, 1.0), bend.face: stop})
        for one in moving:
            for other in still:
                if _hang_together(flat, one, other, bend.face):
                    continue
                if _cross(flat, one, other, motions[one].inverse @ motions[other]):
                    met.add((min(one, other), max(one, other)))
        punch = _punch(flat, bend, motions, stop)
        beside = {f for f in walls if _hang_together(flat, f, bend.face, bend.face)}
        hit |= {f for f in walls if f not in beside and _patch_crosses(flat, f, motions[f].inverse, punch)}
    return BendStep(bend.face, tuple(sorted(met)), tuple(sorted(hit)))


def _hang_together(flat: Flat, one: int, other: int, bend: int) -> bool:
    """Two panels with nothing but a bend between them."""
    chain = {one, other, bend}
    return all(flat.tree.get(f, (None,))[0] in chain for f in chain if f != _topmost(flat, chain))


def _topmost(flat: Flat, faces: Iterable[int]) -> int:
    return min(faces, key=lambda f: _height(flat, f))


def _height(flat: Flat, face: int) -> int:
    count = 0
    while face in flat.tree:
        face, count = flat.tree[face][0], count + 1
    return count


def _middle(flat: Flat, face: int) -> float:
    return -flat.reading.panels[face].depth / 2


def _cross(flat: Flat, one: int, other: int, motion: Rigid) -> bool:
    """motion: of the other wall into the coordinates of the one's flat."""
    a, b = flat.panels[one].shape, flat.panels[other].shape
    normal, z = motion.turn, motion.shift + motion.turn[:, 2] * _middle(flat, other)
    slope, level = normal[2, :2], float(z[2]) - _middle(flat, one)
    t = flat.reading.thickness
    if float(np.hypot(*slope)) < LEVEL:
        if abs(level) > (1 - SPARED) * t:
            return False
        laid = affine_transform(b, [*normal[0, :2], *normal[1, :2], z[0], z[1]])
        return bool(a.buffer(-SPARED * t).intersection(laid).area > t * t)
    cut = _cut(b, slope, -level)
    if cut.is_empty:
        return False
    laid = affine_transform(cut, [*normal[0, :2], *normal[1, :2], z[0], z[1]])
    return bool(a.buffer(-SPARED * t).intersection(laid).length > SPARED * t)


def _cut(shape: BaseGeometry, slope: Floats, level: float) -> BaseGeometry:
    """The part of the line slope · p = level that lies in a shape."""
    size = float(np.hypot(*slope))
    foot, way = slope * level / size**2, np.array([-slope[1], slope[0]]) / size
    far = 2 * float(np.hypot(*np.reshape(shape.bounds, (2, 2)).T).max()) + abs(level) / size + 1.0
    return shape.intersection(LineString([foot - far * way, foot + far * way]))


@dataclass(frozen=True)
class _Blade:
    """A rectangle: corner, and its two sides, mm in the coordinates of the flat."""

    corner: Floats
    along: Floats
    up: Floats


def _punch(flat: Flat, bend: BendLine, motions: dict[int, Rigid], stop: float) -> _Blade:
    parent = flat.tree[bend.face][0]
    angle = stop * bend.angle
    sense = 1.0 if bend.direction == UP else -1.0
    a, b = (np.array([*p, 0.0]) for p in (bend.start, bend.end))
    along = b - a
    inwards = np.array([*flat.panels[bend.face].shape.centroid.coords[0], 0.0]) - a
    into = inwards - (inwards @ along) * along / (along @ along)
    size = float(np.linalg.norm(into))
    if size < 1e-6:  # the line runs through the middle of the bend
        child = next((f for f, (p, _) in flat.tree.items() if p == bend.face), parent)
        into = np.array([*flat.panels[child].shape.centroid.coords[0], 0.0]) - a
        into -= (into @ along) * along / (along @ along)
        size = float(np.linalg.norm(into)) or 1.0
    into /= size
    # on the inner side, along the bisector of the two walls: the one that stays runs against `into`
    up = sense * math.cos(angle / 2) * np.array([0.0, 0.0, 1.0]) - math.sin(angle / 2) * into
    clear = 0.5 * flat.reading.thickness if sense > 0 else -1.5 * flat.reading.thickness
    start = a + np.array([0.0, 0.0, clear])
    motion = motions[parent]
    return _Blade(motion.points(start[None])[0], motion.turn @ along, motion.turn @ (PUNCH * up))


def _patch_crosses(flat: Flat, face: int, back: Rigid, blade: _Blade) -> bool:
    """back: from the flat's coordinates to those of the wall's own flat."""
    corner, along, up = back.points(blade.corner[None])[0], back.turn @ blade.along, back.turn @ blade.up
    slope = np.array([along[2], up[2]])
    level = _middle(flat, face) - float(corner[2])
    unit = Polygon([(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)])
    if float(np.hypot(*slope)) < LEVEL:
        return False
    cut = _cut(unit, slope, level)
    if cut.is_empty:
        return False
    laid = affine_transform(cut, [along[0], up[0], along[1], up[1], corner[0], corner[1]])
    t = flat.reading.thickness
    return bool(flat.panels[face].shape.buffer(-SPARED * t).intersection(laid).length > t)
