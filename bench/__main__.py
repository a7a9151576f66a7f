"""`./ravine bench [NAMES]`: import, push, local, combine, sketch, mending, meshes, alike, section, stack, trials,
chains, faults, crowd, varied, view, features, dimensions, variants, assembly, sheet, simulate, printing,
drawing, sharing, review.

All without a name.  One table a measurement.  --many: trials, chains, faults, crowd and sheet in their long form.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from ravine.core import Model
from ravine.core.edits.perform import perform
from ravine.core.formats import step
from ravine.core.kernel import boolean, exchange, tessellate
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.queries import plane_normal
from ravine.core.operations.work import Mode, Work
from ravine.core.rigid import IDENTITY
from ravine.core.view.packet import pack

from .alike import measure_alike
from .assembly import measure_assembly
from .chains import measure_chains
from .combine import measure_combine
from .crowd import measure_crowd
from .drawing import measure_drawing
from .faults import measure_faults
from .features import measure_dimensions, measure_features, measure_variants
from .local import measure_local
from .mending import measure_mending
from .meshes import measure_meshes
from .parts import plate_375
from .printing import measure_printing
from .section import measure_section
from .sharing import measure_review, measure_sharing
from .sheet import measure_sheet
from .simulate import measure_simulate
from .sketch import measure_sketch
from .stack import measure_stack
from .trials import measure_trials
from .varied import measure_varied
from .view import measure_view


def alternately(first: Callable[[], object], second: Callable[[], object], times: int = 7) -> tuple[float, float]:
    """Median seconds of each, run in turn so that a machine that drifts slows both alike."""
    found: tuple[list[float], list[float]] = ([], [])
    for _ in range(times):
        for function, row in zip((first, second), found, strict=True):
            began = time.perf_counter()
            function()
            row.append(time.perf_counter() - began)
    return statistics.median(found[0]), statistics.median(found[1])


def part_file(folder: Path) -> Path:
    path = folder / "plate-375.step"
    path.write_bytes(
        step.write([WriteNode("Plate", IDENTITY, 0, [])], [WritePart("Plate", plate_375(), None, {})], "Plate")
    )
    return path


def measure_import(path: Path) -> None:
    def bare() -> None:
        tree = exchange.read_step(str(path), lambda fraction, words: None)
        shape = tree.parts[0].shape
        tessellate.mesh(shape, tessellate.view_deflection(shape))

    def ours() -> None:
        Model().do("import", path=str(path))

    bare()
    a, b = alternately(bare, ours)
    print(f"import of a 375-face STEP: bare kernel read + mesh {a * 1e3:.0f} ms, ours {b * 1e3:.0f} ms, "
          f"ratio {b / a:.2f} (budget 1.5)")  # fmt: skip


def measure_push(path: Path) -> None:
    """Plane faces in turn, out by 2 mm, against the bare prism and boolean, which leaves split faces."""
    model = Model()
    body = model.do("import", path=str(path)).added[0]
    pack(model.geometry.get(model.body(body).shape))
    faces = model.faces(body, kind="plane")[::4]
    bare, ours, previews, failed = [], [], [], 0
    for face in faces:
        solid = model.geometry.solid(model.body(body).shape)
        shape = solid.index.get("face", face.index)
        normal = plane_normal(shape)
        began = time.perf_counter()
        tool = boolean.prism(solid.index, shape, [2 * c for c in normal])
        boolean.combine("unite", solid.shape, [tool.shape], merge=False)
        bare.append(time.perf_counter() - began)
        for preview, times in ((False, ours), (True, previews)):
            mode = Mode.DRAG if preview else Mode.COMMIT
            began = time.perf_counter()
            try:
                values = {"faces": [face.id], "distance": "2 mm"}
                with model.geometry.drafts(preview):
                    _, change = perform("push", values, Work(model.snapshot, model.geometry, mode=mode))
                    after = change.after.bodies[int(body[1:])].shape
                    pack(model.geometry.get(after), model.geometry.solid(model.body(body).shape), "base")
            except Exception as error:  # noqa: BLE001  counted and shown
                failed += 1
                print("  refused:", error)
            times.append(time.perf_counter() - began)

    def tell(what: str, row: list[float]) -> None:
        row = sorted(row)
        print(f"  {what}: p50 {row[len(row) // 2] * 1e3:.0f} ms, p95 {row[int(len(row) * 0.95)] * 1e3:.0f} ms")

    ratio = statistics.median(ours) / statistics.median(bare)
    print(f"push of {len(faces)} plane faces by 2 mm, {failed // 2} refused, edit to bare {ratio:.2f}")
    tell("bare prism and boolean", bare)
    tell("edit with its packet", ours)
    tell("preview with its packet", previews)


def main(names: list[str]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = part_file(Path(folder))
        if not names or "import" in names:
            measure_import(path)
        if not names or "push" in names:
            measure_push(path)
        if not names or "local" in names:
            measure_local()
        if not names or "combine" in names:
            measure_combine(str(Path(folder) / "both.step"))
        if not names or "sketch" in names:
            measure_sketch()
        if not names or "mending" in names:
            measure_mending()
        if not names or "meshes" in names:
            measure_meshes(folder)
        if not names or "alike" in names:
            measure_alike()
        if not names or "section" in names:
            measure_section()
        if not names or "stack" in names:
            measure_stack(Path(folder), path)
        many = "--many" in names
        names = [name for name in names if name != "--many"]
        if not names or "trials" in names:
            measure_trials(range(8) if many else (0, 1))
        if not names or "chains" in names:
            measure_chains(100_000 if many else 2000)
        if not names or "faults" in names:
            measure_faults(1000 if many else 30)
        if not names or "crowd" in names:
            measure_crowd(Path(folder), path, 10_000 if many else 300)
        if not names or "varied" in names:
            measure_varied()
        if not names or "view" in names:
            measure_view()
        if not names or "assembly" in names:
            print("assembly:")
            measure_assembly()
        if not names or "sheet" in names:
            print("sheet:")
            measure_sheet(300 if many else 30)
        if not names or "simulate" in names:
            print("simulate:")
            measure_simulate()
        if not names or "printing" in names:
            print("printing:")
            measure_printing()
        if not names or "drawing" in names:
            print("drawing:")
            measure_drawing()
        if not names or "sharing" in names:
            measure_sharing()
        if not names or "review" in names:
            measure_review()
        if not names or "features" in names:
            measure_features()
        if not names or "dimensions" in names:
            measure_dimensions()
        if not names or "variants" in names:
            measure_variants()


if __name__ == "__main__":
    main(sys.argv[1:])
