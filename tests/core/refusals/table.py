"""A table of what edits refuse: on which model, with which values, in which words; and how a row is tried."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from tempfile import mkdtemp
from typing import Any

import pytest

from ravine.core import EditError, Model, UnknownId
from ravine.core.edits import find_edit
from tests.samples import BASES


@dataclass(frozen=True)
class Row:
    """words: that the reason has to hold; values: raw ones, asked of the model where they are functions; first: edits
    done before, of which each is a name and values; field: which the reason is about, where it has to say so."""

    edit: str
    base: str
    words: str
    values: dict[str, Any]
    first: Sequence[tuple[str, dict[str, Any]]] = ()
    field: str | None = None

    def __str__(self) -> str:
        return f"{self.edit}: {self.words}"


def no(
    edit: str, base: str, words: str, /, *first: tuple[str, dict[str, Any]], of: str | None = None, **values: Any
) -> Row:
    """A row: `no` such edit, for this reason."""
    return Row(edit, base, words, values, first, of)


def done(edit: str, **values: Any) -> tuple[str, dict[str, Any]]:
    """An edit that leads to where the refusal is."""
    return edit, values


@cache
def _base(name: str) -> Model:
    return BASES[name](Path(mkdtemp(prefix="ravine-refusals-")))


def asked(model: Model, values: dict[str, Any]) -> dict[str, Any]:
    return {key: value(model) if isinstance(value, Callable) else value for key, value in values.items()}


def tried(row: Row) -> None:
    """It is refused with these words, names things that are there, and nothing is changed."""
    origin = _base(row.base)
    model = Model(snapshot=origin.snapshot, geometry=origin.geometry)
    for name, values in row.first:
        model.do(name, **asked(model, values))
    before, steps, values = model.snapshot, len(model.journal), asked(model, row.values)
    assert set(values) <= set(find_edit(row.edit).fields())
    with pytest.raises((EditError, UnknownId)) as told:
        model.do(row.edit, **values)
    reason = getattr(told.value, "reason", str(told.value))
    assert re.search(re.escape(row.words), reason), reason
    assert 15 < len(reason) < 400
    assert model.snapshot is before
    assert len(model.journal) == steps
    if isinstance(told.value, EditError):
        assert row.field in (None, told.value.field)
        assert told.value.field in (None, *find_edit(row.edit).fields())
        if told.value.nearest is not None:
            assert told.value.nearest.strip()
