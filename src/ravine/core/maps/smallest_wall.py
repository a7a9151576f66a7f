"""The thinnest place of a body, without the map that shows where it is."""

from __future__ import annotations

import numpy as np

from ..model.geometry import Geometry
from .figures import Thickness
from .patches import Patches, view_triangles

PLACES = 3000  # over the body, by area
SEED = 0  # the same places each time


def smallest_wall(geometry: Geometry) -> float | None:
    """mm, straight through the matter from places spread over the surface, one in every face at least; None where
    nothing lies behind any of them.  A thin spot smaller than the distance between places may be missed."""
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
    found = Thickness(geometry)(Patches(corners[rows], faces[rows], middles, cross[rows] / area[rows, None]))
    found = found[np.isfinite(found)]
    return float(found.min()) if len(found) else None
