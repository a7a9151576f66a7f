"""How a body is printed: on what, and which way up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any


@dataclass(frozen=True)
class PrintData:
    """machine: its name in the table; down: direction of the body's own coordinates that looks at the bed."""

    body: int
    machine: str
    down: tuple[float, float, float] = (0.0, 0.0, -1.0)

    def to_json(self) -> dict[str, Any]:
        return asdict(self)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> PrintData:
        x, y, z = data["down"]
        return cls(data["body"], data["machine"], (x, y, z))

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
