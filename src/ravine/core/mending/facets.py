"""Planes, cylinders, cones, spheres and tori in a mesh whose corners lie on the form it was made from.

That is how a mesh comes from a program and not from a scanner: few triangles, some of them long, but every corner
exact.  Triangles of one plane are flats; narrow flats that follow one another at small angles are the facets of a
curved form.  Its axis comes from the lines along the corners' normals, which all meet it (H. Pottmann and T. Randrup,
Rotational and Helical Surface Approximation for Reverse Engineering, 1998); a form grows as long as corners fit.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix
from scipy.sparse.csgraph import connected_components

from ..local.surfaces import Floats, Surface
from ..model.trimesh_body import TriangleMesh
from .forms import Progress, Recognised, frame_about, refined, silent
from .mesh_borders import edge_uses

Ints = NDArray[np.int64]

EXACT = 3e-6  # of the size that corners may lie off their form: single precision, and a little
ONE_PLANE = 1e-4  # rad between triangles of one flat whose corners say too little
BEND = np.radians(47)  # between facets of one curved form, at most
FEW = 3  # facets of a curved form at least
PATCH = 7  # facets of a first guess, with which it is tried again where the smallest was misleading
SAGS = 6.0
MISSES, ROUGH = 40, 0.9  # seeds without a form, with this share of the area left, before a mesh is given up
NEAR = 0.03  # of a patch's size, within which a guess is worth refining
MOST = 600  # corners a form is refined on
LARGE = 3e-3  # of the area, from which a flat that only bends into others is a plane of its own


def exact_forms(mesh: TriangleMesh, progress: Progress = silent) -> list[Recognised]:
    """Largest first."""
    return _Facets(mesh, progress).forms()


class _Facets:
    def __init__(self, mesh: TriangleMesh, progress: Progress) -> None:
        self.mesh, self.progress = mesh, progress
        self.size = float(np.ptp(mesh.points, axis=0).max())
        self.level = EXACT * self.size
        corners = mesh.corners
        cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        self.areas = np.linalg.norm(cross, axis=1) / 2
        unit = cross / np.maximum(2 * self.areas, 1e-300)[:, None]
        a, b, _ = edge_uses(mesh.triangles).pairs
        self.pairs = a, b
        # thin triangles say little about their plane, so the corner across must lie in it, too
        rise = np.maximum(_rise(corners, unit, a, b), _rise(corners, unit, b, a))
        angle = np.arccos(np.clip(np.einsum("ij,ij->i", unit[a], unit[b]), -1, 1))
        flat = (rise < self.level) & ((angle < 0.02) | (np.minimum(self.areas[a], self.areas[b]) < self.level**2))
        flat |= angle < ONE_PLANE
        count = len(mesh.triangles)
        self.flat_of = connected_components(_graph(a[flat], b[flat], count), directed=False)[1]
        self.count = int(self.flat_of.max()) + 1
        order = np.argsort(self.flat_of, kind="stable")
        self.order, self.starts = order, np.append(0, np.cumsum(np.bincount(self.flat_of)))
        self.flat_area = np.bincount(self.flat_of, self.areas)
        normals = np.column_stack([np.bincount(self.flat_of, cross[:, k]) for k in range(3)])
        self.normals = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
        middles = corners.mean(axis=1) * self.areas[:, None]
        rows = np.column_stack([np.bincount(self.flat_of, middles[:, k]) for k in range(3)])
        self.middles = rows / np.maximum(self.flat_area, 1e-300)[:, None]
        ends = self.flat_of[a], self.flat_of[b]
        apart = ends[0] != ends[1]
        lean = np.einsum("ij,ij->i", self.normals[ends[0]], self.normals[ends[1]])
        bent = apart & (lean > np.cos(BEND))
        self.bends = _graph(ends[0][bent], ends[1][bent], self.count)
        creases = apart & ~bent
        self.sharp = np.zeros(self.count, bool)
        for row in ends:
            self.sharp[row[creases]] = True
        self.left = np.ones(self.count, bool)

    def forms(self) -> list[Recognised]:
        found = self._joined(list(self._curved()))
        total = self.areas.sum()
        for flat in np.flatnonzero(self.left):
            bends = self.bends.indptr[flat + 1] - self.bends.indptr[flat]
            if bends and self.flat_area[flat] < LARGE * total and not self.sharp[flat]:
                continue
            if bends and self.starts[flat + 1] - self.starts[flat] < 2 and self.flat_area[flat] < LARGE * total:
                continue
            places = self._places(np.array([flat]))
            surface = refined(Surface.plane(places.mean(axis=0), self.normals[flat]), places)
            found.append(Recognised(surface, self._members(flat), self._off(surface, places)))
        return sorted(found, key=lambda r: -self.areas[r.triangles].sum())

    def _joined(self, found: list[Recognised]) -> list[Recognised]:
        """Small forms that lie on a larger one beside them are part of it."""
        owner = np.full(len(self.areas), -1)
        rows = sorted(found, key=lambda r: -len(r.triangles))
        for number, row in enumerate(rows):
            owner[row.triangles] = number
        a, b = self.pairs
        changed = True
        while changed:
            changed = False
            for number in range(len(rows) - 1, 0, -1):
                mine = owner == number
                sides = np.append(owner[b[mine[a]]], owner[a[mine[b]]])
                for larger in np.unique(sides[(sides >= 0) & (sides < number)]).tolist():
                    places = self.mesh.points[np.unique(self.mesh.triangles[mine])]
                    if np.abs(rows[larger].surface.distance(places)[0]).max() < 3 * self.level:
                        owner[mine] = larger
                        changed = True
                        break
        return [
            Recognised(row.surface, np.flatnonzero(owner == n), row.off)
            for n, row in enumerate(rows)
            if (owner == n).any()
        ]

    # --- curved forms ----------------------------------------------------------------------------------------------

    def _curved(self) -> Iterator[Recognised]:
        degree = np.diff(self.bends.indptr)
        seeds = np.flatnonzero(degree >= 1)
        tried = np.zeros(self.count, bool)
        misses = 0
        for seed in seeds[np.argsort(self.flat_area[seeds], kind="stable")].tolist():
            if tried[seed] or not self.left[seed]:
                continue
            self.progress(1 - self.left.mean(), "following forms")
            tried[seed] = True
            found = self._largest(seed)
            if found is None:
                tried[self._beside(np.array([seed]))] = True
                misses += 1
                if misses > MISSES and self.flat_area[self.left].sum() > ROUGH * self.flat_area.sum():
                    return  # a scan: no form will be exact
                continue
            grown, surface = found
            better = refined(surface, self._some(grown))
            if self._fits(better, self._some(grown)):
                surface = better
                grown = self._grown(surface, seed, self._sag(surface, grown))
            surface = self._simpler(surface, grown)
            self.left[grown] = False
            yield Recognised(surface, np.sort(self._gathered(grown)[0]), self._off(surface, self._places(grown)))

    def _largest(self, seed: int) -> tuple[Ints, Surface] | None:
        """What grows farthest from a facet; a simpler form, tried earlier, needs a little less."""
        best: tuple[float, Ints, Surface] | None = None
        for patch in self._patches(seed):
            for surface in self._guesses(patch):
                grown = self._grown(surface, seed, self._sag(surface, patch))
                area = float(self.flat_area[grown].sum())
                if len(grown) < FEW or (best and area < 1.02 * best[0]):
                    continue
                best = area, grown, surface
                if np.isin(self._beside(grown), grown).all():
                    return grown, surface  # nothing else bends into it
        return best and best[1:]

    def _simpler(self, surface: Surface, grown: Ints) -> Surface:
        """One row of facets between two circles also lies on a sphere, and on many a torus."""
        if surface.kind in ("sphere", "torus"):
            places = self._some(grown)
            for other in self._guesses(grown[:: len(grown) // MOST + 1]):
                if other.kind in ("cylinder", "cone"):
                    plain = refined(other, places)
                    if self._fits(plain, places):
                        return plain
        return surface

    def _some(self, flats: Ints) -> Floats:
        places = self._places(flats)
        return places[:: len(places) // MOST + 1]

    def _members(self, flat: np.integer) -> Ints:
        return self.order[self.starts[flat] : self.starts[flat + 1]]

    def _beside(self, flats: Ints) -> Ints:
        """Flats left that these bend into, some of them twice."""
        rows = self.bends[flats].indices
        return rows[self.left[rows]]

    def _patches(self, seed: int) -> Iterator[Ints]:
        """The seed with a few neighbours, nearest in size first; then wider around, since one row of facets of a ring
        is also one of a cone."""
        beside = self._beside(np.array([seed]))
        beside = beside[np.argsort(np.abs(np.log(self.flat_area[beside] / self.flat_area[seed])), kind="stable")]
        for count in (1, 2, 3):
            if len(beside) >= count:
                yield np.append(seed, beside[:count])
        around = np.array([seed])
        for size in (PATCH, 4 * PATCH):
            while len(around) < size:
                wider = np.unique(np.append(around, self._beside(around)))
                if len(wider) == len(around):
                    break
                around = wider
            if len(around) > FEW + 1:
                yield around

    def _places(self, flats: Ints) -> Floats:
        return self.mesh.points[np.unique(self.mesh.triangles[self._gathered(flats)[0]])]

    def _guesses(self, patch: Ints) -> list[Surface]:
        """Simple forms that a patch lies on, or else the torus."""
        places, normals = self._places(patch), self.normals[patch]
        _, sizes, axes = np.linalg.svd(normals - normals.mean(axis=0))
        found = [_tube(places, axes[2] if len(patch) > 2 else np.cross(normals[0], normals[1]))]
        if len(patch) >= FEW:
            if sizes[-1] < 0.2:  # the normals of a cone end on a circle
                corners = self.mesh.points[self.mesh.triangles[self.order[self.starts[patch]], 0]]
                apex = np.linalg.lstsq(normals, np.einsum("ij,ij->i", normals, corners), rcond=None)[0]
                found.append(_cone(places, apex, axes[2]))
            found.append(_ball(places))
        fitting = [s for guess in found if guess is not None and (s := self._settled(guess, places))]
        if not fitting and len(patch) > FEW + 1 and (ring := self._ring(patch, places)):
            fitting.append(ring)
        return fitting

    def _settled(self, guess: Surface, places: Floats) -> Surface | None:
        """A guess refined where it is near: facets with corners at odds around say little about their form's axis."""
        if self._fits(guess, places):
            return guess
        if len(places) < 7 or np.abs(guess.distance(places)[0]).max() > NEAR * np.ptp(places, axis=0).max():
            return None
        better = refined(guess, places)
        return better if self._fits(better, places) else None

    def _ring(self, patch: Ints, places: Floats) -> Surface | None:
        """A torus by its axis, which all normals meet."""
        spots, rows = self.middles[patch], self.normals[patch]
        origin, scale = places.mean(axis=0), max(float(np.ptp(places, axis=0).max()), 1e-9)
        spots = (spots - origin) / scale
        matrix = np.column_stack([np.cross(spots, rows), rows])
        best: tuple[float, Surface] | None = None
        for complex_ in np.linalg.svd(matrix)[2][-2:]:
            axis, moment = complex_[:3], complex_[3:]
            size = float(np.linalg.norm(axis))
            if size < 1e-3:
                continue
            axis, moment = axis / size, moment / size
            foot = origin + scale * np.cross(axis, moment - (moment @ axis) * axis)
            for surface in _rings(places, foot, axis):
                off = float(np.sqrt(np.mean(surface.distance(places)[0] ** 2)))
                if best is None or off < best[0]:
                    best = off, surface
        return best and self._settled(best[1], places)

    # --- growing ---------------------------------------------------------------------------------------------------

    def _fits(self, surface: Surface, places: Floats) -> bool:
        if surface.numbers and max(abs(n) for n in surface.numbers) > 20 * self.size:
            return False
        return bool(np.abs(surface.distance(places)[0]).max() < self.level)

    def _takes(self, surface: Surface, flats: Ints, sag: float) -> NDArray[np.bool_]:
        """Which of some flats lie on a form: all their corners, and turned as it is there."""
        triangles, owner = self._gathered(flats)
        corners = self.mesh.corners[triangles].reshape(-1, 3)
        off, slope = surface.distance(corners)
        owner = np.repeat(owner, 3)
        turn = np.abs(np.einsum("ij,ij->i", slope, self.normals[flats][owner]))
        bad = (np.abs(off) > self.level) | (turn < np.cos(BEND))
        near = np.abs(surface.distance(self.middles[flats])[0]) < sag
        return near & (np.bincount(owner[bad], minlength=len(flats)) == 0)

    def _gathered(self, flats: Ints) -> tuple[Ints, Ints]:
        """Triangles of some flats, and for each the place of its flat among them."""
        sizes = self.starts[flats + 1] - self.starts[flats]
        owner = np.repeat(np.arange(len(flats)), sizes)
        within = np.arange(len(owner)) - np.repeat(np.cumsum(sizes) - sizes, sizes)
        return self.order[self.starts[flats][owner] + within], owner

    def _sag(self, surface: Surface, flats: Ints) -> float:
        """How far the middle of a facet may stand off its form: not much farther than these do.  A plane whose corners
        all happen to lie on a ring stands off in its middle."""
        return SAGS * float(np.median(np.abs(surface.distance(self.middles[flats])[0]))) + self.level

    def _grown(self, surface: Surface, seed: int, sag: float) -> Ints:
        """All facets around the seed that lie on a form."""
        known = ~self.left
        known[seed] = True
        rings = [np.array([seed])]
        while len(rings[-1]):
            beside = np.unique(self._beside(rings[-1]))
            beside = beside[~known[beside]]
            known[beside] = True
            rings.append(beside[self._takes(surface, beside, sag)] if len(beside) else beside)
        return np.concatenate(rings)

    def _off(self, surface: Surface, places: Floats) -> float:
        return float(np.sqrt(np.mean(surface.distance(places)[0] ** 2)))


