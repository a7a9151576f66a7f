"""What a part is in lists and orders: bought or made, its numbers, its maker."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

SOURCES = {"made": "made", "bought": "bought", "reference": "reference only"}

# what can be said of a part, by field, with how a sentence tells it
SAID = {
    "part_number": "part number", "stock_number": "stock number", "maker": "maker", "finish": "finish",
    "process": "process", "note": "note", "source": "source", "price": "price",
}  # fmt: skip


@dataclass(frozen=True)
class PartData:
    """body: whose; item: of the shelf, empty for one's own; source: of SOURCES; price: for one, in the currency of the
    lists, None while nobody has said; number: in lists, kept; thread: real where that of the shelf is cut."""

    body: int
    item: str = ""
    source: str = "made"
    part_number: str = ""
    stock_number: str = ""
    maker: str = ""
    finish: str = ""
    process: str = ""
    note: str = ""
    price: float | None = None
    number: int | None = None
    thread: str = ""

    def to_json(self) -> dict[str, Any]:
        return dict(self.__dict__)

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> PartData:
        return cls(**data)

    def lives(self, bodies: Mapping[int, Any]) -> bool:
        return self.body in bodies
