"""Trials of every family in every variant (tests/trials), against the part built anew at the new sizes."""

from __future__ import annotations

import tempfile
from collections import Counter
from pathlib import Path

from tests.trials.judging import FAMILIES, VARIANTS, Part

from .pushing import spread

SEEDS = (0, 1)


def measure_trials() -> None:
    every: Counter[str] = Counter()
    for variant in VARIANTS:
        counts: Counter[str] = Counter()
        times: list[float] = []
        for family in FAMILIES:
            for seed in SEEDS:
                with tempfile.TemporaryDirectory() as folder:
                    part = Part(Path(folder), family, seed, variant)
                for trial in part.trials:
                    verdict = part.tried(trial)
                    counts[verdict.kind] += 1
                    times.append(verdict.seconds)
                    if verdict.kind != "right":
                        print(f"    {variant}, {family}: {trial.edit}, {trial}: {verdict.kind} {verdict.told[:80]}")
        every += counts
        told = ", ".join(f"{counts[kind]} {kind}" for kind in ("right", "wrong", "invalid", "refused"))
        print(f"  {variant:8} {told} ({100 * counts['right'] / counts.total():.1f} % right); {spread(times)}")
    print(f"  all      {', '.join(f'{n} {kind}' for kind, n in every.items())}")