def _graph(a: Ints, b: Ints, count: int) -> csr_matrix:
    half = coo_matrix((np.ones(len(a), np.int8), (a, b)), shape=(count, count))
    return ((half + half.T) > 0).tocsr()


def _rise(corners: Floats, unit: Floats, a: Ints, b: Ints) -> Floats:
    """How far a triangle's corners stand out of another's plane."""
    return np.abs(np.einsum("ijk,ik->ij", corners[a] - corners[b][:, :1], unit[b])).max(axis=1)


def _circle(flat: Floats) -> tuple[Floats, float] | None:
    """Through places (n, 2) by linear least squares (I. Kåsa, 1976)."""
    middle = flat.mean(axis=0)
    rows = flat - middle
    found, _, rank, _ = np.linalg.lstsq(np.column_stack([2 * rows, np.ones(len(rows))]), (rows**2).sum(axis=1),
                                        rcond=1e-9)  # fmt: skip
    square = float(found[2] + found[:2] @ found[:2])
    return (middle + found[:2], float(np.sqrt(square))) if rank == 3 and square > 0 else None


def _tube(places: Floats, axis: Floats) -> Surface | None:
    if np.linalg.norm(axis) < 1e-6:
        return None
    frame = frame_about(places.mean(axis=0), axis)
    rows = places - frame.origin
    found = _circle(np.column_stack([rows @ frame.x, rows @ frame.y]))
    if found is None:
        return None
    (u, v), radius = found
    return Surface("cylinder", frame_about(frame.origin + u * frame.x + v * frame.y, axis), (radius,))


