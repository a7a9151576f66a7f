"""What the stand-in offers for an item of the shelf: invented, and the same every time."""

from __future__ import annotations

import zlib
from bisect import bisect_left
from dataclasses import dataclass
from functools import cache

from ravine.core import RavineError
from ravine.core.shelf.items import Item, item_of, search, sizes

MAKERS = {"NV": "Norrvik", "HR": "Halden & Roe", "TS": "Tessaro"}
# for one, in the currency of the lists: a share that every piece costs, and what a mm of its largest size adds
RATES = {
    "screw": (0.03, 0.004), "nut": (0.02, 0.003), "washer": (0.01, 0.001), "pin": (0.08, 0.01), "ring": (0.1, 0.01),
    "bearing": (1.2, 0.06), "knob": (0.9, 0.03), "standoff": (0.25, 0.01), "gland": (0.8, 0.05),
    "connector": (0.1, 0.04), "spring": (0.3, 0.01), "profile": (0.5, 0.012),
}  # fmt: skip
BAR = 500  # mm
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
    return _offers(item)


def _offers(item: Item) -> list[Offer]:
    draw = zlib.crc32(item.id.encode())
    codes = sorted(MAKERS, key=lambda code: zlib.crc32(f"{code} {item.id}".encode()))
    return [_offer(item, code, zlib.crc32(f"{code}/{draw}".encode())) for code in codes[: 1 + draw % 2 + 1]]


def items_for(text: str, limit: int) -> list[str]:
    """Ids of what a stock number or its beginning, or a maker with a kind, stands for."""
    words = text.strip().lower().split()
    maker = next((m for m in MAKERS.values() if words and m.lower().startswith(words[0])), None)
    if maker is not None:
        rest = " ".join(w for w in words if w not in maker.lower().split())
        shown = [i for i in search(rest, limit=4 * limit) if any(o.maker == maker for o in _offers(i))]
        return [i.id for i in shown[:limit]]
    code = "".join(words).upper()
    if len(code) < 4 or code[:2] not in MAKERS:
        return []
    numbers = _numbers()
    low = bisect_left(numbers, (code, ""))
    return [item for number, item in numbers[low : low + limit] if number.startswith(code)]


@cache
def _numbers() -> list[tuple[str, str]]:
    """Stock numbers in order, with their items; of profiles, those of bars as they are stocked."""
    items = (
        Item(f, s, v)
        for f, s in sizes()
        for v in (f.lengths(s) or (None,))
        if f.kind != "profile" or not v or v % BAR == 0
    )
    return sorted((o.stock_number, item.id) for item in items for o in _offers(item))


def _offer(item: Item, code: str, draw: int) -> Offer:
    base, rate = RATES[item.family.kind]
    size = max((v for k, v in item.row.items() if k not in ("shortest", "longest")), default=1.0)
    one = base + rate * (size + 0.3 * (item.length or 0.0))
    one *= 0.85 + (draw % 31) / 100
    stock = 0 if draw % EMPTY == 0 else 3 + draw % 8 if draw % SCARCE == 0 else 200 + draw % 4000
    prices = tuple((least, round(one * share, 4)) for least, share in BREAKS)
    return Offer(f"{code}-{draw % 10**6:06}", MAKERS[code], item.id, item.name, prices, stock, 4 + draw % 25)
