"""A length that has a name and nothing else: formulas use it, and what has such a formula follows it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class NamedValue:
    """value: mm; text: its own formula, empty where there is none."""

    name: str
    value: float
    text: str = ""

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> NamedValue:
        return cls(**data)
