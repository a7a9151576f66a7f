"""How a dimension reads: prefix, value, tolerance."""

from __future__ import annotations

import re

from ...clearance.iso286 import Limits
from ...clearance.size_tolerance import read_tolerance
from ..lettering import Run
from .base import Setting


def value_runs(setting: Setting, mm: float, prefix: str = "") -> list[Run]:
    """prefix: as ⌀ or R.  Raises EditError for a tolerance that says nothing."""
    word = setting.word
    text = prefix + setting.number(mm)
    runs = [Run(word("before"))] if word("before") else []
    tolerance = word("tolerance")
    if word("role") == "exact":
        return [*runs, Run(text, around="box")]
    if word("role") == "reference":
        return [*runs, Run(f"({text})")]
    if not tolerance:
        return [*runs, Run(text), *_after(setting)]
    limits = read_tolerance(tolerance, mm, setting.snapshot.units)
    zone = bool(re.fullmatch(r"\s*[A-Za-z][0-9]{1,2}\s*", tolerance))
    if zone:
        runs += [Run(f"{text} {tolerance.strip()}")]
        if word("limits") == "shown":
            runs += [_stacked(setting, limits)]
    elif abs(limits.low + limits.high) < 1e-12:
        runs += [Run(f"{text} ±{setting.number(limits.high)}")]
    else:
        runs += [Run(text), _stacked(setting, limits)]
    return [*runs, *_after(setting)]


def _after(setting: Setting) -> list[Run]:
    return [Run(setting.word("after"))] if setting.word("after") else []


def _stacked(setting: Setting, limits: Limits) -> Run:
    def signed(mm: float) -> str:
        text = setting.number(mm)
        return text if text == "0" else text.replace("-", "−") if mm < 0 else f"+{text}"

    return Run(above=signed(limits.high), below=signed(limits.low))


def plain_text(runs: list[Run]) -> str:
    return " ".join(r.text or r.sign or f"{r.above}/{r.below}" for r in runs)
