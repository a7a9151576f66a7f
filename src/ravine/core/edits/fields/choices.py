"""Words: one of several, names, colours, files, pieces."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ...errors import EditError
from ...model.words import plain_text
from .base import Context, Field


@dataclass(frozen=True)
class ChoiceField(Field):
    """One of a few words; `options` maps the value to how it reads in the sentence."""

    options: Mapping[str, str] = dataclasses.field(default_factory=dict)
    input = "choice"

    def read(self, raw: Any, context: Context) -> str:
        if isinstance(raw, str) and raw in self.options:
            return raw
        for value, words in self.options.items():
            if isinstance(raw, str) and raw.strip().lower() in (value.lower(), words.lower()):
                return value
        raise EditError(f"{self.label} is one of: {', '.join(self.options)}; got “{str(raw)[:40]}”")

    def show(self, value: str, context: Context) -> str:
        return self.options[value]

    def edit_text(self, value: str, context: Context) -> str:
        return value

    def schema(self) -> dict:
        return {"enum": list(self.options), "description": self.help}


@dataclass(frozen=True)
class TextField(Field):
    limit: int = 120
    input = "text"

    def read(self, raw: Any, context: Context) -> str:
        if not isinstance(raw, str):
            raise EditError(f"{self.label} takes text")
        text = plain_text(raw)
        if not text:
            raise EditError(f"{self.label} is empty; give at least one letter")
        if len(text) > self.limit:
            raise EditError(f"{self.label} has {len(text)} letters; up to {self.limit} fit", nearest=text[: self.limit])
        return text

    def schema(self) -> dict:
        return {"type": "string", "maxLength": self.limit, "description": self.help}


@dataclass(frozen=True)
class LinesField(TextField):
    """Text whose lines matter, as that of a table."""

    def read(self, raw: Any, context: Context) -> str:
        if not isinstance(raw, str) or not raw.strip():
            raise EditError(f"{self.label} takes text")
        if len(raw) > self.limit:
            raise EditError(f"{self.label} has {len(raw)} letters; up to {self.limit} fit")
        return raw

    def show(self, value: str, context: Context) -> str:
        return value.strip().splitlines()[0][:40] + " …"

    def edit_text(self, value: str, context: Context) -> str:
        return value


@dataclass(frozen=True)
class NamesField(TextField):
    """Names or ids, several; a script may give them as a list."""

    def read(self, raw: Any, context: Context) -> Any:
        rows = re.split(r"[,\s]+", raw.strip()) if isinstance(raw, str) else raw
        if not isinstance(rows, Sequence) or not all(isinstance(r, str) and r for r in rows):
            raise EditError(f"{self.label} takes names or ids, such as d12")
        return tuple(dict.fromkeys(super(NamesField, self).read(r, context) for r in rows))

    def show(self, value: Any, context: Context) -> str:
        return ", ".join(value)

    def edit_text(self, value: Any, context: Context) -> str:
        return " ".join(value)

    def schema(self) -> dict:
        return {"type": ["array", "string"], "items": {"type": "string"}, "description": self.help}


@dataclass(frozen=True)
class RowsField(Field):
    """Names with a text each, as `wall = 3 mm; reach = 40`; a script may give them as a mapping."""

    limit: int = 200  # rows

    def read(self, raw: Any, context: Context) -> Any:
        if isinstance(raw, str):
            pairs = [row.partition("=")[::2] for row in re.split(r"[;\n]", raw) if row.strip()]
        elif isinstance(raw, Mapping):
            pairs = [(name, value if isinstance(value, str) else repr(value)) for name, value in raw.items()]
        else:
            pairs = []
        found = {str(name).strip(): text.strip() for name, text in pairs}
        if not found or not all(found) or not all(found.values()) or len(found) < len(pairs):
            raise EditError(f"{self.label} are given as wall = 3 mm; reach = 40, each name once")
        if len(found) > self.limit:
            raise EditError(f"{self.label} are {len(found)}; up to {self.limit} are set at once")
        return found

    def show(self, value: Any, context: Context) -> str:
        return ", ".join(f"{name} to {text}" for name, text in value.items())

    def edit_text(self, value: Any, context: Context) -> str:
        return "; ".join(f"{name} = {text}" for name, text in value.items())

    def schema(self) -> dict:
        return {"type": ["object", "string"], "description": self.help}


@dataclass(frozen=True)
class TableField(Field):
    """Rows of texts by name: names in the first line, a row in each further one, semicolons or tabs between.  A script
    may give a list of mappings."""

    limit: int = 2000  # rows

    def read(self, raw: Any, context: Context) -> Any:
        rows = self._of_text(raw) if isinstance(raw, str) else raw
        whole = isinstance(rows, Sequence) and all(isinstance(r, Mapping) for r in rows)
        if not whole or not all(isinstance(v, (str, int, float)) for r in rows for v in r.values()):
            raise EditError(f"{self.label} are a list of values by name, or a table with names in its first line")
        if len(rows) > self.limit:
            raise EditError(f"{self.label} are {len(rows):,}; up to {self.limit:,} are kept")
        return tuple(
            {str(n)[:31]: v.strip()[:200] if isinstance(v, str) else repr(v) for n, v in r.items()} for r in rows
        )

    def _of_text(self, raw: str) -> list[dict[str, str]]:
        lines = [re.split(r"[;\t]", line) for line in raw.splitlines() if line.strip()]
        names = [n.strip() for n in lines[0]] if lines else []
        if any(len(line) > len(names) for line in lines):
            raise EditError(f"{self.label}: a line has more values than the first has names")
        return [{n: v.strip() for n, v in zip(names, line, strict=False) if v.strip()} for line in lines[1:]]

    def show(self, value: Any, context: Context) -> str:
        return f"{len(value)} row{'s' if len(value) != 1 else ''}"

    def edit_text(self, value: Any, context: Context) -> str:
        names = list(dict.fromkeys(n for row in value for n in row))
        return "\n".join(";".join(row) for row in [names, *([r.get(n, "") for n in names] for r in value)])

    def schema(self) -> dict:
        return {"type": ["array", "string"], "description": self.help}


@dataclass(frozen=True)
class ColourField(Field):
    input = "colour"

    def read(self, raw: Any, context: Context) -> str:
        text = raw.strip().lower() if isinstance(raw, str) else ""
        if re.fullmatch(r"#[0-9a-f]{3}", text):
            text = "#" + "".join(2 * c for c in text[1:])
        if not re.fullmatch(r"#[0-9a-f]{6}", text):
            raise EditError(f"{self.label} takes a colour as six hexadecimal digits, such as #7c8b86")
        return text

    def schema(self) -> dict:
        return {"type": "string", "pattern": "^#[0-9a-fA-F]{6}$", "description": self.help}


@dataclass(frozen=True)
class PiecesField(Field):
    """Numbers of pieces, from 1: `2 3`."""

    input = "pieces"

    def read(self, raw: Any, context: Context) -> tuple[int, ...]:
        words = (
            re.split(r"[\s,]+", raw.strip())
            if isinstance(raw, str)
            else raw
            if isinstance(raw, list | tuple)
            else [raw]
        )
        if not all(re.fullmatch(r"[1-9][0-9]{0,3}", str(w)) for w in words):
            raise EditError(f"{self.label} are numbers such as 2 3; got “{str(raw)[:40]}”")
        return tuple(dict.fromkeys(int(w) for w in words))

    def show(self, value: tuple[int, ...], context: Context) -> str:
        return " and ".join(map(str, value)) if value else self.blank

    def edit_text(self, value: tuple[int, ...], context: Context) -> str:
        return " ".join(map(str, value))

    def schema(self) -> dict:
        return {"type": "string", "description": self.help, "examples": ["2 3"]}


@dataclass(frozen=True)
class FileField(Field):
    """A file to read; the value is its path.  In stored sentences only the name is kept."""

    input = "file"

    def read(self, raw: Any, context: Context) -> str:
        if not isinstance(raw, str) or not raw:
            raise EditError(f"{self.label} takes the path of a file")
        return raw

    def show(self, value: str, context: Context) -> str:
        return re.split(r"[\\/]", value)[-1]
