"""What is kept of a pattern: how its members are laid and which faces each of them has, so that it can be recounted
and its members edited together.  Geometry never depends on it: a pattern that is forgotten leaves a plain solid."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from ..rigid import Rigid

if TYPE_CHECKING:
    from ..local.topology import SolidTopology

Vec = tuple[float, float, float]
Place = tuple[int, int]  # (member of the row, row); (0, 0) is the feature that was there first


@dataclass(frozen=True)
class Layout:
    """In the body's own coordinates, mm and radians.

    rows:   `count` members from `first` to `first`, in `rows` rows from `second` to `second`
    around: `count` members turned by `angle` each about the line through `point` along unit `first`; even: they
            share the full turn, however many they are
    """

    kind: str
    count: int
    first: Vec
    rows: int = 1
    second: Vec = (0.0, 0.0, 0.0)
    point: Vec = (0.0, 0.0, 0.0)
    angle: float = 0.0
    even: bool = False

    def motions(self) -> dict[Place, Rigid]:
        """Of every member but the first."""
        if self.kind == "around":
            axis, point = np.array(self.first), np.array(self.point)
            return {(i, 0): Rigid.about(point, axis, i * self.angle) for i in range(1, self.count)}
        first, second = np.array(self.first), np.array(self.second)
        return {
            (i, j): Rigid.slide(i * first + j * second) for j in range(self.rows) for i in range(self.count) if i or j
        }


@dataclass(frozen=True)
class Pattern:
    """members: for each place the ids of its faces, in the order of those of the place (0, 0); 0 for a face that a
    member does not have."""

    id: int
    body: int
    layout: Layout
    members: Mapping[Place, tuple[int, ...]]

    def to_json(self) -> dict[str, Any]:
        return {
            "id": self.id,
            "body": self.body,
            "layout": self.layout.__dict__,
            "members": [[*place, list(faces)] for place, faces in self.members.items()],
        }

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Pattern:
        layout: dict[str, Any] = {k: tuple(v) if isinstance(v, list) else v for k, v in data["layout"].items()}
        members = {(i, j): tuple(faces) for i, j, faces in data["members"]}
        return cls(data["id"], data["body"], Layout(**layout), members)

    def same_place(self, face: int) -> set[int]:
        """The faces that other members have where one of them has this face."""
        spots = {k for faces in self.members.values() for k, f in enumerate(faces) if f == face}
        return {faces[k] for faces in self.members.values() for k in spots if faces[k] and faces[k] != face}


def find_copies(
    topology: SolidTopology, seed: Sequence[int], motion: Rigid, among: Sequence[int], size: float
) -> tuple[int, ...]:
    """For each face of a feature the face that lies where the motion would carry it; −1 where none does.

    among: the faces that may be copies; size: of the body in mm, for the tolerance
    """
    if not among:
        return (-1,) * len(seed)
    middles = np.array([topology.boxes[i].reshape(2, 3).mean(axis=0) for i in among])
    found: list[int] = []
    for face in seed:
        surface = topology.surface(face).moved(motion)
        wanted = motion.points(np.array(topology.middle(face)[0])[None])[0]
        # the middle of a box does not turn with a face, so it only gives the order in which faces are tried
        order = np.argsort(np.linalg.norm(middles - wanted, axis=1))
        near = (among[k] for k in order[:40] if among[k] not in found)
        found.append(next((f for f in near if topology.surface(f).same(surface, size)), -1))
    return tuple(found)
