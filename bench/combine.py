"""Booleans: the whole edit against the bare kernel call on the same solids."""

from __future__ import annotations

import statistics
import time

from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse

from ravine.core import Model
from ravine.core.edits.perform import perform
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.boolean import shape_list
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.shapes import Shape
from ravine.core.operations.work import Mode, Work
from ravine.core.rigid import IDENTITY

from .parts import plate_375

BARE = {"unite": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "common": BRepAlgoAPI_Common}


def bare(kind: str, a: Shape, b: Shape) -> None:
    tool = BARE[kind]()
    tool.SetArguments(shape_list([a]))
    tool.SetTools(shape_list([b]))
    tool.SetNonDestructive(True)
    tool.SetRunParallel(True)
    tool.Build()


def measure_combine(path: str) -> None:
    """`path`: where a file may be written."""
    knife = build.unite(build.box(60, 12, 60, (20, 20, -20)), build.cylinder(9, 90, (60, 60, -30)))
    parts = [WritePart("Plate", plate_375(), None, {}), WritePart("Knife", knife, None, {})]
    with open(path, "wb") as file:
        file.write(step.write([WriteNode(p.name, IDENTITY, i, []) for i, p in enumerate(parts)], parts, "Both"))
    model = Model()
    model.do("import", path=path)
    plate, tool = model.nodes("Plate")[0], model.nodes("Knife")[0]
    shapes = [model.geometry.solid(b.shape).shape for b in model.snapshot.bodies.values()][:2]
    for kind in BARE:
        rows: tuple[list[float], list[float]] = ([], [])
        for _ in range(7):
            began = time.perf_counter()
            bare(kind, *shapes)
            rows[0].append(time.perf_counter() - began)
            began = time.perf_counter()
            values = {"part": [plate], "tools": [tool], "way": kind}
            perform("combine", values, Work(model.snapshot, model.geometry, mode=Mode.PROBE))
            rows[1].append(time.perf_counter() - began)
        a, b = (statistics.median(row) for row in rows)
        print(f"{kind} of a 375-face plate and a knife: bare {a * 1e3:.0f} ms, edit {b * 1e3:.0f} ms, "
              f"ratio {b / a:.2f} (budget 1.3)")  # fmt: skip
