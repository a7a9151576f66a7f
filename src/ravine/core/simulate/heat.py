"""Steady heat: temperatures of a body with some faces held at theirs, others heated or cooled by air."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy.sparse as sp
import scipy.sparse.linalg as linalg

from ..errors import EditError
from .assemble import conduction
from .elements import Floats, Ints, on_surface
from .material import Elastic
from .mesh import Mesh


@dataclass(frozen=True, eq=False)
class Warm:
    """triangles (k, 6); kind: held (amount: °C), flux (W in all, into the body) or air (amount: °C of it, film:
    W/(m² K))."""

    triangles: Ints
    kind: str
    amount: float
    film: float = 0.0


def temperatures(mesh: Mesh, materials: Sequence[Elastic], rows: Sequence[Warm]) -> Floats:
    """(n,) °C.  Raises EditError where nothing says how warm the body is."""
    if not any(r.kind in ("held", "air") for r in rows):
        raise EditError("say how warm some face is, or the air about it; else the temperature is open")
    count = len(mesh.points)
    matrix = conduction(mesh, materials).tocsr()
    right = np.zeros(count)
    held: dict[int, float] = {}
    for row in rows:
        if row.kind == "held":
            held |= dict.fromkeys(np.unique(row.triangles).tolist(), row.amount)
            continue
        _, areas, values = on_surface(mesh.points, row.triangles)
        sizes = np.linalg.norm(areas, axis=-1)
        if row.kind == "flux":
            share = 1000.0 * row.amount * sizes / sizes.sum()  # mW
            np.add.at(right, row.triangles.ravel(), np.einsum("qa,eq->ea", values, share).ravel())
        else:
            film = row.film * 1e-3  # mW/(mm² K)
            np.add.at(right, row.triangles.ravel(), np.einsum("qa,eq->ea", values, film * row.amount * sizes).ravel())
            blocks = np.einsum("eq,qa,qb->eab", film * sizes, values, values)
            index = np.broadcast_to(row.triangles[:, :, None], blocks.shape)
            matrix = matrix + sp.csr_matrix(
                (blocks.ravel(), (index.ravel(), index.transpose(0, 2, 1).ravel())), shape=matrix.shape
            )
    fixed = np.zeros(count, bool)
    fixed[list(held)] = True
    found = np.zeros(count)
    found[list(held)] = list(held.values())
    free = ~fixed
    inner = matrix[free][:, free].tocsc()
    found[free] = linalg.splu(inner, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True}).solve(
        right[free] - matrix[free][:, fixed] @ found[fixed]
    )
    return found
