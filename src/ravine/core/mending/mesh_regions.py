"""A mesh told apart into faces by its forms."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from ..local.surfaces import Surface
from ..model.trimesh_body import Form, TriangleMesh
from .facets import exact_forms
from .form_fitting import recognised
from .forms import Progress, Recognised, silent
from .mesh_borders import edge_uses

CLEAN = 0.9  # of the area on exact forms, from which a mesh is taken to be made from such
NOISE = 3e-3  # of the size: the deviation where none is given
REACHED = 3.0  # deviations that a triangle may lie off the form of its neighbours and still be theirs
ROUNDS = 60
CRUMB = 5e-4  # of the area: smaller free regions go to the neighbour they share the most edges with


@dataclass(frozen=True)
class Regions:
    """labels: the number of its region for each triangle; forms: of each region, largest first; free: share of the
    area that follows none."""

    labels: NDArray[np.int64]
    forms: tuple[Form, ...]
    free: float

    def divided(self, mesh: TriangleMesh) -> TriangleMesh:
        return mesh.divided(self.labels.astype(np.int32), self.forms)


def forms_of(mesh: TriangleMesh, deviation: float | None, progress: Progress = silent) -> list[Recognised]:
    """deviation: mm that corners may lie off; None for exact forms where nearly all corners lie on such, else 0.3 % of
    the size."""
    if deviation is None:
        exact = exact_forms(mesh, progress)
        areas = triangle_areas(mesh)
        if sum(areas[r.triangles].sum() for r in exact) >= CLEAN * areas.sum():
            return exact
    return recognised(mesh, deviation or NOISE * float(np.ptp(mesh.points, axis=0).max()))


def triangle_areas(mesh: TriangleMesh) -> NDArray[np.float64]:
    corners = mesh.corners
    return np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1) / 2


def regions_of(mesh: TriangleMesh, found: list[Recognised], deviation: float | None = None) -> Regions:
    """Each form with its triangles, and those around that nearly lie on it, in pieces that hang together."""
    count = len(mesh.triangles)
    form = np.full(count, -1)
    for number, row in enumerate(found):
        form[row.triangles] = number
    a, b, _ = edge_uses(mesh.triangles).pairs
    a, b = np.append(a, b), np.append(b, a)
    within = deviation or NOISE * float(np.ptp(mesh.points, axis=0).max())
    surfaces = [row.surface for row in found]
    _grow(mesh, form, surfaces, a, b, REACHED * within)
    areas = triangle_areas(mesh)
    _swallow(form, areas, a, b)
    same = form[a] == form[b]
    label = connected_components(coo_matrix((np.ones(int(same.sum())), (a[same], b[same])), (count, count)).tocsr(),
                                 directed=False)[1]  # fmt: skip
    sizes = np.bincount(label, areas)
    place = np.empty(len(sizes), np.int64)
    order = np.argsort(-sizes, kind="stable")
    place[order] = np.arange(len(sizes))
    label = place[label]
    first = np.zeros(len(sizes), np.int64)
    first[label[::-1]] = np.arange(count)[::-1]
    forms = tuple(Form(None) if form[t] < 0 else Form(surfaces[form[t]], found[form[t]].off) for t in first)
    return Regions(label, forms, float(areas[form < 0].sum() / areas.sum()))


def _grow(mesh: TriangleMesh, form: NDArray, surfaces: list[Surface], a: NDArray, b: NDArray, within: float) -> None:
    """Triangles beside a form go to it, where their corners lie near; the nearest first."""
    for _ in range(ROUNDS):
        open_ = (form[a] < 0) & (form[b] >= 0)
        if not open_.any():
            return
        rows = np.unique(np.column_stack([a[open_], form[b[open_]]]), axis=0)
        off = np.full(len(rows), np.inf)
        for number in np.unique(rows[:, 1]):
            mine = rows[:, 1] == number
            corners = mesh.corners[rows[mine, 0]].reshape(-1, 3)
            off[mine] = np.abs(surfaces[number].distance(corners)[0]).reshape(-1, 3).max(axis=1)
        order = np.argsort(off, kind="stable")
        order = order[off[order] < within]
        if not len(order):
            return
        triangle, first = np.unique(rows[order, 0], return_index=True)
        form[triangle] = rows[order[first], 1]


def _swallow(form: NDArray, areas: NDArray, a: NDArray, b: NDArray) -> None:
    """Free crumbs inside forms are noise."""
    free = np.flatnonzero(form < 0)
    if not len(free):
        return
    inside = (form[a] < 0) & (form[b] < 0)
    count = len(form)
    label = connected_components(coo_matrix((np.ones(int(inside.sum())), (a[inside], b[inside])),
                                            (count, count)).tocsr(), directed=False)[1]  # fmt: skip
    sizes = np.bincount(label, areas)
    small = (form < 0) & (sizes[label] < CRUMB * areas.sum())
    border = small[a] & (form[b] >= 0)
    votes = np.unique(np.column_stack([label[a[border]], form[b[border]]]), axis=0, return_counts=True)
    best: dict[int, tuple[int, int]] = {}
    for (piece, number), many in zip(votes[0].tolist(), votes[1].tolist(), strict=True):
        best[piece] = max(best.get(piece, (0, 0)), (many, number))
    for piece, (_, number) in best.items():
        form[small & (label == piece)] = number
