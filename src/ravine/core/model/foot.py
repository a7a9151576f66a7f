"""Where a lifted body stood, so that it can be planted elsewhere."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..rigid import Vec


@dataclass(frozen=True)
class Foot:
    """Of a body, in its own coordinates (mm): a point of its foot, and the direction that ran out of the face it stood
    on or was sunk into.  rises: whether it was matter; False for what was a void."""

    body: int
    point: Vec
    normal: Vec
    rises: bool

    def to_json(self) -> dict[str, Any]:
        return {"body": self.body, "point": self.point, "normal": self.normal, "rises": self.rises}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Foot:
        return cls(data["body"], tuple(data["point"]), tuple(data["normal"]), data["rises"])

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
