"""The two calls by which a script changes and asks a model, with what they take read off the declarations.

`help(Model.do)` and `help(Model.study)` list everything there is; `calls.pyi`, written by `python -m
ravine.cli.typed_calls` from the same declarations, tells a type checker which values each of them takes.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, Any

from .edits.declared import Declared
from .edits.registry import registry
from .studies import studies

if TYPE_CHECKING:
    from .edits.perform import Change
    from .study_face import StudyFace


class Calls:
    """What `Model` and `calls.pyi` share."""

    def do(self, name: str, /, **values: Any) -> Change:
        return self.do_named(name, values)

    def study(self, name: str = "", /, **values: Any) -> Any:
        return self.study_named(name, values) if name else self.study_of_strength(**values)

    def do_named(self, name: str, values: Mapping[str, Any]) -> Change:
        """One edit by a name that is only known when it runs."""
        raise NotImplementedError

    def study_of_strength(self, parts: Sequence[str] = (), called: str | None = None) -> StudyFace:
        """Begun with parts (all when left out): `model.study(parts=…)`."""
        raise NotImplementedError

    def study_named(self, name: str, values: Mapping[str, Any]) -> Any:
        """One study by a name that is only known when it runs."""
        raise NotImplementedError


def _told(first: str, declared: Iterable[type[Declared]]) -> str:
    """A docstring that lists declarations with their fields; those that may be left out in brackets."""
    lines = [first, ""]
    for cls in sorted(declared, key=lambda c: c.name):
        fields = ", ".join(n if f.required else f"[{n}]" for n, f in cls.fields().items())
        lines += [f"{cls.name} ({fields})", f"    {cls.help}"]
        lines += [f"        {n}: {f.help}" for n, f in cls.fields().items()]
    return "\n".join(lines)


Calls.do.__doc__ = _told(
    "One edit by name, with raw values for its fields: text with units, bare numbers in model units, ids or what a "
    "query gave.\n\nReturns what changed.  Raises EditError and changes nothing when it cannot.",
    registry().values(),
)
Calls.study.__doc__ = _told(
    "A computation that changes nothing, by name, with raw values for its fields.\n\nReturns JSON data or bytes.  "
    "Raises EditError.",
    studies().values(),
)
