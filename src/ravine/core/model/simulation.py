"""What is simulated: which parts, how they are held and loaded, and how finely."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any

SUPPORTS = {
    "fixed": "fixed",
    "frictionless": "without friction",
    "cylindrical": "about their axis",
    "displacement": "at a displacement",
    "elastic": "on an elastic ground",
}
LOADS = {
    "force": "a force",
    "pressure": "a pressure",
    "bearing": "a pin's push",
    "moment": "a moment",
    "remote": "a force from afar",
    "weight": "their weight",
    "rotation": "their turning",
    "warmth": "a temperature",
    "heat": "heat flowing in",
    "air": "air",
}
CONTACTS = {"bonded": "bonded", "sliding": "sliding", "opening": "free to open", "none": "not touching"}


@dataclass(frozen=True)
class Condition:
    """name: among those of its study; kind: of SUPPORTS or LOADS; on: placed ids of faces, none for what acts on all;
    numbers: of it, as its kind has them (N, MPa, N mm, mm, rad/s, °C, W; x, y, z in the model's directions)."""

    name: str
    kind: str
    on: tuple[str, ...]
    numbers: Mapping[str, float] = field(default_factory=dict)

    @property
    def supports(self) -> bool:
        return self.kind in SUPPORTS


@dataclass(frozen=True)
class ContactRule:
    """nodes: of the two parts; kind: of CONTACTS; gap: mm up to which it is closed, or, of one that opens,
    up to which parts are looked at."""

    nodes: tuple[int, int]
    kind: str
    gap: float


@dataclass(frozen=True)
class Simulation:
    """nodes: places of its parts; size: mm of elements, as fits when None; finer: sizes (mm) by placed id of a face;
    contact: what parts do that touch, where no rule says otherwise."""

    name: str
    nodes: tuple[int, ...]
    conditions: tuple[Condition, ...] = ()
    rules: tuple[ContactRule, ...] = ()
    size: float | None = None
    finer: Mapping[str, float] = field(default_factory=dict)
    contact: str = "bonded"

    def to_json(self) -> dict[str, Any]:
        return asdict(self)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> Simulation:
        conditions = tuple(Condition(**{**c, "on": tuple(c["on"])}) for c in data["conditions"])
        rules = tuple(ContactRule(tuple(r["nodes"]), r["kind"], r["gap"]) for r in data["rules"])
        return cls(data["name"], tuple(data["nodes"]), conditions, rules, data["size"], data["finer"], data["contact"])
