"""Whether rebuilt faces are sound and pass through nothing, looked at only where something changed.

The kernel's check of a face sees loops that cross, but not one face running through another.  Two faces that cross
have an edge of one running through the other, or a loop that lies inside both; so edges of rebuilt faces are tried
against the faces near them, and the other way round, and curved faces by lines drawn on them.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from ..kernel.check import faces_fault, whole_fault
from ..kernel.classify import FaceBounds
from ..kernel.rebuild import subshapes
from .fabric import Fabric
from .failure import LocalFailure
from .surfaces import Floats, Surface

CLEAR = 2e-5  # mm: what runs closer than this touches rather than crosses
ALIKE = 1e-4  # square of the sine between surfaces that count as running alike
PER_EDGE = 9
GRID = 7
Boxes = tuple[Floats, Floats]  # low and high corners, (n, 3) each


def check(fabric: Fabric, faces: Iterable[int]) -> None:
    """Raises LocalFailure naming the faces that cross."""
    faces = list(faces)
    for face in faces:
        if faces_fault([fabric.index.get("face", face)]):
            raise LocalFailure("faces or edges of the result would cross", [face])
    _Passage(fabric, faces).check()
    if len(subshapes(fabric.index.shape)) > 1 and whole_fault(fabric.index.shape):
        raise LocalFailure("a hollow inside would reach the outside", faces)


class _Passage:
    def __init__(self, fabric: Fabric, faces: list[int]) -> None:
        self.fabric, self.faces = fabric, faces

    def check(self) -> None:
        low, high = self.fabric.boxes[:, :3], self.fabric.boxes[:, 3:]
        touched = set(self.faces)
        for face in self.faces:
            near = np.flatnonzero((low <= high[face] - CLEAR).all(axis=1) & (high >= low[face] + CLEAR).all(axis=1))
            for other in near.tolist():
                if other == face or (other in touched and other < face):
                    continue
                if self.cross(face, other):
                    raise LocalFailure("it would run into another face of the body", [face, other])

    def cross(self, a: int, b: int) -> bool:
        shared = set(self.fabric.edges_of(a)) & set(self.fabric.edges_of(b))
        if any(self.fabric.meeting(e) in ("same", "smooth") for e in shared):
            return False
        return (
            self._runs_through(a, *self.lines(a), b)
            or self._runs_through(b, *self.lines(b), a)
            or (not shared and self._coplanar(a, b))
            or (not shared and self._loop_inside(a, b))
        )

    def lines(self, face: int) -> tuple[Floats, Boxes]:
        """(edges, PER_EDGE, 3), and their boxes."""
        found: tuple[Floats, Boxes] = self.fabric.drawn.of("lines", face, self._lines)
        return found

    def _lines(self, face: int) -> tuple[Floats, Boxes]:
        fabric = self.fabric
        rows = [fabric.samples(e, PER_EDGE) for e in fabric.edges_of(face) if fabric.curve(e)[0].kind != "none"]
        return _boxed(np.array(rows).reshape(-1, PER_EDGE, 3))

    def bounds(self, face: int) -> FaceBounds:
        found: FaceBounds = self.fabric.drawn.of("bounds", face, lambda f: FaceBounds(self.fabric.index.get("face", f)))
        return found

    def covers_any(self, face: int, points: Floats) -> bool:
        surface, bounds = self.fabric.surface(face), self.bounds(face)
        return any(bounds.inside(uv) for p in points for uv in surface.parameters(p[None]))

    def _runs_through(self, own: int, lines: Floats, boxes: Boxes, face: int) -> bool:
        """Whether one of these lines (n, k, 3) on a face's own surface passes from one side of another face to the
        other within its bounds."""
        box = self.fabric.boxes[face]
        lines = lines[((boxes[1] >= box[:3]) & (boxes[0] <= box[3:])).all(axis=1)]
        if not len(lines):
            return False
        surface = self.fabric.surface(face)
        distance = surface.distance(lines.reshape(-1, 3))[0].reshape(lines.shape[:2])
        size = np.abs(distance)
        row, at = np.nonzero((distance[:, :-1] * distance[:, 1:] < 0) & (np.minimum(size[:, :-1], size[:, 1:]) > CLEAR))
        if not len(row):
            return False
        a, b = distance[row, at][:, None], distance[row, at + 1][:, None]
        spots = lines[row, at] + a / (a - b) * (lines[row, at + 1] - lines[row, at])
        reach = np.abs(a - b).max()
        spots = spots[((spots >= box[:3] - reach) & (spots <= box[3:] + reach)).all(axis=1)]
        if not len(spots):
            return False
        for _ in range(4):
            spots = _towards_crossing(spots, surface, self.fabric.surface(own))
        near = ((spots >= box[:3] - CLEAR) & (spots <= box[3:] + CLEAR)).all(axis=1)
        return self.covers_any(face, spots[near])

    def _coplanar(self, a: int, b: int) -> bool:
        """Two plane faces that came to lie on one another."""
        here, there = self.fabric.surface(a), self.fabric.surface(b)
        if here.kind != "plane" or there.kind != "plane" or abs(here.axial.z @ there.axial.z) < 1 - 1e-12:
            return False
        if abs(float((there.axial.origin - here.axial.origin) @ here.axial.z)) > CLEAR:
            return False
        middles = ((self.lines(f)[0][:, PER_EDGE // 2], g) for f, g in ((a, b), (b, a)))
        return any(self.covers_any(g, points) for points, g in middles)

    def _loop_inside(self, a: int, b: int) -> bool:
        """Curved faces that poke through the middle of another: lines drawn on them run through it."""
        for face, other in ((a, b), (b, a)):
            if self.fabric.surface(face).kind == "plane":
                continue
            if self._runs_through(face, *self.grid(face), other):
                return True
        return False

    def grid(self, face: int) -> tuple[Floats, Boxes]:
        """Lines (n, PER_EDGE, 3) along both parameters of a curved face, as far as they lie within its bounds; and
        their boxes."""
        found: tuple[Floats, Boxes] = self.fabric.drawn.of("grid", face, self._grid)
        return found

    def _grid(self, face: int) -> tuple[Floats, Boxes]:
        u0, u1, v0, v1 = self.bounds(face).box
        surface = self.fabric.surface(face)
        share = np.linspace(0.02, 0.98, GRID)
        fine = np.linspace(0, 1, PER_EDGE)
        rows = [np.column_stack([np.full(PER_EDGE, u0 + s * (u1 - u0)), v0 + fine * (v1 - v0)]) for s in share]
        rows += [np.column_stack([u0 + fine * (u1 - u0), np.full(PER_EDGE, v0 + s * (v1 - v0))]) for s in share]
        bounds = self.bounds(face)
        kept = [r for r in rows if all(bounds.inside(uv) for uv in r[1:-1:2])]
        return _boxed(np.array([surface.points(r) for r in kept]).reshape(-1, PER_EDGE, 3))


def _towards_crossing(spots: Floats, a: Surface, b: Surface) -> Floats:
    """From a chord to where two surfaces cross (least step); where they run alike, on to the first one."""
    (off, slope), (other, across) = a.distance(spots), b.distance(spots)
    share = np.einsum("ni,ni->n", slope, across)
    square = 1 - share**2
    alike = square < ALIKE
    square = np.where(alike, 1.0, square)
    first = np.where(alike, off, (off - share * other) / square)
    second = np.where(alike, 0.0, (other - share * off) / square)
    return np.asarray(spots - first[:, None] * slope - second[:, None] * across)


def _boxed(lines: Floats) -> tuple[Floats, Boxes]:
    return lines, (lines.min(axis=1), lines.max(axis=1))
