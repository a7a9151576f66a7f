"""What stands on sheets: numbers of views and of what is written, places on paper, words by name."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ...errors import EditError
from ...model.words import plural
from .base import Context, Field

MOST = 400


@dataclass(frozen=True)
class EntryField(Field):
    """The number of one view, or of one thing written."""

    input = "count"

    def read(self, raw: Any, context: Context) -> int:
        text = str(raw).strip() if isinstance(raw, (str, int)) and not isinstance(raw, bool) else ""
        if not re.fullmatch(r"[0-9]{1,11}", text):
            raise EditError(f"{self.label} is a whole number; got “{str(raw)[:40]}”")
        return int(text)

    def schema(self) -> dict:
        return {"type": ["integer", "string"], "minimum": 0, "description": self.help}


@dataclass(frozen=True)
class EntriesField(Field):
    """Several of them, as a list or with spaces between."""

    def read(self, raw: Any, context: Context) -> tuple[int, ...]:
        rows = re.split(r"[\s,]+", raw.strip()) if isinstance(raw, str) else raw
        if not isinstance(rows, Sequence) or not rows or len(rows) > MOST:
            raise EditError(f"{self.label} are up to {MOST} whole numbers")
        return tuple(dict.fromkeys(EntryField(self.label, self.help).read(one, context) for one in rows))

    def show(self, value: tuple[int, ...], context: Context) -> str:
        return plural(len(value), "thing")

    def edit_text(self, value: tuple[int, ...], context: Context) -> str:
        return " ".join(map(str, value))

    def schema(self) -> dict:
        return {"type": ["array", "string"], "items": {"type": "integer"}, "description": self.help}


@dataclass(frozen=True)
class PairsField(Field):
    """Places as pairs of mm: [[x, y], …], or text such as `10,20 30,20`.  only: of these is one taken."""

    single: bool = False

    def read(self, raw: Any, context: Context) -> Any:
        rows = [word.split(",") for word in raw.split()] if isinstance(raw, str) else raw
        if self.single and isinstance(rows, Sequence) and len(rows) == 2 and not isinstance(rows[0], Sequence):
            rows = [rows]
        found = []
        pairs: Sequence[Any] = rows if isinstance(rows, Sequence) else [None]
        for pair in pairs:
            try:
                x, y = (float(v) for v in pair)
            except (TypeError, ValueError):
                raise EditError(f"{self.label} are pairs of numbers in mm, such as 10,20") from None
            if not (abs(x) < 1e6 and abs(y) < 1e6 and math.isfinite(x) and math.isfinite(y)):
                raise EditError(f"{self.label}: {x:g}, {y:g} lies beyond a kilometre")
            found.append((x, y))
        if len(found) > MOST or (self.single and len(found) != 1):
            raise EditError(
                f"{self.label}: one place, please" if self.single else f"{self.label}: up to {MOST} places fit"
            )
        return found[0] if self.single else tuple(found)

    def show(self, value: Any, context: Context) -> str:
        pairs = [value] if self.single else value
        return " ".join(f"{x:.6g},{y:.6g}" for x, y in pairs)

    def schema(self) -> dict:
        return {"type": ["array", "string"], "description": self.help, "examples": ["10,20"]}


@dataclass(frozen=True)
class WordsField(Field):
    """Texts by name: an object, or text such as `tolerance=H7; before=2×`."""

    def read(self, raw: Any, context: Context) -> dict[str, str]:
        if isinstance(raw, str):
            pairs = [piece.partition("=") for piece in raw.split(";") if piece.strip()]
            raw = {key.strip(): value.strip() for key, _, value in pairs}
        if not isinstance(raw, Mapping) or len(raw) > 60:
            raise EditError(f"{self.label} are texts by name, such as tolerance=H7")
        found = {}
        for key, text in raw.items():
            if not re.fullmatch(r"[a-z][a-z0-9 _]{0,39}", str(key)) or not isinstance(text, (str, int, float)):
                raise EditError(f"{self.label}: “{str(key)[:30]}” is no name of a text; write tolerance=H7")
            found[str(key)] = str(text)[:2000]
        return found

    def show(self, value: dict[str, str], context: Context) -> str:
        return "; ".join(f"{key}={text}" for key, text in value.items())

    def schema(self) -> dict:
        return {"type": ["object", "string"], "description": self.help, "examples": ["tolerance=H7"]}
