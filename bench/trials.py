"""Trials of every family in every variant (tests/trials), against the part built anew at the new sizes: a table of
edits by variant, and what was not right by name."""

from __future__ import annotations

import tempfile
from collections import Counter
from collections.abc import Sequence
from pathlib import Path

from tests.trials.judging import FAMILIES, VARIANTS, Part

from .pushing import spread

KINDS = ("right", "wrong", "invalid", "refused")


def measure_trials(seeds: Sequence[int]) -> None:
    every: Counter[str] = Counter()
    for variant in VARIANTS:
        by_edit: dict[str, Counter[str]] = {}
        times: list[float] = []
        for family in FAMILIES:
            for seed in seeds:
                with tempfile.TemporaryDirectory() as folder:
                    part = Part(Path(folder), family, seed, variant)
                for trial in part.trials:
                    verdict = part.tried(trial)
                    by_edit.setdefault(trial.edit, Counter())[verdict.kind] += 1
                    times.append(verdict.seconds)
                    if verdict.kind != "right":
                        print(f"    {variant}, {family}: {trial.edit}, {trial}: {verdict.kind} {verdict.told[:80]}")
        counts = sum(by_edit.values(), Counter[str]())
        every += counts
        print(f"  {variant:8} {_told(counts)}; {spread(times)}")
        print("           " + "; ".join(f"{edit} {_row(row)}" for edit, row in sorted(by_edit.items())))
    print(f"  all      {_told(every)}")


def _told(counts: Counter[str]) -> str:
    told = ", ".join(f"{counts[kind]} {kind}" for kind in KINDS)
    return f"{told} ({100 * counts['right'] / counts.total():.1f} % right)"


def _row(counts: Counter[str]) -> str:
    """Right of all, and what else there was."""
    others = "".join(f", {counts[kind]} {kind}" for kind in KINDS[1:] if counts[kind])
    return f"{counts['right']} of {counts.total()}{others}"
