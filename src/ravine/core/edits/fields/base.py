"""What every field has, and what it may need to read a value."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from ...model.snapshot import Snapshot

if TYPE_CHECKING:
    from ...model.geometry import GeometryStore

REQUIRED = object()


@dataclass(frozen=True)
class Context:
    """What a field may need to read and to show a value; store: of geometry, which numbers and words do without."""

    snapshot: Snapshot
    store: GeometryStore | None = None
    decimal_comma: bool = False

    @property
    def geometry(self) -> GeometryStore:
        """Raises LookupError where the state is known without its shapes."""
        if self.store is None:
            raise LookupError("these values are read without geometry")
        return self.store


@dataclass(frozen=True)
class Field:
    """label: what the field is called when it stands alone; help: one sentence for the reference page; instead: the
    optional field that makes this one needless; blank: how an optional field reads while it is empty;
    only: a choice and the values of it for which this field says anything"""

    label: str
    help: str
    default: Any = REQUIRED
    instead: str = dataclasses.field(default="", kw_only=True)
    blank: str = dataclasses.field(default="", kw_only=True)
    only: tuple[str, ...] = dataclasses.field(default=(), kw_only=True)
    input = "text"

    @property
    def required(self) -> bool:
        return self.default is REQUIRED

    def read(self, raw: Any, context: Context) -> Any:
        raise NotImplementedError

    def show(self, value: Any, context: Context) -> str:
        """As it stands in the sentence."""
        return str(value)

    def edit_text(self, value: Any, context: Context) -> str:
        """As it stands in an input; `read` takes it back."""
        return self.show(value, context)

    def schema(self) -> dict:
        """JSON schema of the raw value."""
        return {"type": "string", "description": self.help}
