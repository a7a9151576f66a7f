"""A group of parts that comes from another model, at one of its states."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

Pairs = Mapping[int, int]


@dataclass(frozen=True)
class ModelLink:
    """node: the group; model: number of the other one; revision: its number there; title: its name; state: content
    address of that state; nodes, bodies: ids here by ids there; elements: the same of faces, edges, vertices and
    joints, which one counter numbers; shapes: of bodies here as they came."""

    node: int
    model: int
    revision: int
    title: str
    state: str
    nodes: Pairs
    bodies: Pairs
    elements: Pairs
    shapes: Mapping[int, str]

    def to_json(self) -> dict[str, Any]:
        pairs = {name: sorted(getattr(self, name).items()) for name in ("nodes", "bodies", "elements", "shapes")}
        return {**self.__dict__, **pairs}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> ModelLink:
        return cls(**{**data, **{name: dict(data[name]) for name in ("nodes", "bodies", "elements", "shapes")}})


@dataclass(frozen=True)
class OtherState:
    """Of another model: its number and name, the number of a revision of it, and the content address of that state,
    which is empty while nobody has looked it up."""

    model: int
    revision: int
    title: str
    state: str
