"""What is said of parts in lists and orders."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..bill.rows import numbers_of
from ..errors import EditError
from ..model.part_data import SAID, SOURCES, PartData
from ..model.records import PARTS
from ..model.references import Reference
from .work import Operation, Outcome, Work


@dataclass(frozen=True, kw_only=True)
class SetPartData(Operation):
    """what: of model.part_data.SAID; value: text, empty to forget it; for a price a number, for the source one of
    SOURCES."""

    parts: tuple[Reference, ...]
    what: str
    value: str = ""

    def do(self, work: Work) -> Outcome:
        value = self._read()
        rows = dict(work.snapshot.kept(PARTS))
        bodies = {work.snapshot.nodes[n].body for p in self.parts for n in work.snapshot.leaves_below(p.number)}
        for body in sorted(b for b in bodies if b is not None):
            rows[body] = replace(rows.get(body, PartData(body)), **{self.what: value})
        return Outcome(work.snapshot.with_kept(PARTS, rows))

    def _read(self) -> Any:
        if self.what not in SAID:
            raise EditError(f"of a part one says its {', '.join(SAID.values())}", field="what")
        text = self.value.strip()
        if self.what == "source":
            known = {word: source for source, words in SOURCES.items() for word in (source, words)}
            if text.lower() not in known:
                raise EditError(f"a part is {', '.join(SOURCES.values())}", field="value")
            return known[text.lower()]
        if self.what != "price":
            return text
        if not text:
            return None
        try:
            price = float(text.replace(",", "."))
        except ValueError:
            price = -1.0
        if not 0 <= price < 1e9:
            raise EditError(f"a price is a number from 0, such as 4.20; got “{text[:20]}”", field="value")
        return price


@dataclass(frozen=True, kw_only=True)
class NumberParts(Operation):
    """Keeps the item numbers that the bill has now, whatever comes or goes."""

    def do(self, work: Work) -> Outcome:
        rows, numbers = dict(work.snapshot.kept(PARTS)), numbers_of(work.snapshot)
        if not numbers:
            raise EditError("there is no part to number; bring one in first")
        for body, number in numbers.items():
            rows[body] = replace(rows.get(body, PartData(body)), number=number)
        return Outcome(work.snapshot.with_kept(PARTS, rows))
