"""What a named size may be off by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class SizeTolerance:
    """text: as it was written (±0.1, +0.2 -0.05, H7), which is read for the size as it is."""

    name: str
    text: str

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> SizeTolerance:
        return cls(**data)
