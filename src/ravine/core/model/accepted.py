"""Findings of the standing check that somebody has looked at and found right."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

# of findings, the gravest first, with how a list tells them
KINDS = {
    "overlap": "overlap", "gap": "too near", "no hole": "no hole for it", "thread": "thread does not match",
    "loose": "nothing holds it", "short": "too short", "bottoms": "reaches the bottom",
}  # fmt: skip


@dataclass(frozen=True)
class Accepted:
    """key: of the finding; nodes: places in the tree that it is about; note: why it is right."""

    key: str
    nodes: tuple[int, ...]
    note: str

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Accepted:
        return cls(**{**data, "nodes": tuple(data["nodes"])})
