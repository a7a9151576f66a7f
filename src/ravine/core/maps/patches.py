"""The surface of a body as small triangles, each with its outward normal: what a map gives a figure for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..kernel.flat_mesh import mesh_for_view
from ..kernel.tessellate import deflection_of, face_mesh
from ..local.surfaces import Floats
from ..model.geometry import Geometry, Solid

FINE = 50  # triangles along the longest side of the box, about
MOST = 60_000  # triangles
SLENDER = 6.0  # narrow facets of round faces may be this much longer


@dataclass(frozen=True)
class Patches:
    """corners: (n, 3, 3) mm, counter-clockwise from outside; faces: (n,) the face of each by its index; middles and
    outward unit normals: (n, 3), on the exact surface where there is one."""

    corners: Floats
    faces: NDArray[np.int64]
    middles: Floats
    normals: Floats


def flat_patches(corners: Floats, faces: NDArray[np.int64]) -> Patches:
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = cross / np.maximum(np.linalg.norm(cross, axis=1, keepdims=True), 1e-300)
    return Patches(corners, faces, corners.mean(axis=1), normals)


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
    """Outward unit normals (n, 3, 3) at the corners of the patches, on the exact surface where there is one."""
    found = np.repeat(patches.normals[:, None], 3, axis=1)
    if isinstance(geometry, Solid):
        for number in np.unique(patches.faces).tolist():
            rows = np.flatnonzero(patches.faces == number)
            slope = geometry.topology.surface(number).distance(patches.corners[rows].reshape(-1, 3))[1]
            found[rows] = geometry.topology.sign(number) * slope.reshape(-1, 3, 3)
    return found


def view_triangles(geometry: Geometry) -> Patches:
    """As the view draws it."""
    if not isinstance(geometry, Solid):
        labels = np.zeros(len(geometry.triangles), np.int64) if geometry.labels is None else geometry.labels
        return flat_patches(geometry.corners, labels.astype(np.int64))
    index = geometry.index
    mesh_for_view(index, deflection_of(index))
    found, faces = [np.zeros((0, 3, 3))], [np.zeros(0, np.int64)]
    for number, face in enumerate(index.all("face")):
        made = face_mesh(face)
        found.append(made.points[made.triangles])
        faces.append(np.full(len(made.triangles), number))
    return flat_patches(np.concatenate(found), np.concatenate(faces))


def fine_patches(geometry: Geometry) -> Patches:
    """No side longer than a fiftieth of the body; where they would become too many, the longest are cut first."""
    start = view_triangles(geometry)
    size = float(np.ptp(start.corners.reshape(-1, 3), axis=0).max())
    corners, faces = start.corners, start.faces
    for edge in size / FINE * 2.0 ** np.arange(5, -1, -1):
        while True:
            sides = np.linalg.norm(np.roll(corners, -1, axis=1) - corners, axis=2)
            ab, ac = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
            area = np.linalg.norm(np.cross(ab, ac), axis=1) / 2
            long = (sides.max(axis=1) > edge) & (area > edge**2 / 5) | (sides.max(axis=1) > SLENDER * edge)
            if not long.any() or len(corners) + long.sum() > MOST:
                break
            corners, faces = _halved(corners, faces, sides, long)
    rough = flat_patches(corners, faces)
    return _exact(geometry, rough) if isinstance(geometry, Solid) else rough


def quartered(geometry: Geometry, patches: Patches, some: NDArray[np.bool_]) -> Patches:
    """The chosen patches cut in four, in place of themselves at the end of those that stay."""
    corners, faces = patches.corners[some], patches.faces[some]
    for _ in range(2):
        sides = np.linalg.norm(np.roll(corners, -1, axis=1) - corners, axis=2)
        corners, faces = _halved(corners, faces, sides, np.ones(len(corners), bool))
    rough = flat_patches(corners, faces)
    return _exact(geometry, rough) if isinstance(geometry, Solid) else rough


def _halved(corners: Floats, faces: NDArray, sides: Floats, long: NDArray) -> tuple[Floats, NDArray]:
    """Each long triangle in two, across its longest side."""
    at = sides[long].argmax(axis=1)
    rows = np.arange(len(at))
    a, b, c = (corners[long][rows, (at + k) % 3] for k in range(3))
    middle = (a + b) / 2
    halves = (np.stack([a, middle, c], axis=1), np.stack([middle, b, c], axis=1))
    return np.concatenate([corners[~long], *halves]), np.concatenate([faces[~long], faces[long], faces[long]])
