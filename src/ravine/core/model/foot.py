"""Where a lifted body stood, so that it can be planted elsewhere."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..rigid import Vec


@dataclass(frozen=True)
class Foot:
    """Of a body, in its own coordinates (mm): a point of its foot, and the direction that ran out of the face it stood
    on or was sunk into.  rises: whether it was matter; False for what was a void; round: radius (mm) of the round by
    which it met that face, 0 without one; plain: address of its shape without that round, empty without one."""

    body: int
    point: Vec
    normal: Vec
    rises: bool
    round: float = 0.0
    plain: str = ""

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Foot:
        return cls(**{**data, "point": tuple(data["point"]), "normal": tuple(data["normal"])})

    def blobs(self) -> tuple[str, ...]:
        return (self.plain,) if self.plain else ()

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
