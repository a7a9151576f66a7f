"""Drawings: views of the plate with 375 faces and of demo parts against the kernel's bare hidden lines, a sheet of
six views and eighty sizes, what one edit costs it, files."""

from __future__ import annotations

import statistics
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape
from tests.parts import model_of

from ravine.core.drawing.projection import ViewFrame
from ravine.core.drawing.sheet import ink_sheet
from ravine.core.drawing.view_lines import lines_of
from ravine.core.drawing.writing import dxf_of, pdf_of, svg_of
from ravine.core.kernel.hidden_lines import _projector
from ravine.core.kernel.serial import from_bytes, to_bytes
from ravine.core.kernel.shapes import Shape
from ravine.core.model.records import DRAWINGS
from ravine.demo.logger_housing import logger_housing
from ravine.demo.mast_clamp import mast_clamp
from ravine.demo.rotor import rotor

from .parts import plate_375

LOOKS = {"front": ((0, -1, 0), (1, 0, 0)), "top": ((0, 0, 1), (1, 0, 0)), "corner": ((1, -1, 1), (1, 1, 0))}


def timed(function: Callable[[], object]) -> float:
    began = time.perf_counter()
    function()
    return time.perf_counter() - began


def bare(shape: Shape, frame: ViewFrame) -> None:
    """The kernel's own way, exactly along the direction, without tracing."""
    found = HLRBRep_Algo()
    found.Add(shape, 0)
    found.Projector(_projector(frame.eye, frame.right))
    found.Update()
    found.Hide()
    HLRBRep_HLRToShape(found).VCompound()


def measure_drawing() -> None:
    print(f"{'part':<8} {'view':<7} {'kernel ms':>10} {'ours ms':>8} {'ratio':>6} {'lines':>6}")
    for name, shape in (
        ("375", plate_375()),
        ("clamp", mast_clamp()),
        ("housing", logger_housing()),
        ("rotor", rotor()),
    ):
        for look, (eye, right) in LOOKS.items():
            e, r = (np.array(v, float) / np.linalg.norm(v) for v in (eye, right))
            frame = ViewFrame(r, np.cross(e, r), e, np.zeros(3))
            fresh, own = (from_bytes(to_bytes(shape)) for _ in range(2))
            a = timed(lambda s=fresh, f=frame: bare(s, f))  # type: ignore[misc]
            rows: list = []
            b = timed(lambda s=own, f=frame, out=rows: out.extend(lines_of([s], f)))  # type: ignore[misc]
            print(f"{name:<8} {look:<7} {1e3 * a:>10.0f} {1e3 * b:>8.0f} {b / a:>6.2f} {len(rows):>6}", flush=True)
    with tempfile.TemporaryDirectory() as folder:
        _sheet(Path(folder))


def _sheet(folder: Path) -> None:
    model, body = model_of(folder, plate_375())
    proposed = timed(lambda: (model.do("begin sheet", size="A1"), model.do("propose sizes")))
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    front = min(sheet.views)
    model.do("add view", beside=front, side="right")
    model.do("cut view", view=front, toward="left")
    edges = [e.id for e in model.edges(body, kind="line", direction=(1, 0, 0))][:80]
    top = next(n for n, v in sheet.views.items() if v.eye == (0, 0, 1))
    for k, edge in enumerate(edges):
        model.do("write on sheet", kind="distance", on=[edge], view=top, at=(0, -60 - 2 * k))
    (sheet,) = model.snapshot.kept(DRAWINGS).values()
    wide, high = (ink_sheet(model.snapshot, model.geometry, sheet).boxes[top][k + 2] for k in (0, 1))
    bent = timed(lambda: model.do("cut view", view=top, line=[[-wide, 0], [0, 0], [wide, 0.3 * high]]))
    model.undo()
    print(f"a bent section cut and placed {bent:.2f} s")
    print(f"begun and sizes proposed {proposed:.1f} s; {len(sheet.views)} views, {len(sheet.items)} items")
    again = timed(lambda: ink_sheet(model.snapshot, model.geometry, sheet))
    item = max(sheet.items)
    moves = [timed(partial(model.study_named, "sheet item", {"item": item, "at": [0.0, -60.0 - k]})) for k in range(40)]
    print(f"drawn again {1e3 * again:.0f} ms; a size under the hand {1e3 * statistics.median(moves):.1f} ms, p95 "
          f"{1e3 * sorted(moves)[37]:.1f} ms")  # fmt: skip
    face = max(model.faces(body, kind="plane", normal=(1, 0, 0)), key=lambda f: f.area).id
    model.do("push", faces=[face], distance=1)
    changed = timed(lambda: ink_sheet(model.snapshot, model.geometry, sheet))
    print(f"after an edit of its part {changed:.1f} s (all {len(sheet.views)} views show it)")
    inked = ink_sheet(model.snapshot, model.geometry, sheet).inked(sheet.name)
    for kind, write in (
        ("pdf", lambda: pdf_of([inked], "x")),
        ("dxf", lambda: dxf_of(inked)),
        ("svg", lambda: svg_of(inked)),
    ):
        data: list[bytes] = []
        seconds = timed(lambda w=write, out=data: out.append(w()))  # type: ignore[misc]
        print(f"{kind} {1e3 * seconds:.0f} ms, {len(data[0]) // 1024} kB")
