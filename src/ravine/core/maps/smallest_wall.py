"""The thinnest place of a body, without the map that shows where it is."""

from __future__ import annotations

import numpy as np

from ..model.geometry import Geometry
from .figures import Thickness
from .patches import Patches, view_triangles

PLACES = 3000  # over the body, by area
OPPOSITE = 0.87  # cosine: what leans more than 30° towards the other side ends in an edge and is no wall
BATCH = 64
SEED = 0  # the same places each time


def smallest_wall(geometry: Geometry) -> float | None:
    """mm, straight through the matter from places spread over the surface, one in every face at least, to what
    faces them there; None where nothing does.  A thin spot smaller than the distance between places may be missed."""
    corners, faces = view_triangles(geometry)
    if not len(faces):
        return None
    cross = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    area = np.linalg.norm(cross, axis=1)
    largest = np.unique(faces[np.argsort(-area, kind="stable")], return_index=True)[1]
    draw = np.random.default_rng(SEED)
    rows = np.concatenate(
        [np.argsort(-area, kind="stable")[largest], draw.choice(len(area), PLACES, p=area / area.sum())]
    )
    rows = rows[area[rows] > 0]
    share = draw.dirichlet((1.0, 1.0, 1.0), len(rows))
    share[: len(largest)] = 1 / 3
    middles = np.einsum("nk,nkc->nc", share[: len(rows)], corners[rows])
    normals, measure = cross[rows] / area[rows, None], Thickness(geometry)
    found = measure(Patches(corners[rows], faces[rows], middles, normals))
    order = np.argsort(found)[: np.isfinite(found).sum()]
    for some in np.split(order, range(BATCH, len(order), BATCH)):
        _, behind = measure.tree.nearest(middles[some] - found[some, None] * normals[some])
        across = cross[behind] / np.maximum(area[behind, None], 1e-300)
        facing = np.einsum("nc,nc->n", across, normals[some]) < -OPPOSITE
        if facing.any():
            return float(found[some[facing.argmax()]])
    return None
