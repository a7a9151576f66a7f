"""What a lot of the model needs of each part, and what that costs."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from ..errors import EditError
from .rows import BillRow

MOST = 100_000  # models in a lot
MOST_SPARES = 1000.0  # %


@dataclass(frozen=True)
class Lot:
    """count: models; spares: % more of what is bought; prices: of one piece by id of the body, at the quantities that
    the lot needs, where they differ from what is said of the part.  Raises EditError beyond its bounds."""

    count: int
    spares: float = 0.0
    prices: Mapping[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if not 0 < self.count <= MOST or not 0 <= self.spares <= MOST_SPARES:
            raise EditError(f"a lot is 1 to {MOST:,}, spares 0 to {MOST_SPARES:g} %", field="lot")

    def needed(self, quantity: int, source: str) -> int:
        more = self.spares if source == "bought" else 0.0
        return math.ceil(quantity * self.count * (100 + more) / 100 - 1e-9)


@dataclass(frozen=True)
class Need:
    """pieces: for the whole lot, None for a group and for what is there for reference; each: price of one, total: of
    all, None where nobody has said it."""

    pieces: int | None
    each: float | None
    total: float | None


def needs(rows: list[BillRow], lot: Lot) -> list[Need]:
    """Of each row of a bill, flat or as the tree: in a tree quantities multiply from group to group."""
    found, above = [], [1]
    for row in rows:
        del above[row.level + 1 :]
        whole = above[-1] * row.quantity
        above.append(whole)
        if not row.body or row.source == "reference":
            found.append(Need(None, None, None))
            continue
        pieces, each = lot.needed(whole, row.source), lot.prices.get(row.body, row.price)
        found.append(Need(pieces, each, None if each is None else pieces * each))
    return found
