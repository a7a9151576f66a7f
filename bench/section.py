"""Cutting a model open: the outlines while the plane is dragged, the exact figure once it stands, a width in it."""

from __future__ import annotations

import statistics
import tempfile
import time
from functools import partial
from pathlib import Path

import numpy as np

from ravine.core import Model
from ravine.core.formats import step
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.kernel.slices import slice_faces
from ravine.core.rigid import IDENTITY, Rigid
from ravine.core.section.cut import cut_of, section_plane
from ravine.core.section.exact import figures_of
from ravine.core.section.width import width_at

from .parts import plate_375


def _timed(function) -> tuple[float, object]:  # type: ignore[no-untyped-def]
    start = time.perf_counter()
    found = function()
    return 1000 * (time.perf_counter() - start), found


def measure_section() -> None:
    for copies in (1, 8):
        _measure(plate_375(), copies)


def _measure(shape: Shape, copies: int) -> None:
    places = [WriteNode(f"Plate {k}", Rigid.slide((0, 0, 30 * k)), 0, []) for k in range(copies)]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "plate.step"
        root = places if copies == 1 else [WriteNode("Stack", IDENTITY, None, places)]
        path.write_bytes(step.write(root, [WritePart("Plate", shape, None, {})], "Plate"))
        model = Model()
        model.do("import", path=str(path))
    plane = section_plane((0, 80.3, 0, 0, -1, 0))
    first, _ = _timed(lambda: _live(model, 80.0))
    times = sorted(_timed(partial(_live, model, at))[0] for at in np.linspace(12, 150, 30).tolist())
    exact, figures = _timed(lambda: figures_of(model.snapshot, model.geometry, plane))
    bare, _ = _timed(lambda: slice_faces(shape, plane.origin, plane.x, plane.normal))
    width, _ = _timed(lambda: width_at(figures, (31.0, 12.0)))
    print(f"section of {copies} × 375 faces: first {first:.0f} ms, dragged p50 {statistics.median(times):.1f}, "
          f"p95 {times[28]:.1f} ms; exact {exact:.0f} ms, {exact / bare / copies:.2f} of the bare kernel; "
          f"a width {width:.1f} ms")  # fmt: skip


def _live(model: Model, at: float) -> bytes:
    return cut_of(model.snapshot, model.geometry, section_plane((0, at, 0, 0, -1, 0))).packed()
