"""What is said of a body that is sheet metal: how it is read, and how long its bends are when flat."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

K_FACTOR = 0.44  # unless said


@dataclass(frozen=True)
class SheetData:
    """body: whose; root: id of the face that the flat is seen from, 0 for the largest; thickness: mm, None where it is
    measured; rule: of sheet.allowance.RULES; k_factor: share of the thickness from the inner side of a bend to its
    neutral surface; table: rows of thickness, inner radius (mm), angle (degrees) and deduction (mm); tool: name of
    it."""

    body: int
    root: int = 0
    thickness: float | None = None
    rule: str = "k-factor"
    k_factor: float = K_FACTOR
    table: tuple[tuple[float, float, float, float], ...] = ()
    tool: str = ""

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> SheetData:
        return cls(**{**data, "table": tuple(tuple(row) for row in data["table"])})

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
