"""Blocks of tetrahedra without a mesher: known meshes for what is computed on them."""

import itertools

import numpy as np

from ravine.core.simulate.elements import EDGES
from ravine.core.simulate.mesh import Mesh

SIDES = ((0, 2, 1), (0, 1, 3), (1, 2, 3), (0, 3, 2))


def block(size, cells, start=(0.0, 0.0, 0.0), first=0):
    """Faces are numbered from `first`: low x, high x, low y, high y, low z, high z."""
    spans = [np.linspace(0, s, n + 1) for s, n in zip(size, cells, strict=True)]
    corners = np.array(list(itertools.product(*spans))) + start
    _, ny, nz = (n + 1 for n in cells)
    tets = []
    for i, j, k in itertools.product(*map(range, cells)):
        at = [((i + a) * ny + j + b) * nz + k + c for a, b, c in itertools.product((0, 1), repeat=3)]
        for one, two, _ in itertools.permutations((4, 2, 1)):
            tet = [at[0], at[one], at[one + two], at[7]]
            sides = corners[tet[1:]] - corners[tet[0]]
            tets.append(tet if np.linalg.det(sides) > 0 else [tet[0], tet[2], tet[1], tet[3]])
    tets = np.array(tets)
    edges, number = np.unique(np.sort(tets[:, EDGES], axis=2).reshape(-1, 2), axis=0, return_inverse=True)
    points = np.vstack([corners, corners[edges].mean(axis=1)])
    middle = {tuple(e): len(corners) + k for k, e in enumerate(edges.tolist())}
    sides = {}
    for tet in tets.tolist():
        for side in SIDES:
            row = [tet[s] for s in side]
            sides.setdefault(tuple(sorted(row)), []).append(row)
    triangles, faces = [], []
    for rows in sides.values():
        if len(rows) > 1:
            continue
        a, b, c = rows[0]
        triangles.append([a, b, c, *(middle[tuple(sorted(p))] for p in ((a, b), (b, c), (c, a)))])
        here = corners[rows[0]] - start
        faces += [first + 2 * x + y for x in range(3) for y in (0, 1) if np.allclose(here[:, x], (0, size[x])[y])]
    return Mesh(points, np.hstack([tets, len(corners) + number.reshape(-1, 6)]), np.zeros(len(tets), np.int64),
                np.array(triangles), np.array(faces))  # fmt: skip


def together(*meshes):
    nodes = np.cumsum([0, *(len(m.points) for m in meshes)])[:-1]
    return Mesh(
        np.vstack([m.points for m in meshes]), np.vstack([m.tets + n for m, n in zip(meshes, nodes, strict=True)]),
        np.concatenate([np.full(len(m.tets), k) for k, m in enumerate(meshes)]),
        np.vstack([m.triangles + n for m, n in zip(meshes, nodes, strict=True)]),
        np.concatenate([m.faces for m in meshes]),
    )  # fmt: skip
