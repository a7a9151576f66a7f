"""What the service keeps: uploads with what it found, and orders, one for each key."""

from __future__ import annotations

import hashlib
import json
import os
import threading
import time
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

NAME = "Fernwerk"


@dataclass(frozen=True)
class Choice:
    """setup and per: money for a piece and for its cm³; box: mm that it has to fit in; days: to make."""

    key: str
    material: str
    finish: str
    setup: float
    per: float
    box: tuple[float, float, float]
    days: int


CHOICES = (
    Choice("pa12-raw", "polyamide 12, powder", "as printed", 4.5, 0.42, (330, 330, 500), 4),
    Choice("pa12-dyed", "polyamide 12, powder", "dyed black", 6.0, 0.46, (330, 330, 500), 6),
    Choice("petg", "PETG, filament", "as printed", 3.0, 0.16, (220, 220, 240), 3),
    Choice("resin-clear", "clear resin", "sanded", 9.0, 0.95, (190, 120, 240), 5),
    Choice("alsi10mg", "AlSi10Mg, molten powder", "blasted", 48.0, 3.9, (250, 250, 300), 9),
)
BREAKS = ((1, 1.0), (10, 0.82), (50, 0.68), (250, 0.55))
STATES = ((0.0, "confirmed"), (30.0, "printing"), (90.0, "finishing"), (150.0, "sent"))  # s of the stand-in's own time
MOST = 10_000


class Refused(ValueError):
    """In words."""


class Books:
    """In one file, written whole each time."""

    def __init__(self, folder: Path) -> None:
        self.path = folder / "books.json"
        self.lock = threading.Lock()
        folder.mkdir(parents=True, exist_ok=True)
        self.data: dict[str, Any] = {"uploads": {}, "orders": {}, "out": False, "fails": ""}
        if self.path.exists():
            self.data.update(json.loads(self.path.read_text()))

    def _write(self) -> None:
        new = self.path.with_suffix(".new")
        new.write_text(json.dumps(self.data))
        os.replace(new, self.path)

    def switch(self, out: bool, fails: str) -> None:
        """fails: a step that fails from now on: uploads, quotes or orders."""
        with self.lock:
            self.data["out"], self.data["fails"] = out, fails
            self._write()

    def upload(self, data: bytes) -> dict[str, Any]:
        """The same mesh is one upload.  Its problems are told, not refused."""
        from .mesh import look_at  # numpy, which waits for the first mesh

        key = hashlib.sha256(data).hexdigest()[:24]
        with self.lock:
            if key not in self.data["uploads"]:
                self.data["uploads"][key] = asdict(look_at(data))
                self._write()
            return {"upload": key, **self.data["uploads"][key]}

    def quotes(self, upload: str, quantity: int) -> list[dict[str, Any]]:
        """Raises Refused."""
        found = self.data["uploads"].get(upload)
        if found is None:
            raise Refused("there is no such upload; send the mesh again")
        if found["problems"]:
            raise Refused(f"this mesh cannot be printed: {', '.join(found['problems'])}")
        if not 0 < quantity <= MOST:
            raise Refused(f"from 1 to {MOST:,} pieces")
        rows = []
        for choice in CHOICES:
            fits = all(a <= b for a, b in zip(sorted(found["size"]), sorted(choice.box), strict=True))
            if fits:
                rows.append({"choice": choice.key, "material": choice.material, "finish": choice.finish,
                             "price": _price(choice, found["volume"], quantity), "days": choice.days + quantity // 40,
                             "breaks": [[n, _price(choice, found["volume"], n)] for n, _ in BREAKS]})  # fmt: skip
        if not rows:
            raise Refused("it is larger than any of our machines")
        return rows

    def order(self, key: str, lines: Any) -> dict[str, Any]:
        """The same key gives the order that it gave before.  Raises Refused."""
        with self.lock:
            known = self.data["orders"].get(key)
            if known is None:
                if not isinstance(lines, list) or not 0 < len(lines) <= 50:
                    raise Refused("an order has 1 to 50 lines")
                done = [self._line(line) for line in lines]
                known = {
                    "number": f"F-{len(self.data['orders']) + 501}", "key": key, "lines": done, "maker": NAME,
                    "total": round(sum(d["quantity"] * d["price"] for d in done), 2), "at": time.time(),
                }  # fmt: skip
                self.data["orders"][key] = known
                self._write()
        return self._told(known)

    def _line(self, line: Any) -> dict[str, Any]:
        told = line if isinstance(line, dict) else {}
        upload, choice, count = told.get("stock_number"), told.get("item"), told.get("quantity")
        if not isinstance(upload, str) or not isinstance(choice, str) or not isinstance(count, int):
            raise Refused("a line has a stock_number (the upload), an item (the choice) and a quantity")
        row = next((q for q in self.quotes(upload, count) if q["choice"] == choice), None)
        if row is None:
            raise Refused(f"there is no {choice} for this mesh")
        name = f"{row['material']}, {row['finish']}"
        return {**told, "name": name, "price": row["price"], "confirmed": count, "open": 0,
                "lead_days": row["days"], "maker": NAME}  # fmt: skip

    def known(self, key: str) -> dict[str, Any] | None:
        order = self.data["orders"].get(key)
        return None if order is None else self._told(order)

    @staticmethod
    def _told(order: dict[str, Any]) -> dict[str, Any]:
        age = time.time() - order["at"]
        return {**order, "state": [state for least, state in STATES if age >= least][-1]}


def _price(choice: Choice, volume: float, quantity: int) -> float:
    share = [s for least, s in BREAKS if quantity >= least][-1]
    return round((choice.setup + choice.per * volume / 1000) * share, 2)
