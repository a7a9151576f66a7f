"""The bill of materials."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..bill import files, masses, rows
from ..bill.lots import Lot
from ..edits.declared import field
from ..edits.fields import ChoiceField, DataField, TextField
from ..errors import EditError
from ..operations.work import Work
from .base import Study, study

LEVEL = ChoiceField("the level", "Every part once, or as the tree has them.", default="flat",
                    options={"flat": "every part once", "tree": "as the tree has them"})  # fmt: skip


@study
class Bill(Study):
    name = "bill"
    help = "What the model is made of: item, name, quantity, numbers, maker, material, mass and price of each."

    level: str = field(LEVEL)

    def run(self, work: Work) -> list[dict[str, Any]]:
        weights = masses.part_masses(work.snapshot, work.geometry)
        return [asdict(r) for r in rows.bill_rows(work.snapshot, weights, self.level)]


@study
class BillFile(Study):
    name = "bill file"
    help = "The same as CSV, workbook, PDF or JSON."

    level: str = field(LEVEL)
    kind: str = field(ChoiceField("the format", "Of the file.", default="csv",
                                  options={k: k.upper() for k in ("csv", "xlsx", "pdf", "json")}))  # fmt: skip
    title: str = field(TextField("the title", "At its head.", limit=120, default="Model"))
    columns: Any = field(DataField("the columns", "Of part_number, stock_number, maker, finish, process, note, those "
                                   "that are written; the usual ones where none are said.", default=None))  # fmt: skip
    lot: Any = field(DataField("the lot", "Whose needs it tells: count, spares in %, prices of one piece by body.",
                               default=None))  # fmt: skip

    def run(self, work: Work) -> bytes:
        weights = masses.part_masses(work.snapshot, work.geometry)
        found = rows.bill_rows(work.snapshot, weights, self.level)
        return files.written(self.kind, found, self.title, _names(self.columns), _lot(self.lot))


def _names(raw: Any) -> list[str] | None:
    if raw is None or (isinstance(raw, list) and all(isinstance(n, str) for n in raw)):
        return raw
    raise EditError("columns come as a list of names", field="columns")


def _lot(raw: Any) -> Lot | None:
    if raw is None:
        return None
    try:
        prices = {str(body): float(price) for body, price in dict(raw.get("prices") or {}).items()}
        return Lot(int(raw["count"]), float(raw.get("spares", 0)), prices)
    except (AttributeError, KeyError, TypeError, ValueError, OverflowError):
        raise EditError("a lot comes as its count, spares and prices by body", field="lot") from None
