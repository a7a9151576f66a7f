"""A push that comes level with other faces on its way, done part by part (see local.passed_levels)."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from ..errors import EditError
from ..kernel.classify import FaceBounds, inner_place
from ..local.passed_levels import first_level
from ..local.topology import SolidTopology
from ..model.snapshot import Body, Snapshot
from .work import Work

Push = Callable[[Snapshot, Mapping[int, float]], Snapshot]  # faces by number with their distances, in mm


def first_part(topology: SolidTopology, body: Body, distances: Mapping[int, float]) -> float | None:
    """The share of the way at which one of the faces first comes level with another; None where none does."""
    shares = [
        level / distance
        for face, distance in distances.items()
        if (level := first_level(topology, body.faces.index(face), distance)) is not None
    ]
    return min(shares, default=None)


def pushed_in_parts(
    work: Work, snapshot: Snapshot, body: Body, distances: Mapping[int, float], share: float, push: Push
) -> Snapshot:
    """As far as `share` of the way, and from there on with what the faces became level with.  Raises EditError where
    a face is not found again."""
    places = {f: _place(work, body, f, share * d) for f, d in distances.items()}
    after = push(snapshot, {f: share * d for f, d in distances.items()})
    now = after.body(body.id)
    topology = work.geometry.solid(now.shape).topology
    left: dict[int, float] = {}
    for face, distance in distances.items():
        left[_again(topology, now, face, places[face])] = (1 - share) * distance
    return push(after, left)


def _place(work: Work, body: Body, face: int, distance: float) -> np.ndarray:
    """Some place (3,) within the face once it has gone so far."""
    topology, at = work.geometry.solid(body.shape).topology, body.faces.index(face)
    spot = inner_place(topology.index.get("face", at))
    if spot is None:
        raise EditError("no place within the face was found", field="faces")
    return spot + distance * topology.outward(at, spot[None])[0]


def _again(topology: SolidTopology, body: Body, face: int, place: np.ndarray) -> int:
    """The face that is there now: the same, or the one it became a part of."""
    rows = range(topology.index.count("face"))
    for at in sorted(rows, key=lambda i: body.faces[i] != face):
        surface = topology.surface(at)
        if abs(float(surface.distance(place[None])[0][0])) < 1e-6 and FaceBounds(topology.index.get("face", at)).inside(
            surface.parameters(place[None])[0]
        ):
            return body.faces[at]
    raise EditError("the face is not found again where it became level with another", field="faces")
