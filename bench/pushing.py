"""Pushes of every face of a part, with all of the ladder: done, refused, without a reading, wrong."""

from __future__ import annotations

import tempfile
import time
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path

from ravine.core.edits.perform import perform
from ravine.core.errors import EditError
from ravine.core.formats import step
from ravine.core.kernel.check import fault
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.kernel.volumes import volume_properties
from ravine.core.operations.work import Mode, Work
from ravine.core.rigid import IDENTITY
from ravine.core.session import Model

NO_READING = ("its radius", "its width", "where rounds meet")  # no size any more, or none of its own


def spread(row: list[float]) -> str:
    row = sorted(row) or [0.0]
    return f"p50 {row[len(row) // 2] * 1e3:.0f} ms, p95 {row[int(len(row) * 0.95)] * 1e3:.0f} ms"


def brought_in(model: Model, shape: Shape) -> list[str]:
    """Ids of the faces of a shape imported into the model."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        path.write_bytes(step.write([WriteNode("Part", IDENTITY, 0, [])], [WritePart("Part", shape, None, {})], "Part"))
        body = model.do("import", path=str(path)).added[0]
    return model.faces(body).ids


@dataclass
class Told:
    """times: seconds of every push, refused ones included."""

    counts: Counter[str] = field(default_factory=Counter)
    why: Counter[str] = field(default_factory=Counter)
    times: list[float] = field(default_factory=list)

    def push(self, model: Model, face: str, distance: float) -> None:
        work = Work(model.snapshot, model.geometry, mode=Mode.PROBE)
        began = time.perf_counter()
        try:
            _, change = perform("push", {"faces": [face], "distance": distance}, work)
        except EditError as error:
            self.times.append(time.perf_counter() - began)
            reason = error.reason.split(": ", 1)[-1].split(" (")[0]
            refused = not any(words in reason for words in NO_READING)
            self.counts["refused" if refused else "no reading"] += 1
            if refused:
                self.why[reason[:90]] += 1
            return
        self.times.append(time.perf_counter() - began)
        self.counts["done"] += 1
        for body in change.after.bodies.values():
            solid = model.geometry.solid(body.shape)
            off = abs(volume_properties(solid.shape).amount - solid.volume_mm3) > 1e-6 * solid.volume_mm3
            self.counts["wrong"] += bool(off or fault(solid.shape) is not None)

    def share(self) -> str:
        done, refused = self.counts["done"], self.counts["refused"]
        share = 100 * done / max(done + refused, 1)
        others = f"{self.counts['no reading']} without a reading, {self.counts['wrong']} wrong"
        return f"{done} done, {refused} refused ({share:.1f} %), {others}"

    def show(self, name: str, most: int = 3) -> None:
        print(f"  {name}: {self.share()}; {spread(self.times)}")
        for reason, count in self.why.most_common(most):
            print(f"      {count} × {reason}")
