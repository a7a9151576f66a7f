"""Orders of a model: sent once for each key, kept with what the supplier confirmed."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from typing import Any

from peewee import IntegrityError

from ravine.core import EditError
from ravine.store.tables import Design, Order, now

from .designs import Designs
from .supply import SupplierAway, Supply

OPEN = ("sending", "unknown")


@dataclass(frozen=True)
class OrderShown:
    """state: sending, unknown, confirmed, partly confirmed or refused; answer: what the supplier told."""

    key: str
    state: str
    words: str
    lines: list[dict[str, Any]]
    answer: dict[str, Any]
    created: str


def orders_of(design: Design) -> list[OrderShown]:
    """The newest first."""
    return [_shown(row) for row in Order.select().where(Order.design == design).order_by(Order.id.desc())]


def send(designs: Designs, design: Design, supply: Supply, key: str, lines: list[dict[str, Any]]) -> OrderShown:
    """One order for each key: sent again after a lost answer, it is the same one.  Raises EditError for bad lines, or
    where the key stands for other lines."""
    if not re.fullmatch(r"[\w-]{8,64}", key):
        raise EditError("an order has a key of 8 to 64 letters", field="key")
    told = json.dumps(_lines(lines))
    try:
        row = Order.create(owner=designs.owner, design=design, key=key, lines=told, state="sending")
    except IntegrityError:
        row = Order.get((Order.key == key) & (Order.owner == designs.owner))
        if row.design_id != design.id or row.lines != told:
            raise EditError("another order went out under this key; begin a new one", field="key") from None
    return _sent(row, supply) if row.state in OPEN else _shown(row)


def send_again(designs: Designs, design: Design, supply: Supply, key: str) -> OrderShown:
    """One whose answer was lost.  Raises EditError where there is none."""
    row = Order.get_or_none((Order.key == key) & (Order.design == design))
    if row is None:
        raise EditError("there is no such order", field="key")
    return _sent(row, supply) if row.state in OPEN else _shown(row)


def _sent(row: Order, supply: Supply) -> OrderShown:
    try:
        answer = supply.order(row.key, json.loads(row.lines))
    except SupplierAway as error:
        row.state, row.words = "unknown", f"{error}; ask again: nothing is ordered twice"
    except Exception as error:
        row.state, row.words = "refused", str(error)[:255]
        row.save()
        raise
    else:
        row.state, row.words, row.answer = str(answer["state"])[:20], str(answer["number"])[:255], json.dumps(answer)
    row.updated = now()
    row.save()
    return _shown(row)


def _lines(lines: Any) -> list[dict[str, Any]]:
    if not isinstance(lines, list) or not lines:
        raise EditError("choose at least one line", field="lines")
    found = []
    for line in lines[:500]:
        good = isinstance(line, dict) and all(isinstance(line.get(k), str) for k in ("stock_number", "item"))
        count = line.get("quantity") if good else None
        if isinstance(count, bool) or not isinstance(count, int) or not 0 < count <= 1_000_000:
            raise EditError("a line has a stock_number, an item and a quantity from 1", field="lines")
        found.append({"stock_number": line["stock_number"][:40], "item": line["item"][:80], "quantity": count})
    return found


def _shown(row: Order) -> OrderShown:
    lines, answer = json.loads(row.lines), json.loads(row.answer)
    return OrderShown(row.key, row.state, row.words, lines, answer, row.created.strftime("%d.%m. %H:%M"))