def _ball(places: Floats) -> Surface | None:
    middle = places.mean(axis=0)
    rows = places - middle
    found, _, rank, _ = np.linalg.lstsq(np.column_stack([2 * rows, np.ones(len(rows))]), (rows**2).sum(axis=1),
                                        rcond=1e-9)  # fmt: skip
    square = float(found[3] + found[:3] @ found[:3])
    if rank < 4 or square <= 0:
        return None
    return Surface("sphere", frame_about(middle + found[:3], np.array([0.0, 0, 1])), (float(np.sqrt(square)),))


def _cone(places: Floats, apex: Floats, axis: Floats) -> Surface | None:
    away = places - apex
    axis = axis if float((away @ axis).mean()) > 0 else -axis
    height = away @ axis
    size = np.linalg.norm(away - height[:, None] * axis, axis=1)
    if height.min() <= -1e-6 * max(float(height.max()), 1e-9) or height.max() <= 0:
        return None
    angle = float(np.arctan2(size.sum(), height.sum()))
    if not 0.01 < angle < 1.56:
        return None
    reach = float(height.max())
    return Surface("cone", frame_about(apex + reach * axis, axis), (reach * float(np.tan(angle)), angle))


def _rings(places: Floats, foot: Floats, axis: Floats) -> Iterator[Surface]:
    rows = places - foot
    height = rows @ axis
    size = np.linalg.norm(rows - height[:, None] * axis, axis=1)
    found = _circle(np.column_stack([size, height]))
    if found is not None and found[0][0] > 1e-9:
        (major, rise), minor = found
        yield Surface("torus", frame_about(foot + rise * axis, axis), (float(major), minor))
