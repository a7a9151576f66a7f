"""Everything like one face, on 1 500 faces: the first time, which reads them all, and after that."""

from __future__ import annotations

import math
import tempfile
import time
from pathlib import Path

from ravine.core import Model
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.model.alike import alike
from ravine.core.model.placement import IDENTITY

SIDES = 1498


def measure_alike() -> None:
    around = [2 * math.pi * k / SIDES for k in range(SIDES)]
    ring = [((300 + 2 * (k % 3)) * math.cos(a), 300 * math.sin(a), 0.0) for k, a in enumerate(around)]
    shape = build.extrude(build.outline(ring), (0, 0, 20))
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "ring.step"
        path.write_bytes(step.write([WriteNode("Ring", IDENTITY, 0, [])], [WritePart("Ring", shape, None, {})], "Ring"))
        model = Model()
        body = model.do("import", path=str(path)).added[0]
    faces = model.body(body).faces
    times = []
    for face in (faces[0], faces[7], faces[-1], faces[len(faces) // 2]):
        start = time.perf_counter()
        found = alike(model.snapshot, model.geometry, f"f{face}")
        times.append(1000 * (time.perf_counter() - start))
    print(f"alike on {len(faces)} faces: {times[0]:.0f} ms the first time, then {max(times[1:]):.0f} ms (budget 100), "
          f"{len(found)} criteria")  # fmt: skip
