"""Joints, their solution and drag; the standing check; a tree of many parts."""

from __future__ import annotations

import statistics
import tempfile
import time
import tracemalloc
from dataclasses import replace
from pathlib import Path

from tests.core.test_joints import bar
from tests.parts import step_file

from ravine.core import Model
from ravine.core.assembly.assembled import assembled, settle
from ravine.core.formats import step
from ravine.core.kernel import build, exchange, tessellate
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.model.joint import Joint
from ravine.core.model.records import JOINTS
from ravine.core.model.snapshot import Snapshot
from ravine.core.operations.joints import follow_joints, moved_place
from ravine.core.operations.work import Work
from ravine.core.rigid import IDENTITY, Rigid
from ravine.core.view.packet import pack
from ravine.web.workbench import part_rows

LINKS, STEPS = 50, 20
PARTS = 300  # unlike one another
PLACES, BODIES = 2000, 50


def _chain(folder: Path) -> tuple[Model, Snapshot, list[str]]:
    """Fifty links in a row, each on the one before and hinged to it: a hundred joints."""
    model = Model()
    model.do("import", path=str(step_file(folder / "link.step", bar(40), "Link")))
    model.do("repeat parts", parts=model.nodes(), count=LINKS + 1, along="x", step=40)
    nodes, (body,) = model.nodes("Link"), model.bodies()
    low, high = sorted(model.faces(body, kind="cylinder"), key=lambda f: f.axis[0][0])
    top, under = (model.faces(body, kind="plane", normal=(0, 0, side)).highest((0, 0, side)).id for side in (1, -1))
    rows, number = {}, model.snapshot.next_id
    for one, other in zip(nodes[1:], nodes, strict=False):
        places, bodies = (int(one[1:]), int(other[1:])), (int(body[1:]),)
        for kind, of, to, sense in (("coaxial", low.id, high.id, 1), ("on", under, top, -1)):
            rows[number] = Joint(number, kind, (f"{of}@{one}",), (f"{to}@{other}",), places, bodies, f"J{number}",
                                 sense=sense)  # fmt: skip
            number += 1
    return model, replace(model.snapshot.with_kept(JOINTS, rows), next_id=number), nodes


def _unlike(count: int) -> list[WritePart]:
    """Plates with holes, each of its own size."""
    rows = []
    for k in range(count):
        wide, high = 12 + 0.37 * k % 9, 9 + 0.21 * k % 7
        holes = [build.cylinder(1.5, 8, (3 + 3 * n, high / 2, -1)) for n in range(3)]
        rows.append(WritePart(f"Plate {k}", build.subtract(build.box(wide, high, 4 + 0.01 * k), *holes), None, {}))
    return rows


def many_places(folder: Path, places: int, bodies: int) -> Path:
    """An assembly file of so many places of so many parts."""
    rows = [
        WriteNode(f"Plate {k % bodies}", Rigid.slide((16 * (k % 50), 14 * (k // 50), 0)), k % bodies, [])
        for k in range(places)
    ]
    path = folder / "places.step"
    path.write_bytes(step.write([WriteNode("Many", IDENTITY, None, rows)], _unlike(bodies), "Many"))
    return path


def _opened(folder: Path) -> None:
    path = many_places(folder, PARTS, PARTS)

    def bare() -> None:
        for part in exchange.read_step(str(path), lambda fraction, words: None).parts:
            tessellate.mesh(part.shape, tessellate.view_deflection(part.shape))

    def ours() -> None:
        model = Model()
        model.do("import", path=str(path))
        for body in model.bodies():
            pack(model.geometry.get(model.body(body).shape))

    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(3):
        for act, row in zip((bare, ours), times, strict=True):
            began = time.perf_counter()
            act()
            row.append(time.perf_counter() - began)
    a, b = (min(row) for row in times)  # of whole seconds, in which anything else on the machine tells
    print(f"  {PARTS} parts: bare kernel read + mesh {a:.2f} s, ours {b:.2f} s, ratio {b / a:.2f} (budget 1.5)")


def _weighed(folder: Path) -> None:
    model = Model()
    model.do("import", path=str(many_places(folder, BODIES, BODIES)))
    tracemalloc.start()
    before = tracemalloc.get_traced_memory()[0]
    model.do("repeat parts", parts=model.nodes(), count=PLACES // BODIES, along="z", step=10)
    taken = tracemalloc.get_traced_memory()[0] - before
    tracemalloc.stop()
    stored = len(model.snapshot.to_json()) / PLACES
    print(f"  a place more: {taken / (PLACES - BODIES):.0f} bytes in memory, {stored:.0f} stored before packing")


def measure_assembly() -> None:
    with tempfile.TemporaryDirectory() as folder:
        _opened(Path(folder))
        _weighed(Path(folder))
    with tempfile.TemporaryDirectory() as folder:
        model, snapshot, nodes = _chain(Path(folder))
        found = assembled(snapshot, model.geometry)
        solving = []
        for _ in range(5):
            began = time.perf_counter()
            state, off = settle(found, {0: 0.0})
            solving.append(time.perf_counter() - began)
        print(f"  joints: {len(found.joints)} solved in {1000 * statistics.median(solving):.0f} ms, {len(off)} missed")
        work, dragging = Work(snapshot, model.geometry), []
        for _ in range(STEPS):
            moved = moved_place(state, int(nodes[LINKS // 2][1:]), Rigid.slide((0, 2, 0)))
            began = time.perf_counter()
            state = follow_joints(work, state, moved).snapshot
            dragging.append(time.perf_counter() - began)
        print(f"  drag of one of them: {1 / statistics.median(dragging):.0f} steps a second")
    with tempfile.TemporaryDirectory() as folder:
        model = Model()
        for name, shape in (("Plate", build.box(9, 9, 4)), ("Post", build.cylinder(3, 12, (4.5, 4.5, 4.5)))):
            model.do("import", path=str(step_file(Path(folder) / f"{name}.step", shape, name)))
        for along, count in (("x", 15), ("y", 10)):
            model.do("repeat parts", parts=model.nodes(), count=count, along=along, step=10)
        parts = len(model.snapshot.occurrences())
        began = time.perf_counter()
        model.clearances(1.5)
        first = time.perf_counter() - began
        model.do("move body", parts=model.nodes()[7:8], along="z", distance=0.1)
        began = time.perf_counter()
        count = len(model.clearances(1.5))
        again = time.perf_counter() - began
        print(
            f"  standing check of {parts} parts: {first:.2f} s, {1000 * again:.0f} ms after one moved ({count} found)"
        )
        began = time.perf_counter()
        model.do("repeat parts", parts=model.nodes(), count=7, along="z", step=30)
        rows = part_rows(model.snapshot, {})
        took = time.perf_counter() - began
        places = len(model.snapshot.occurrences())
        print(f"  {places} places of 2 parts: repeated and listed in {took:.2f} s, {len(rows)} rows")
