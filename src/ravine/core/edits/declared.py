"""What edits and studies have in common: values declared as fields on a frozen dataclass, and everything read off that.

The schema, the reading of raw values, the typed calls of scripts and the texts of `help(Model)` come from here.
"""

from __future__ import annotations

import dataclasses
import difflib
import importlib
import pkgutil
from collections.abc import Iterable, Mapping
from dataclasses import MISSING
from typing import Any, ClassVar, Self

from ..errors import EditError
from .fields import REQUIRED, Context, Field

MOST_NEAREST = 6


def no_such(what: str, asked: object, known: Iterable[str]) -> EditError:
    """With the names that come nearest to the one that was asked for."""
    text, names = str(asked), sorted(known)
    near = difflib.get_close_matches(text, names, MOST_NEAREST, 0.4) or [n for n in names if n[:1] == text[:1]] or names
    return EditError(f"there is no {what} “{text[:40]}”; nearest are {', '.join(near[:MOST_NEAREST])}")


class Declared:
    """name: in scripts, recipes and addresses; help: one sentence for the reference; spelled: fields by another word
    that raw values may have for them."""

    name: ClassVar[str]
    help: ClassVar[str]
    spelled: ClassVar[Mapping[str, str]] = {}

    @classmethod
    def fields(cls) -> dict[str, Field]:
        return {f.name: f.metadata["field"] for f in dataclasses.fields(cls)}  # type: ignore[arg-type]

    @classmethod
    def read(cls, raw: Mapping[str, Any], context: Context) -> Self:
        """Checked values from raw ones; what is left empty has its default.  Raises EditError naming the field."""
        fields = cls.fields()
        raw = {cls.spelled.get(key, key): value for key, value in raw.items()}
        unknown = [key for key in raw if key not in fields]
        if unknown:
            has = ", ".join(fields) or "none"
            raise EditError(f"{cls.name} has no field “{unknown[0][:40]}”; it has {has}", field=unknown[0][:40])
        return cls(**{name: _read(declared, name, raw.get(name), context) for name, declared in fields.items()})

    @classmethod
    def schema(cls) -> dict[str, Any]:
        """JSON schema of the raw values."""
        words = {field: word for word, field in cls.spelled.items()}
        return {
            "title": cls.name,
            "description": cls.help,
            "type": "object",
            "properties": {words.get(name, name): f.schema() for name, f in cls.fields().items()},
            "required": [words.get(name, name) for name, f in cls.fields().items() if f.required],
            "additionalProperties": False,
        }


def _read(declared: Field, name: str, given: Any, context: Context) -> Any:
    if given is None or given == "" or (given == [] and not declared.required):
        if declared.required:
            raise EditError(f"still empty: {declared.label}", field=name)
        return declared.default
    try:
        return declared.read(given, context)
    except EditError as error:
        error.field = name
        raise


def field(declared: Field) -> Any:
    """A dataclass field from a field."""
    default = MISSING if declared.default is REQUIRED else declared.default
    return dataclasses.field(default=default, metadata={"field": declared})


def load_family(package: str, path: Iterable[str]) -> None:
    """Enter everything that the modules of a folder declare; called once in its `__init__`."""
    for found in pkgutil.iter_modules(path):
        importlib.import_module(f"{package}.{found.name}")
