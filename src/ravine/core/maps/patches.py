"""The surface of a body as small patches, each with its outward normal: what a map gives a figure for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.tessellate import deflection_of, face_mesh
from ..local.surfaces import Floats
from ..model.geometry import Geometry, Solid
from .plane_cells import SIDES, as_polygons, cut_along_lines, fan, fan_areas, plane_axes

FINE = 50  # patches along the longest side of the box, about
MOST = 60_000  # patches
SLENDER = 6.0  # narrow facets of round faces may be this much longer


@dataclass(frozen=True)
class Patches:
    """corners: (n, SIDES, 3) mm, of convex polygons, counter-clockwise from outside, the last repeated; faces: (n,) the
    face of each by its index; middles and outward unit normals: (n, 3), on the exact surface where there is one."""

    corners: Floats
    faces: NDArray[np.int64]
    middles: Floats
    normals: Floats

    @property
    def areas(self) -> Floats:
        return fan_areas(self.corners).sum(axis=1)


def flat_patches(corners: Floats, faces: NDArray[np.int64]) -> Patches:
    triangles = fan(corners)
    cross = np.cross(triangles[:, :, 1] - triangles[:, :, 0], triangles[:, :, 2] - triangles[:, :, 0])
    area = np.linalg.norm(cross, axis=2)
    whole = area.sum(axis=1, keepdims=True)
    share = np.where(whole > 0, area / np.maximum(whole, 1e-300), 1 / area.shape[1])
    middles = (triangles.mean(axis=2) * share[:, :, None]).sum(axis=1)
    return Patches(corners, faces, middles, cross.sum(axis=1) / np.maximum(whole, 1e-300))


def _exact(geometry: Solid, rough: Patches) -> Patches:
    middles, normals = rough.middles.copy(), rough.normals.copy()
    for number in np.unique(rough.faces).tolist():
        rows = np.flatnonzero(rough.faces == number)
        surface = geometry.topology.surface(number)
        off, slope = surface.distance(middles[rows])
        middles[rows] -= off[:, None] * slope
        normals[rows] = geometry.topology.sign(number) * slope
    return Patches(rough.corners, rough.faces, middles, normals)


def corner_normals(geometry: Geometry, patches: Patches) -> Floats:
    """Outward unit normals (n, SIDES, 3) at the corners of the patches, on the exact surface where there is one."""
    found = np.repeat(patches.normals[:, None], SIDES, axis=1)
    if isinstance(geometry, Solid):
        for number in np.unique(patches.faces).tolist():
            rows = np.flatnonzero(patches.faces == number)
            slope = geometry.topology.surface(number).distance(patches.corners[rows].reshape(-1, 3))[1]
            found[rows] = geometry.topology.sign(number) * slope.reshape(-1, SIDES, 3)
    return found


def view_triangles(geometry: Geometry) -> tuple[Floats, NDArray[np.int64]]:
    """As the view draws it: corners (n, 3, 3) mm and the face of each."""
    if not isinstance(geometry, Solid):
        labels = np.zeros(len(geometry.triangles), np.int64) if geometry.labels is None else geometry.labels
        return geometry.corners, labels.astype(np.int64)
    index = geometry.index
    mesh_for_view(index, deflection_of(index))
    found, faces = [np.zeros((0, 3, 3))], [np.zeros(0, np.int64)]
    for number, face in enumerate(index.all("face")):
        made = face_mesh(face)
        found.append(made.points[made.triangles])
        faces.append(np.full(len(made.triangles), number))
    return np.concatenate(found), np.concatenate(faces)


def fine_patches(geometry: Geometry) -> Patches:
    """No side longer than a fiftieth of the body; where they would become too many, the longest are cut first."""
    corners, faces = view_triangles(geometry)
    size = float(np.ptp(corners.reshape(-1, 3), axis=0).max())
    cutter = _Cutter(geometry, size)
    corners = as_polygons(corners)
    for edge in size / FINE * 2.0 ** np.arange(5, -1, -1):
        corners, faces = cutter.down_to(edge, corners, faces)
    rough = flat_patches(corners, faces)
    return _exact(geometry, rough) if isinstance(geometry, Solid) else rough


def quartered(
    geometry: Geometry, patches: Patches, some: NDArray[np.int64], size: float
) -> tuple[Patches, NDArray[np.int64]]:
    """The patches of these numbers cut in four, and the number that each piece is of.  size: of the body, mm."""
    corners, faces, of = patches.corners[some], patches.faces[some], some
    cutter = _Cutter(geometry, size)
    for _ in range(2):
        corners, rows = cutter.cut(corners, faces)
        faces, of = faces[rows], of[rows]
    rough = flat_patches(corners, faces)
    return (_exact(geometry, rough) if isinstance(geometry, Solid) else rough), of


class _Cutter:
    """Cuts patches in two: those of flat faces along a grid, triangles of all others across their longest side."""

    def __init__(self, geometry: Geometry, size: float) -> None:
        self._largest = size / FINE * 2.0**6
        if isinstance(geometry, Solid):
            surfaces = [geometry.topology.surface(f) for f in range(geometry.index.count("face"))]
            self._flat = np.array([s.kind == "plane" for s in surfaces])
            normals = np.array([s.axial.z if s.kind == "plane" else (0.0, 0.0, 1.0) for s in surfaces])
        else:
            count = 1 if geometry.labels is None else int(geometry.labels.max()) + 1
            self._flat, normals = np.zeros(count, bool), np.tile((0.0, 0.0, 1.0), (count, 1))
        self._axes = plane_axes(normals)

    def down_to(self, edge: float, corners: Floats, faces: NDArray) -> tuple[Floats, NDArray]:
        """Cut until none is longer, or until they are too many."""
        done: list[tuple[Floats, NDArray]] = []
        count = len(corners)
        while True:
            long = self._longer_than(edge, corners, faces)
            count += int(long.sum())
            if not long.any() or count > MOST:
                break
            done.append((corners[~long], faces[~long]))
            pieces, rows = self.cut(corners[long], faces[long])
            corners, faces = pieces, faces[long][rows]
        done.append((corners, faces))
        return np.concatenate([c for c, _ in done]), np.concatenate([f for _, f in done])

    def _longer_than(self, edge: float, corners: Floats, faces: NDArray) -> NDArray[np.bool_]:
        """Cells by their extents along the grid; a triangle that is narrow may be a little longer."""
        extents = np.ptp(np.einsum("nij,nkj->nik", corners, self._axes[faces]), axis=1).max(axis=1)
        ab, ac = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        area = np.linalg.norm(np.cross(ab, ac), axis=1) / 2
        longest = _sides(corners[:, :3]).max(axis=1)
        long = (longest > edge) & (area > edge**2 / 5) | (longest > SLENDER * edge)
        return np.where(self._flat[faces], extents > edge * (1 + 1e-6), long)

    def cut(self, corners: Floats, faces: NDArray) -> tuple[Floats, NDArray]:
        """The pieces, and the row that each is of."""
        along = self._flat[faces]
        cells = cut_along_lines(corners[along], self._axes[faces[along]], self._largest)
        halves = as_polygons(_halved(corners[~along, :3]))
        rows = [np.tile(np.flatnonzero(some), 2) for some in (along, ~along)]
        return np.concatenate([cells, halves]), np.concatenate(rows)


def _sides(corners: Floats) -> Floats:
    """Of triangles (n, 3, 3)."""
    return np.asarray(np.linalg.norm(np.roll(corners, -1, axis=1) - corners, axis=2))


def _halved(corners: Floats) -> Floats:
    """Each triangle in two, across its longest side."""
    at = _sides(corners).argmax(axis=1)
    rows = np.arange(len(at))
    a, b, c = (corners[rows, (at + k) % 3] for k in range(3))
    middle = (a + b) / 2
    return np.concatenate([np.stack([a, middle, c], axis=1), np.stack([middle, b, c], axis=1)])
