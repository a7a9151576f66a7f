"""`python -m ravine.cli.typed_calls`: write core/calls.pyi, the typed calls of every edit and study."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import ravine.core
from ravine.core.edits import registry
from ravine.core.edits.declared import Declared
from ravine.core.edits.fields import Field, PickField
from ravine.core.studies import studies

TARGET = Path(ravine.core.__file__).with_name("calls.pyi")
HEAD = '''"""Written by `python -m ravine.cli.typed_calls` from the declarations of edits and studies; not by hand."""

from collections.abc import Mapping, Sequence
from typing import Any, Literal, Protocol, overload

from .edits.perform import Change
from .study_face import StudyFace

class HasId(Protocol):
    @property
    def id(self) -> str: ...

Picks = str | HasId | Sequence[str | HasId]

class Calls:
    def do_named(self, name: str, values: Mapping[str, Any]) -> Change: ...
    def study_named(self, name: str, values: Mapping[str, Any]) -> Any: ...
    def study_of_strength(self, parts: Sequence[str] = ..., called: str | None = ...) -> StudyFace: ...
'''
STRENGTH = """    @overload
    def study(self, *, parts: Sequence[str] = ..., called: str | None = ...) -> StudyFace: ...
"""
TYPES = {"string": "str", "number": "float", "integer": "int", "boolean": "bool", "object": "Mapping[str, Any]"}


def _type(schema: dict[str, Any]) -> str:
    if "enum" in schema:
        return f"Literal[{', '.join(repr(v) for v in schema['enum'])}]"
    kinds = schema["type"] if isinstance(schema["type"], list) else [schema["type"]]
    items = _type(schema["items"]) if "items" in schema else "Any"
    return " | ".join(f"Sequence[{items}]" if kind == "array" else TYPES[kind] for kind in kinds)


def _argument(name: str, field: Field) -> str:
    kind = "Picks" if isinstance(field, PickField) else _type(field.schema())
    return f"{name}: {kind}" + ("" if field.required else " = ...")


def _overloads(call: str, answer: str, declared: Iterable[type[Declared]]) -> str:
    lines = []
    for cls in sorted(declared, key=lambda c: c.name):
        arguments = [f"call: Literal[{cls.name!r}]", "/", *(["*"] if cls.fields() else [])]
        words = {field: word for word, field in cls.spelled.items()}
        arguments += [_argument(words.get(n, n), f) for n, f in cls.fields().items()]
        lines += ["    @overload", f"    def {call}(self, {', '.join(arguments)}) -> {answer}: ..."]
    return "\n".join(lines).replace("'", '"') + "\n"


def text() -> str:
    """What the file has to hold for the declarations as they are."""
    raw = (
        HEAD
        + _overloads("do", "Change", registry().values())
        + STRENGTH
        + _overloads("study", "Any", studies().values())
    )
    ruff = [Path(sys.executable).with_name("ruff"), "format", "--stdin-filename", str(TARGET), "-"]
    return subprocess.run(ruff, input=raw, capture_output=True, text=True, check=True).stdout


if __name__ == "__main__":
    TARGET.write_text(text())
