"""The bill of materials."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..bill import files, masses, rows
from ..edits.declared import field
from ..edits.fields import ChoiceField, TextField
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

    def run(self, work: Work) -> bytes:
        weights = masses.part_masses(work.snapshot, work.geometry)
        return files.written(self.kind, rows.bill_rows(work.snapshot, weights, self.level), self.title)
