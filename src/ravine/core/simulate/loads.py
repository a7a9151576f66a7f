"""Loads as forces at nodes (n, 3), N: integrated over the surface, since even traction leaves nothing at corners."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from .elements import ELEVEN, ELEVEN_WEIGHTS, FOUR, FOUR_WEIGHTS, Floats, Ints, gradients, on_surface, shapes
from .material import Elastic
from .mesh import Mesh


def _summed(nodes: int, triangles: Ints, values: Floats, rows: Floats) -> Floats:
    """rows (e, q, k) at quadrature points to nodes (n, k)."""
    each = np.einsum("qa,eqk->eak", values, rows)
    found = np.zeros((nodes, rows.shape[-1]))
    np.add.at(found, triangles.ravel(), each.reshape(-1, rows.shape[-1]))
    return found


def area_of(mesh: Mesh, triangles: Ints) -> float:
    """mm²."""
    _, areas, _ = on_surface(mesh.points, triangles)
    return float(np.linalg.norm(areas, axis=-1).sum())


def force(mesh: Mesh, triangles: Ints, total: Sequence[float]) -> Floats:
    """total: N, spread evenly."""
    _, areas, values = on_surface(mesh.points, triangles)
    sizes = np.linalg.norm(areas, axis=-1)
    return _summed(len(mesh.points), triangles, values, sizes[..., None] * np.asarray(total, float) / sizes.sum())


def pressure(mesh: Mesh, triangles: Ints, amount: float) -> Floats:
    """amount: MPa, against the surface."""
    _, areas, values = on_surface(mesh.points, triangles)
    return _summed(len(mesh.points), triangles, values, -amount * areas)


def moment(mesh: Mesh, triangles: Ints, about: Sequence[float], total: Sequence[float]) -> Floats:
    """total: N mm about a point, by a traction that grows with the distance from the middle of the area: of all those
    that have no resultant the one of least square."""
    return remote(mesh, triangles, about, (0.0, 0.0, 0.0), total)


def remote(
    mesh: Mesh, triangles: Ints, at: Sequence[float], total: Sequence[float], twist: Sequence[float] = (0, 0, 0)
) -> Floats:
    """A force (N) and moment (N mm) at a point off the surface, carried by the traction a + b × (x - c) that has that
    resultant exactly: the weights are those of the area."""
    places, areas, values = on_surface(mesh.points, triangles)
    sizes = np.linalg.norm(areas, axis=-1)
    middle = np.einsum("eq,eqi->i", sizes, places) / sizes.sum()
    arms = places - middle
    square = np.einsum("eq,eqk,eqk->", sizes, arms, arms) * np.eye(3) - np.einsum("eq,eqi,eqj->ij", sizes, arms, arms)
    wanted = np.asarray(twist, float) + np.cross(np.asarray(at, float) - middle, np.asarray(total, float))
    turn = np.linalg.lstsq(square, wanted, rcond=1e-10)[0]
    rows = sizes[..., None] * (np.asarray(total, float) / sizes.sum() + np.cross(turn, arms))
    return _summed(len(mesh.points), triangles, values, rows)


def bearing(mesh: Mesh, triangles: Ints, axis: Sequence[float], total: Sequence[float]) -> Floats:
    """A pin's push (N) on a hole: pressure that falls with the cosine from the direction of the force (square to the
    axis), on the half that it presses on; scaled to the resultant."""
    _, areas, values = on_surface(mesh.points, triangles)
    along = np.asarray(axis, float) / np.linalg.norm(axis)
    push = np.asarray(total, float)
    across = push - (push @ along) * along
    size = float(np.linalg.norm(across))
    if size < 1e-12:
        return force(mesh, triangles, total)
    share = np.maximum(np.einsum("eqi,i->eq", areas, across / size), 0.0) / np.linalg.norm(areas, axis=-1)
    rows = share[..., None] * areas  # along the outward normal of the hole's wall, into the matter
    found = _summed(len(mesh.points), triangles, values, rows)
    got = found.sum(axis=0)
    scale = size / float(got @ across / size)
    rest = push - scale * got
    return scale * found + (force(mesh, triangles, rest.tolist()) if np.linalg.norm(rest) > 0 else 0.0)


def weight(mesh: Mesh, materials: Sequence[Elastic], acceleration: Sequence[float]) -> Floats:
    """acceleration: mm/s²."""
    return _body(mesh, materials, lambda places: np.broadcast_to(np.asarray(acceleration, float), places.shape))


def rotation(
    mesh: Mesh, materials: Sequence[Elastic], point: Sequence[float], axis: Sequence[float], speed: float
) -> Floats:
    """What turning about an axis pulls outwards; speed: rad/s."""
    along = np.asarray(axis, float) / np.linalg.norm(axis)
    start = np.asarray(point, float)

    def pull(places: Floats) -> Floats:
        arms = places - start
        return np.asarray(speed**2 * (arms - (arms @ along)[..., None] * along))

    return _body(mesh, materials, pull)


def _body(mesh: Mesh, materials: Sequence[Elastic], field: Callable[[Floats], Floats]) -> Floats:
    values = shapes(ELEVEN)
    _, size = gradients(mesh.points, mesh.tets, ELEVEN)
    density = np.array([m.density for m in materials])[mesh.bodies]
    places = np.einsum("qa,eai->eqi", values, mesh.points[mesh.tets])
    rows = (density[:, None] * size * ELEVEN_WEIGHTS)[..., None] * field(places)
    each = np.einsum("qa,eqk->eak", values, rows)
    found = np.zeros((len(mesh.points), 3))
    np.add.at(found, mesh.tets.ravel(), each.reshape(-1, 3))
    return found


def warmth(mesh: Mesh, materials: Sequence[Elastic], rise: Floats) -> Floats:
    """What holding back the growth by a rise of temperature (n,) K would take."""
    slope, size = gradients(mesh.points, mesh.tets, FOUR)
    factor = np.array([m.expansion * (3 * m.lame[0] + 2 * m.lame[1]) for m in materials])[mesh.bodies]
    here = np.einsum("qa,ea->eq", shapes(FOUR), rise[mesh.tets])
    each = np.einsum("e,eq,eqai->eai", factor, size * FOUR_WEIGHTS * here, slope)
    found = np.zeros((len(mesh.points), 3))
    np.add.at(found, mesh.tets.ravel(), each.reshape(-1, 3))
    return found
