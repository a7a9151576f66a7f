"""Orders as the stand-in keeps them: one for each key, however often it is sent."""

from __future__ import annotations

import json
import os
import threading
from dataclasses import asdict
from pathlib import Path
from typing import Any

from .catalogue import offers_for

MOST_LINES, MOST_PIECES = 500, 1_000_000


class Refused(ValueError):
    """In words."""


class Books:
    """In one file, written whole each time.  taken: pieces by stock number that are gone from the stock."""

    def __init__(self, folder: Path) -> None:
        self.path = folder / "books.json"
        self.lock = threading.Lock()
        folder.mkdir(parents=True, exist_ok=True)
        self.data: dict[str, Any] = {"orders": {}, "taken": {}, "out": False}
        if self.path.exists():
            self.data.update(json.loads(self.path.read_text()))

    def _write(self) -> None:
        new = self.path.with_suffix(".new")
        new.write_text(json.dumps(self.data))
        os.replace(new, self.path)

    @property
    def out(self) -> bool:
        return bool(self.data["out"])

    def switch(self, out: bool) -> None:
        with self.lock:
            self.data["out"] = out
            self._write()

    def offers(self, item: str) -> list[dict[str, Any]]:
        with self.lock:
            return [{**asdict(o), "stock": self._left(o.stock_number, o.stock)} for o in offers_for(item)]

    def _left(self, number: str, stock: int) -> int:
        return max(0, stock - int(self.data["taken"].get(number, 0)))

    def order(self, key: str, lines: list[dict[str, Any]]) -> dict[str, Any]:
        """The same key gives the order that it gave before.  Raises Refused."""
        with self.lock:
            known = self.data["orders"].get(key)
            if known is not None:
                return dict(known)
            done = [self._line(line) for line in _checked(lines)]
            whole = round(sum(d["quantity"] * d["price"] for d in done), 2)
            order = {
                "number": f"A-{len(self.data['orders']) + 1001}", "key": key, "lines": done, "total": whole,
                "state": "confirmed" if all(d["open"] == 0 for d in done) else "partly confirmed",
            }  # fmt: skip
            for line in done:
                self.data["taken"][line["stock_number"]] = (
                    int(self.data["taken"].get(line["stock_number"], 0)) + line["confirmed"]
                )
            self.data["orders"][key] = order
            self._write()
            return dict(order)

    def _line(self, line: dict[str, Any]) -> dict[str, Any]:
        offer = next((o for o in offers_for(line["item"]) if o.stock_number == line["stock_number"]), None)
        if offer is None:
            raise Refused(f"there is no {line['stock_number']} for {line['item']}")
        wanted = line["quantity"]
        there = min(wanted, self._left(offer.stock_number, offer.stock))
        return {
            **line, "maker": offer.maker, "name": offer.name, "price": offer.price(wanted), "confirmed": there,
            "open": wanted - there, "lead_days": offer.lead_days if there < wanted else 2,
        }  # fmt: skip


def _checked(lines: Any) -> list[dict[str, Any]]:
    if not isinstance(lines, list) or not 0 < len(lines) <= MOST_LINES:
        raise Refused(f"an order has 1 to {MOST_LINES} lines")
    found = []
    for line in lines:
        told = line if isinstance(line, dict) else {}
        number, item, count = (told.get(k) for k in ("stock_number", "item", "quantity"))
        if not isinstance(number, str) or not isinstance(item, str) or not isinstance(count, int):
            raise Refused("a line has a stock_number, an item and a quantity")
        if not 0 < count <= MOST_PIECES:
            raise Refused(f"{number}: from 1 to {MOST_PIECES:,} pieces")
        found.append({"stock_number": number, "item": item, "quantity": count})
    return found
