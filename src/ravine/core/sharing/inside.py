"""Faces that nobody sees from outside: what lies inside a closed assembly does not have to leave with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..kernel.tessellate import face_mesh
from ..local.surfaces import Floats
from ..maps.tree import TriangleTree
from ..model.geometry import GeometryStore, Solid
from ..model.snapshot import Occurrence
from ..section.rings import skin_of

WAYS = (14, 160)  # directions in which a place may see the outside, first few, then many
LARGEST = 3  # triangles of a face that are looked from, by area
LIFT = 1e-4  # of the size of everything, off the surface


def directions(count: int) -> Floats:
    """Evenly over the ball (Fibonacci's spiral), (count, 3)."""
    k = np.arange(count) + 0.5
    z = 1 - 2 * k / count
    turn = np.pi * (1 + 5**0.5) * k
    r = np.sqrt(1 - z**2)
    return np.column_stack([r * np.cos(turn), r * np.sin(turn), z])


def hidden_faces(geometry: GeometryStore, shown: Sequence[Occurrence]) -> dict[int, set[int]]:
    """By body: numbers of faces from which no way leads out, in any of the places that show it."""
    corners, spots = [], []
    for number, place in enumerate(shown):
        body = geometry.get(place.body.shape)
        skin = skin_of(body)
        corners.append(place.matrix.points(skin.points)[skin.triangles])
        if isinstance(body, Solid):
            spots += [_Spot(number, f, *row) for f in range(body.index.count("face")) for row in _spots(place, body, f)]
    if not corners or not spots:
        return {}
    soup = np.concatenate(corners)
    tree = TriangleTree(soup)
    lift = LIFT * float(np.ptp(soup.reshape(-1, 3), axis=0).max())
    shut = {(s.place, s.face) for s in spots}
    for count in WAYS:  # most see out at once; only the others are looked at closely
        left = [s for s in spots if (s.place, s.face) in shut]
        shut -= _that_see_out(tree, left, directions(count), lift)
    hidden: dict[int, set[int]] = {}
    for number, place in enumerate(shown):
        inside = {face for at, face in shut if at == number}
        body_id = place.body.id
        hidden[body_id] = hidden[body_id] & inside if body_id in hidden else inside
    return hidden


@dataclass(frozen=True, eq=False)
class _Spot:
    """Of a face of one of the places: where, and the normal outwards, in the model."""

    place: int
    face: int
    at: Floats
    normal: Floats


def _spots(place: Occurrence, body: Solid, face: int) -> list[tuple[Floats, Floats]]:
    """The middles of its largest triangles."""
    mesh = face_mesh(body.index.get("face", face))
    corners = place.matrix.points(mesh.points)[mesh.triangles]
    across = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    area = np.linalg.norm(across, axis=1)
    best = np.argsort(-area)[:LARGEST]
    return [(corners[k].mean(axis=0), across[k] / area[k]) for k in best if area[k] > 0]


def _that_see_out(tree: TriangleTree, spots: Sequence[_Spot], ways: Floats, lift: float) -> set[tuple[int, int]]:
    if not spots:
        return set()
    normals = np.array([s.normal for s in spots])
    origins = np.array([s.at for s in spots]) + lift * normals
    of, way = np.nonzero(normals @ ways.T > 0.02)
    found = np.isinf(tree.first_hits(origins[of], ways[way], np.zeros(len(of))))
    return {(spots[k].place, spots[k].face) for k in np.unique(of[found])}
