"""Damaged files of every format through the engine: read, refused, crashed, hung; and whether a library's words came
through."""

from __future__ import annotations

import random
import tempfile
import time
from collections import Counter
from pathlib import Path

from tests.damage import damaged, exact_samples, light_samples
from tests.parts import boss_block, step_file

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings

DEADLINE = 30.0  # seconds, past which a file counts as hanging


def measure_faults(each: int = 30) -> None:
    """each: files of each format."""
    draw, empty = random.Random(0), Snapshot()
    engine = LocalEngine(Settings(hands=1, memory_bytes=3 << 30))
    try:
        with tempfile.TemporaryDirectory() as folder:
            step = step_file(Path(folder) / "whole.step", boss_block()).read_bytes()
            for name, whole in [*exact_samples(boss_block(), step), *light_samples()]:
                counts: Counter[str] = Counter()
                slowest = 0.0
                for _ in range(each):
                    path = Path(folder) / name
                    path.write_bytes(damaged(whole, draw))
                    began = time.perf_counter()
                    counts[_tried(engine, path, empty)] += 1
                    slowest = max(slowest, time.perf_counter() - began)
                told = ", ".join(f"{n} {kind}" for kind, n in counts.most_common())
                print(f"  {name[2:]:5} {each} files: {told}; slowest {slowest:.1f} s")
    finally:
        engine.close()


def _tried(engine: LocalEngine, path: Path, empty: Snapshot) -> str:
    values = {"path": str(path), "units": "mm"}
    args = {"snapshot": empty.key(), "name": "import", "values": values, "meshes": True}
    try:
        engine.call("edit", args, deadline=DEADLINE, blobs={empty.key(): empty.to_json().encode()}.get)
    except RavineError as error:
        told = str(error)
        return next((kind for words, kind in KINDS if words in told), "refused")
    return "read"


KINDS = (
    ("crashed", "crashed"), ("did not finish", "hung"), ("more memory", "out of memory"), ("at fault", "our fault"),
    ("gave up", "kernel gave up"),
)  # fmt: skip
