"""Every edit by name."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Any, dataclass_transform

from .base import Edit, PickSummary
from .declared import field, no_such

_REGISTRY: dict[str, type[Edit]] = {}


@dataclass_transform(frozen_default=True, kw_only_default=True, field_specifiers=(field,))
def edit(cls: type[Any]) -> Any:
    """Class decorator: make it a frozen dataclass and enter it in the registry."""
    declared = dataclass(frozen=True, kw_only=True)(cls)
    if declared.name in _REGISTRY:
        raise ValueError(f"two edits are called {declared.name}")
    slots = set(re.findall(r"\{(\w+)\}", declared.sentence + declared.past))
    if not slots <= set(declared.fields()):
        raise ValueError(f"{declared.name}: the sentence has gaps that are not declared: {slots}")
    _REGISTRY[declared.name] = declared
    return declared


def registry() -> dict[str, type[Edit]]:
    """All edits by name, in the order in which they are offered."""
    return dict(sorted(_REGISTRY.items(), key=lambda item: item[1].rank))


def offered(pick: PickSummary, stage: str) -> list[type[Edit]]:
    """Edits that fit what is picked; with nothing picked, those of the stage: first what is always there."""
    every = registry().values()
    if pick.kind:
        around = replace(pick, kind="face", face_kinds=frozenset({"cylinder"}), hollow=True) if pick.rims else pick
        return [e for e in every if e.offers(pick) or e.offers(around)]
    of_stage = [e for e in every if stage in e.stages]
    return [e for e in of_stage if not e.offered_for] + [e for e in of_stage if e.offered_for and e.offers(pick)]


def starting_with(text: str) -> list[tuple[type[Edit], str]]:
    """Edits that typed text may begin, with the word that fits: their own names before other words for them."""
    start = text.lower().strip()
    if not start:
        return []
    every = registry().values()
    own = [(e, e.name) for e in every if e.name.startswith(start)]
    known = {e.name for e, _ in own}
    fits = ((e, next((w for w in e.also if w.startswith(start)), "")) for e in every if e.name not in known)
    return own + [(e, word) for e, word in fits if word]


def find_edit(name: str) -> type[Edit]:
    found = _REGISTRY.get(name)
    if found is None:
        raise no_such("edit", name, _REGISTRY)
    return found
