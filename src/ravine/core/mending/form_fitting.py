"""Planes, cylinders, cones and spheres in a mesh of triangles, however noisy.

From seeds where the mesh is smooth, small patches suggest forms by their normals (linear least squares); the form that
most of the triangles around follow is refined on all of their corners and taken out, until little is left.  In the
manner of R. Schnabel, R. Wahl and R. Klein, Efficient RANSAC for Point-Cloud Shape Detection, 2007.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix
from scipy.sparse.csgraph import breadth_first_order, connected_components

from ..kernel.carriers import Frame
from ..local.surfaces import Floats, Surface
from ..model.trimesh_body import TriangleMesh
from .forms import Recognised, frame_about, refined
from .mesh_borders import edge_uses

MOST_FORMS, MISSES = 60, 4
SEEDS = 6  # tried for each form
PATCH, MOST, WIDEST = 60, 250, 8000  # triangles of a first guess: at least, at most, looked at
REACH = 25  # deviations that a first guess reaches from its seed
SMOOTHED = 8  # deviations over which normals are evened out
LEANS = np.cos(0.45)  # of a triangle's smoothed normal to that of the form
LEAST_SHARE = 4e-3  # of the area that a form has to cover
LEAST = 12  # triangles
REFINED_ON = 4000  # corners
SIMPLER = {"plane": 1.0, "sphere": 0.97, "cylinder": 0.97, "cone": 0.92}  # a simpler form needs a little less


def recognised(mesh: TriangleMesh, deviation: float) -> list[Recognised]:
    """deviation: mm that corners may lie off, a few times the noise.  Largest first."""
    work = _Search(mesh, deviation)
    found: list[Recognised] = []
    misses = 0
    while len(found) < MOST_FORMS and misses < MISSES:
        best = work.best()
        if best is None:
            misses += 1
            continue
        found.append(best)
        work.left[best.triangles] = False
    return sorted(found, key=lambda r: -work.areas[r.triangles].sum())


class _Search:
    def __init__(self, mesh: TriangleMesh, deviation: float) -> None:
        self.mesh, self.deviation = mesh, deviation
        self.size = float(np.ptp(mesh.points, axis=0).max())
        corners = mesh.corners
        cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        self.areas = np.linalg.norm(cross, axis=1) / 2
        self.middles = corners.mean(axis=1)
        a, b, _ = edge_uses(mesh.triangles).pairs
        count = len(mesh.triangles)
        self.graph: csr_matrix = coo_matrix((np.ones(len(a)), (a, b)), shape=(count, count)).tocsr()
        self.graph = (self.graph + self.graph.T).tocsr()
        normals = cross
        edge = float(np.sqrt(2 * np.median(self.areas)))
        for _ in range(int(np.clip((SMOOTHED * deviation / max(edge, 1e-9)) ** 2, 3, 30))):
            normals = normals + self.graph @ normals
        self.normals = normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-30)
        around = self.graph @ self.normals
        self.smooth = np.einsum("ij,ij->i", around, self.normals) / np.maximum(self.graph.sum(axis=1).A1, 1.0)
        self.left = self.areas > 0
        self.chance = np.random.default_rng(1)

    def best(self) -> Recognised | None:
        where = np.flatnonzero(self.left)
        if self.areas[where].sum() < 0.02 * self.areas.sum() or len(where) < LEAST:
            return None
        weights = self.areas[where] * np.clip(self.smooth[where] - 0.9, 1e-6, None)
        seeds = self.chance.choice(where, min(SEEDS, len(where)), replace=False, p=weights / weights.sum())
        options: list[tuple[float, int, Surface]] = []
        for seed in seeds.tolist():
            patch = self._patch(seed)
            if len(patch) < LEAST:
                continue
            places = self.mesh.points[np.unique(self.mesh.triangles[patch])]
            for guess in guesses(self.middles[patch], self.normals[patch]):
                surface = refined(guess, places)
                if not self._believable(surface):
                    continue
                chosen = self._follows(surface)
                if len(chosen) >= LEAST:
                    area = self.areas[self._connected(chosen, seed)].sum()
                    options.append((float(area) * SIMPLER[surface.kind], seed, surface))
        for _, seed, surface in sorted(options, key=lambda o: -o[0])[:6]:
            found = self._settled(surface, seed)
            if found is not None:
                return found
        return None

    def _believable(self, surface: Surface) -> bool:
        """No cone that is nearly a cylinder or a plane, nothing so large that it is a plane."""
        if surface.kind == "cone" and not 0.03 < abs(surface.numbers[1]) < 1.45:
            return False
        return surface.kind == "plane" or surface.numbers[0] < 5 * self.size

    def _patch(self, seed: int) -> NDArray[np.int64]:
        """The neighbourhood, so wide that the form shows through the noise; some of its triangles where it has many."""
        order = breadth_first_order(self.graph, seed, return_predecessors=False)[:WIDEST]
        near = np.linalg.norm(self.middles[order] - self.middles[seed], axis=1) < REACH * self.deviation
        near[:PATCH] = True
        order = order[near & self.left[order]]
        return order if len(order) <= MOST else self.chance.choice(order, MOST, replace=False)

    def _follows(self, surface: Surface) -> NDArray[np.int64]:
        """Numbers of the triangles that are left and lie on a form."""
        where = np.flatnonzero(self.left)
        off, slope = surface.distance(self.middles[where])
        turn = np.abs(np.einsum("ij,ij->i", slope, self.normals[where]))
        return where[(np.abs(off) < self.deviation) & (turn > LEANS)]

    def _connected(self, chosen: NDArray[np.int64], seed: int) -> NDArray[np.int64]:
        """The part of them that hangs together with the seed, over up to one missing triangle; else the largest."""
        near = np.zeros(len(self.left))
        near[chosen] = 1
        wide = np.flatnonzero((self.graph @ near + near > 0) & self.left)
        label = connected_components(self.graph[wide][:, wide], directed=False)[1]
        at = np.flatnonzero(wide == seed)
        group = label[at[0]] if len(at) else int(np.bincount(label).argmax())
        return np.intersect1d(wide[label == group], chosen)

    def _settled(self, surface: Surface, seed: int) -> Recognised | None:
        for _ in range(3):
            chosen = self._follows(surface)
            if len(chosen) < LEAST:
                return None
            chosen = self._connected(chosen, seed)
            if len(chosen) < LEAST or self.areas[chosen].sum() < LEAST_SHARE * self.areas.sum():
                return None
            places = self.mesh.points[np.unique(self.mesh.triangles[chosen])]
            if len(places) > REFINED_ON:
                places = places[self.chance.choice(len(places), REFINED_ON, replace=False)]
            surface = _simplest(refined(surface, places), places)
        off = surface.distance(self.mesh.points[np.unique(self.mesh.triangles[chosen])])[0]
        mean = float(np.sqrt(np.mean(off**2)))
        return Recognised(surface, chosen, mean) if mean < 0.6 * self.deviation else None


def _simplest(surface: Surface, places: Floats) -> Surface:
    """A plane or a cylinder where that fits as well as the form with more numbers does."""
    others = [Surface.plane(places.mean(axis=0), np.array([0.0, 0, 1]))] if surface.kind != "plane" else []
    if surface.kind == "cone":
        others.append(Surface("cylinder", surface.axial, surface.numbers[:1]))
    off = float(np.mean(surface.distance(places)[0] ** 2))
    for other in others:
        plain = refined(other, places)
        if float(np.mean(plain.distance(places)[0] ** 2)) < 1.2 * off:
            return plain
    return surface


def guesses(places: Floats, normals: Floats) -> Iterator[Surface]:
    """Forms that a patch suggests."""
    middle = places.mean(axis=0)
    mean = normals.mean(axis=0)
    yield Surface.plane(middle, mean if np.linalg.norm(mean) > 1e-6 else normals[0])
    rows = places - middle
    # a ball: every place stands r along its normal from the centre
    matrix = np.column_stack([np.tile(np.eye(3), (len(rows), 1)), normals.reshape(-1)])
    found = np.linalg.lstsq(matrix, rows.reshape(-1), rcond=None)[0]
    if 1e-6 < abs(found[3]) < 1e4:
        yield Surface("sphere", Frame(middle + found[:3], *np.eye(3)), (abs(float(found[3])),))
    _, axes = np.linalg.eigh(normals.T @ normals)
    yield from _tube(axes[:, 0], middle, rows, normals)
    _, axes = np.linalg.eigh(np.cov(normals.T))
    axis = axes[:, 0]
    lean = float(np.mean(normals @ axis))
    if abs(lean) > 0.03 and abs(lean) < 0.97:
        apex = np.linalg.lstsq(normals, np.einsum("ij,ij->i", normals, rows), rcond=None)[0]
        axis = axis if float(np.mean((rows - apex) @ axis)) > 0 else -axis
        away = rows - apex
        height = away @ axis
        size = np.linalg.norm(away - height[:, None] * axis, axis=1)
        angle = float(np.arctan2(np.median(size), np.median(height)))
        if 0.03 < angle < 1.5 and float(np.median(height)) > 1e-6:
            reach = float(np.median(height))
            yield Surface(
                "cone", frame_about(middle + apex + reach * axis, axis), (reach * float(np.tan(angle)), angle)
            )


def _tube(axis: Floats, middle: Floats, rows: Floats, normals: Floats) -> Iterator[Surface]:
    frame = frame_about(middle, axis)
    flat = np.column_stack([rows @ frame.x, rows @ frame.y])
    turned = np.column_stack([normals @ frame.x, normals @ frame.y])
    matrix = np.column_stack([np.tile(np.eye(2), (len(flat), 1)), turned.reshape(-1)])
    found = np.linalg.lstsq(matrix, flat.reshape(-1), rcond=None)[0]
    if 1e-6 < abs(found[2]) < 1e4:
        yield Surface("cylinder", frame_about(middle + found[0] * frame.x + found[1] * frame.y, axis),
                      (abs(float(found[2])),))  # fmt: skip
