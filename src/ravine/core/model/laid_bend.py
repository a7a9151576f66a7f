"""A bend of a sheet that was laid flat, so that it can be bent again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from ..rigid import Rigid


@dataclass(frozen=True)
class LaidBend:
    """body: whose; faces: ids of both sides of each strip of the bend (a hole may divide it), the one that is seen
    first; frame: in the body's coordinates,
    its origin where the bend begins, x into it, z out of the side that is seen; low, high: from where to where it goes
    along y, mm; length: of the flat strip, mm; angle: rad; neutral: height of the neutral surface, mm; up: 1.0 where it
    bends towards z, else -1.0; depth: of the sheet, mm."""

    body: int
    faces: tuple[tuple[int, int], ...]
    frame: Rigid
    low: float
    high: float
    length: float
    angle: float
    neutral: float
    up: float
    depth: float

    @property
    def radius(self) -> float:
        """mm, on the inner side."""
        return self.length / self.angle + (self.neutral if self.up > 0 else -self.depth - self.neutral)

    def moved(self, motion: Rigid) -> LaidBend:
        return replace(self, frame=(motion @ self.frame).squared)

    def to_json(self) -> dict[str, Any]:
        return {**self.__dict__, "frame": list(self.frame)}

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> LaidBend:
        return cls(**{**data, "faces": tuple((a, b) for a, b in data["faces"]), "frame": Rigid(data["frame"])})

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
