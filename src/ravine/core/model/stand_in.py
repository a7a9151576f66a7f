"""What stands in for the block of a board's component: a rule by part number, kept for the next board."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..rigid import Rigid


@dataclass(frozen=True)
class StandIn:
    """part_number: of the component, as the board's file has it; body: what stands there; offset: its own coordinates
    to those of the component, whose origin lies on the board with Z away from it."""

    part_number: str
    body: int
    offset: Rigid

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> StandIn:
        return cls(**{**data, "offset": Rigid(data["offset"])})

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
