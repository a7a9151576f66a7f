"""Pushes on parts of ten families with drawn sizes (tests/varied.py): how many succeed, and what they take."""

from __future__ import annotations

import time
from collections import Counter

from tests.varied import FAMILIES, varied

from ravine.core.edits.base import Work
from ravine.core.errors import EditError
from ravine.core.kernel.check import fault
from ravine.core.kernel.volumes import volume_properties
from ravine.core.model.model import Model, perform

from .local import brought_in, spread

SEEDS = (21, 22)
SIZES = (0.1, -0.1, 1.0, -1.0)
NO_READING = ("its radius", "its width", "where rounds meet")  # no size any more, or none of its own


def measure_varied() -> None:
    every: Counter[str] = Counter()
    for family in FAMILIES:
        told: Counter[str] = Counter()
        why: Counter[str] = Counter()
        times: list[float] = []
        for seed in SEEDS:
            shape = varied(family, seed)
            if shape is None:
                continue
            model = Model()
            for face in brought_in(model, shape):
                for distance in SIZES:
                    times.append(_push(model, face, distance, told, why))
        every.update(told)
        print(f"  {family:10} {_share(told)}; {spread(times)}")
        for reason, count in why.most_common(3):
            print(f"      {count} × {reason}")
    print(f"  all        {_share(every)}")


def _push(model: Model, face: str, distance: float, told: Counter[str], why: Counter[str]) -> float:
    work = Work(model.snapshot, model.geometry, hints=False)
    began = time.perf_counter()
    try:
        _, change = perform("push", {"faces": [face], "distance": distance}, work)
    except EditError as error:
        seconds = time.perf_counter() - began
        reason = error.reason.split(": ", 1)[-1].split(" (")[0]
        refused = not any(words in reason for words in NO_READING)
        told["refused" if refused else "no reading"] += 1
        if refused:
            why[reason[:90]] += 1
        return seconds
    seconds = time.perf_counter() - began
    told["done"] += 1
    for body in change.after.bodies.values():
        solid = model.geometry.solid(body.shape)
        off = abs(volume_properties(solid.shape).amount - solid.volume_mm3) > 1e-6 * solid.volume_mm3
        told["wrong"] += bool(off or fault(solid.shape) is not None)
    return seconds


def _share(told: Counter[str]) -> str:
    done, refused = told["done"], told["refused"]
    share = 100 * done / max(done + refused, 1)
    return (
        f"{done} done, {refused} refused ({share:.1f} %), {told['no reading']} without a reading, {told['wrong']} wrong"
    )
