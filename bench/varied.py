"""Pushes on parts of ten families with drawn sizes (tests/varied.py): how many succeed, and what they take."""

from __future__ import annotations

from tests.varied import FAMILIES, varied

from ravine.core.session import Model

from .pushing import Told, brought_in

SEEDS = (21, 22)
SIZES = (0.1, -0.1, 1.0, -1.0)


def measure_varied() -> None:
    every = Told()
    for family in FAMILIES:
        told = Told()
        for seed in SEEDS:
            shape = varied(family, seed)
            if shape is None:
                continue
            model = Model()
            for face in brought_in(model, shape):
                for distance in SIZES:
                    told.push(model, face, distance)
        every.counts.update(told.counts)
        every.times += told.times
        told.show(f"{family:10}")
    every.show("all       ", 0)
