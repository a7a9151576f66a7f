"""Values that programs give rather than people write: lists of numbers and ids, switches, raw data."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ...errors import EditError
from ...model.snapshot import split_id
from .base import Context, Field

MOST_IDS = 20_000


@dataclass(frozen=True)
class NumbersField(Field):
    """So many finite numbers, as a list or as text with commas."""

    count: int = dataclasses.field(default=0, kw_only=True)
    input = "numbers"

    def read(self, raw: Any, context: Context) -> tuple[float, ...]:
        values = raw.split(",") if isinstance(raw, str) else raw
        try:
            found = tuple(float(v) for v in values)
        except (TypeError, ValueError):
            found = ()
        if len(found) != self.count or not all(math.isfinite(v) for v in found):
            raise EditError(f"{self.label} takes {self.count} numbers with commas between them")
        return found

    def show(self, value: tuple[float, ...], context: Context) -> str:
        return ", ".join(f"{v:.8g}" for v in value)

    def schema(self) -> dict:
        return {"type": "array", "items": {"type": "number"}, "minItems": self.count, "maxItems": self.count,
                "description": self.help}  # fmt: skip


@dataclass(frozen=True)
class IdsField(Field):
    """Ids that need not be in the state: what is hidden or pinned may have ended meanwhile."""

    input = "ids"

    def read(self, raw: Any, context: Context) -> tuple[str, ...]:
        rows = raw.split() if isinstance(raw, str) else raw
        if not isinstance(rows, Sequence) or len(rows) > MOST_IDS:
            raise EditError(f"{self.label} takes a list of up to {MOST_IDS:,} ids")
        for ident in rows:
            split_id(ident)
        return tuple(rows)

    def schema(self) -> dict:
        return {
            "type": "array",
            "items": {"type": "string"},
            "minItems": 0,
            "maxItems": MOST_IDS,
            "description": self.help,
        }


@dataclass(frozen=True)
class FlagField(Field):
    input = "flag"

    def read(self, raw: Any, context: Context) -> bool:
        word = str(raw).lower()
        if word not in ("yes", "true", "no", "false"):
            raise EditError(f"{self.label} is yes or no; got “{str(raw)[:20]}”")
        return word in ("yes", "true")

    def schema(self) -> dict:
        return {"type": "boolean", "description": self.help}


@dataclass(frozen=True)
class DataField(Field):
    """An object or a list, looked into by whoever takes it."""

    input = "data"

    def read(self, raw: Any, context: Context) -> Any:
        if not isinstance(raw, (dict, list)):
            raise EditError(f"{self.label} is an object or a list")
        return raw

    def schema(self) -> dict:
        return {"type": ["object", "array"], "description": self.help}


@dataclass(frozen=True)
class KeptField(DataField):
    """What a person keeps beside the model, filled in by whoever keeps it: views or notes."""

    what: str = "views"
