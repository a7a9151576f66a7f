"""A dimension that is kept on faces, edges or corners of plain solids."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

WAYS = {
    "straight": "straight",
    "x": "along X",
    "y": "along Y",
    "z": "along Z",
    "diameter": "as a diameter",
    "radius": "as a radius",
    "arc": "along its arc",
    "angle": "as an angle",
}
ARC = "arc"  # how long one round end is
ROUND = ("diameter", "radius", ARC)  # of one end
ANGLE = "angle"  # between two flat faces, in rad


@dataclass(frozen=True)
class BodyDimension:
    """way: of WAYS; ends: one or two placed ids; bodies: those that they are part of; value: mm or rad, what it
    measures in this state, None where it lost what it measured; text: the formula it was driven by, empty without one;
    stays: mm, where it keeps its value while edits move one of its ends; off: mm in the model from the middle of its
    ends to where it is written, None where that is as fits."""

    id: int
    way: str
    ends: tuple[str, ...]
    bodies: tuple[int, ...]
    name: str
    value: float | None = None
    text: str = ""
    stays: float | None = None
    off: tuple[float, float, float] | None = None

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> BodyDimension:
        off = data.get("off")
        rows = {
            "ends": tuple(data["ends"]),
            "bodies": tuple(data["bodies"]),
            "off": None if off is None else tuple(off),
        }
        return cls(**{**data, **rows})

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return all(b in bodies for b in self.bodies)
