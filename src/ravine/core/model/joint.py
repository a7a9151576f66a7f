"""How two parts stand to one another, kept while either moves."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

KINDS = {
    "coaxial": "coaxial",
    "on": "on one another",
    "distance": "at a distance",
    "parallel": "parallel",
    "angle": "at an angle",
    "tangent": "tangent",
    "fixed": "fixed",
    "centred": "centred",
}
LENGTH, ANGLE = "distance", "angle"  # kinds that have a value


@dataclass(frozen=True)
class Joint:
    """kind: of KINDS; of, to: placed ids of what is joined, `to` empty where a part is fixed to the model; nodes: the
    places in the tree that show them, ends of the first, then of the second; value: mm or rad; least, most: between
    which it may be instead; sense: 1 where two directions run alike, -1 against one another; side: 1 where what
    touches lies outside, -1 inside; pose: of a fixed one, the twelve numbers that take coordinates of `of`'s part to
    those of `to`'s; asleep: kept, but not followed."""

    id: int
    kind: str
    of: tuple[str, ...]
    to: tuple[str, ...]
    nodes: tuple[int, ...]
    bodies: tuple[int, ...]
    name: str
    value: float | None = None
    least: float | None = None
    most: float | None = None
    sense: int = 1
    side: int = 1
    pose: tuple[float, ...] = ()
    asleep: bool = False

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Joint:
        rows = {key: tuple(data[key]) for key in ("of", "to", "nodes", "bodies", "pose")}
        return cls(**{**data, **rows})

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return all(b in bodies for b in self.bodies)


TURNS = {"turn": "turning", "turn 2": "turning the second way", "turn 3": "turning the third way"}
SLIDES = {"slide": "sliding", "slide 2": "sliding the second way", "slide 3": "sliding the third way"}
