"""The figures themselves: one for each patch of a body."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..kernel.tessellate import deflection_of
from ..local.surfaces import Floats, Surface
from ..model.geometry import Geometry, Solid
from .patches import Patches, view_triangles
from .tree import TriangleTree

STEP = 1e-5  # of a face's size, for differences
SLICE = 4000  # patches between two words of progress
GRAZE = 1e-6  # of the size, within which a ray does not count what it starts on


Told = Callable[[float], None]  # the share that is done


class Thickness:
    """mm straight inwards from the middle of each patch to where the matter ends; inf where it never does."""

    def __init__(self, geometry: Geometry) -> None:
        corners, _ = view_triangles(geometry)
        self._graze = GRAZE * float(np.ptp(corners.reshape(-1, 3), axis=0).max())
        self.tree = TriangleTree(corners)
        self._bent: list[int] = []
        if isinstance(geometry, Solid):  # the triangles of a bulging face lie inside it
            faces = range(geometry.index.count("face"))
            self._bent = [f for f in faces if geometry.topology.surface(f).kind != "plane"]
            self._inside = 2 * deflection_of(geometry.index)

    def __call__(self, patches: Patches, told: Told = lambda share: None) -> Floats:
        beyond = np.full(len(patches.faces), self._graze)
        if self._bent:
            beyond[np.isin(patches.faces, self._bent)] = self._inside

        def through(some: slice) -> Floats:
            return self.tree.first_hits(patches.middles[some], -patches.normals[some], beyond[some])

        return _by_slices(len(beyond), told, through)


def _by_slices(count: int, told: Told, work: Callable[[slice], Floats]) -> Floats:
    rows = []
    for first in range(0, count, SLICE):
        told(first / count)
        rows.append(work(slice(first, first + SLICE)))
    return np.concatenate(rows) if rows else np.zeros(0)


def draft(patches: Patches, pull: Floats) -> Floats:
    """Degrees between each patch and a pull direction: 90 for one square to it and facing it, 0 for a wall along it,
    negative for what looks away."""
    return np.degrees(np.arcsin(np.clip(patches.normals @ (pull / np.linalg.norm(pull)), -1, 1)))


class Deviation:
    """mm from the middle of each patch to the nearest of other triangles (n, 3, 3), positive outside them."""

    def __init__(self, other: Floats) -> None:
        self._other, self.tree = other, TriangleTree(other)

    def __call__(self, patches: Patches, told: Told = lambda share: None) -> Floats:
        def across(some: slice) -> Floats:
            middles = patches.middles[some]
            away, which = self.tree.nearest(middles)
            corners = self._other[which]
            normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
            side = np.einsum("ij,ij->i", middles - corners[:, 0], normals)
            return np.where(side < 0, -away, away)

        return _by_slices(len(patches.faces), told, across)


def curvature(geometry: Geometry, patches: Patches) -> Floats:
    """1/mm, the larger of the two principal curvatures by size at the middle of each patch; positive where the matter
    bulges outwards."""
    found = np.zeros(len(patches.faces))
    for number in np.unique(patches.faces).tolist():
        rows = np.flatnonzero(patches.faces == number)
        places = patches.middles[rows]
        surface = geometry.topology.surface(number) if isinstance(geometry, Solid) else geometry.surface(number)
        if surface is None:
            continue
        sign = float(np.sign((surface.distance(places)[1] * patches.normals[rows]).sum())) or 1.0
        found[rows] = sign * _larger_curvature(surface, places)
    return found


def _larger_curvature(surface: Surface, places: Floats) -> Floats:
    """How the gradient of the distance turns along the surface (differences to both sides, in two directions)."""
    off, normal = surface.distance(places)
    feet = places - off[:, None] * normal
    normal = surface.distance(feet)[1]
    x = np.cross(normal, np.eye(3)[np.abs(normal).argmin(axis=1)])
    x /= np.linalg.norm(x, axis=1, keepdims=True)
    y = np.cross(normal, x)
    step = STEP * max(float(np.ptp(places, axis=0).max()), 1.0)
    turns = [(surface.distance(feet + step * w)[1] - surface.distance(feet - step * w)[1]) / (2 * step) for w in (x, y)]
    a, d = (np.einsum("ij,ij->i", t, w) for t, w in zip(turns, (x, y), strict=True))
    b = (np.einsum("ij,ij->i", turns[0], y) + np.einsum("ij,ij->i", turns[1], x)) / 2
    middle, spread = (a + d) / 2, np.hypot((a - d) / 2, b)
    return np.where(middle >= 0, middle + spread, middle - spread)
