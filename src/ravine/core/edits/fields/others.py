"""Another model at one of its revisions."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ...errors import EditError
from ...model.link import OtherState
from .base import Context, Field

PARTS = {"model": int, "revision": int, "title": str, "state": str}


@dataclass(frozen=True)
class OtherField(Field):
    """Text as `3`, the newest of model 3, or `3:17`, revision 17 of it, which whoever keeps the models looks up; or
    what was looked up: an object with model, revision, title and state, the content address."""

    input = "other"

    def read(self, raw: Any, context: Context) -> OtherState:
        if isinstance(raw, Mapping):
            found: dict[str, Any] = {name: raw.get(name) for name in PARTS}
            if all(isinstance(found[name], kind) for name, kind in PARTS.items()):
                return OtherState(**found)
        elif (asked := written_out(raw)) is not None:
            return OtherState(asked[0], asked[1] or 0, f"model {asked[0]}", "")
        raise EditError(f"{self.label} is the number of a model, such as 3, or with a revision 3:17")

    def show(self, value: OtherState, context: Context) -> str:
        return f"{value.title}, revision {value.revision}" if value.revision else value.title

    def edit_text(self, value: OtherState, context: Context) -> str:
        return f"{value.model}:{value.revision}" if value.revision else str(value.model)

    def schema(self) -> dict:
        return {"type": ["string", "object"], "description": self.help, "examples": ["3", "3:17"]}


def written_out(raw: Any) -> tuple[int, int | None] | None:
    """The number of the model and that of the revision, None for the newest; None for what is neither."""
    found = re.fullmatch(r"\s*([0-9]{1,9})(?::([0-9]{1,9}))?\s*", str(raw)) if isinstance(raw, str | int) else None
    return (int(found[1]), int(found[2]) if found[2] else None) if found else None
