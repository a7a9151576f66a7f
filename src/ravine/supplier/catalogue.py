"""What the stand-in offers for an item of the shelf: invented, and the same every time."""

from __future__ import annotations

import zlib
from dataclasses import dataclass

from ravine.core import RavineError
from ravine.core.shelf.items import Item, item_of

MAKERS = {"NV": "Norrvik", "HR": "Halden & Roe", "TS": "Tessaro"}
# for one, in the currency of the lists: a share that every piece costs, and what a mm of its largest size adds
RATES = {
    "screw": (0.03, 0.004), "nut": (0.02, 0.003), "washer": (0.01, 0.001), "pin": (0.08, 0.01), "ring": (0.1, 0.01),
    "bearing": (1.2, 0.06), "knob": (0.9, 0.03), "standoff": (0.25, 0.01), "gland": (0.8, 0.05),
    "connector": (0.1, 0.04), "spring": (0.3, 0.01), "profile": (0.5, 0.012),
}  # fmt: skip
BREAKS = ((1, 1.0), (50, 0.72), (500, 0.48))
EMPTY, SCARCE = 7, 5  # one in so many is out of stock; of the others, one in so many is nearly so


@dataclass(frozen=True)
class Offer:
    """prices: pairs of a least quantity and what one costs then; stock: pieces there; lead_days: for more."""

    stock_number: str
    maker: str
    item: str
    name: str
    prices: tuple[tuple[int, float], ...]
    stock: int
    lead_days: int

    def price(self, quantity: int) -> float:
        """Of one, when so many are taken."""
        return [price for least, price in self.prices if quantity >= least or least == 1][-1]


def offers_for(ident: str) -> list[Offer]:
    """Best known makers first; none for what it does not carry."""
    try:
        item = item_of(ident)
    except RavineError:
        return []
    draw = zlib.crc32(item.id.encode())
    codes = sorted(MAKERS, key=lambda code: zlib.crc32(f"{code} {item.id}".encode()))
    return [_offer(item, code, zlib.crc32(f"{code}/{draw}".encode())) for code in codes[: 1 + draw % 2 + 1]]


def _offer(item: Item, code: str, draw: int) -> Offer:
    base, rate = RATES[item.family.kind]
    size = max((v for k, v in item.row.items() if k not in ("shortest", "longest")), default=1.0)
    one = base + rate * (size + 0.3 * (item.length or 0.0))
    one *= 0.85 + (draw % 31) / 100
    stock = 0 if draw % EMPTY == 0 else 3 + draw % 8 if draw % SCARCE == 0 else 200 + draw % 4000
    prices = tuple((least, round(one * share, 4)) for least, share in BREAKS)
    return Offer(f"{code}-{draw % 10**6:06}", MAKERS[code], item.id, item.name, prices, stock, 4 + draw % 25)
