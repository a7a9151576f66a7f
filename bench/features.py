"""Features and dimensions: how fast they are read and driven, what of planted ones is found and lifted out."""

from __future__ import annotations

import math
import os
import statistics
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

from tests.parts import model_of
from tests.planted import match, planted_casting, planted_plate, planted_shaft
from tests.trials.variants import VARIANTS

from ravine.core import EditError, Model
from ravine.core.edits.perform import perform
from ravine.core.features.feature import Feature
from ravine.core.features.recogniser import features_of
from ravine.core.kernel import build
from ravine.core.kernel.shapes import Shape, ShapeIndex
from ravine.core.local.topology import SolidTopology
from ravine.core.operations.work import Mode, Work
from ravine.core.rigid import Rigid
from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings
from ravine.engine.variants import try_rows

from .parts import plate_375

DRIVES = 20
MAKERS = (planted_plate, planted_casting, planted_shaft)
ODD = Rigid.slide((31.7, -250.1, 7.3)) @ Rigid.about((0, 0, 0), (0.6, -0.48, 0.64), math.radians(37))


def _seconds(what: Callable[[], object]) -> float:
    began = time.perf_counter()
    what()
    return time.perf_counter() - began


def measure_features(parts: int = 40) -> None:
    """parts: planted ones of each family."""
    with tempfile.TemporaryDirectory() as folder:
        model, body = model_of(Path(folder), plate_375())
        plate = model.geometry.solid(model.body(body).shape).shape
        cold = statistics.median(_seconds(lambda: features_of(SolidTopology(ShapeIndex(plate)))) for _ in range(5))
        model.features(body)
        top = model.faces(body, kind="plane", normal=(0, 0, -1)).largest()
        after = []
        for k in range(5):
            model.do("push", faces=[top.id], distance=0.1 + 0.01 * k)
            after.append(_seconds(lambda: model.features(body)))
        hole = next(f for f in model.features(body) if f.kind == "hole")
        near = []
        for k in range(5):
            model.do("resize", faces=[hole.faces[0]], size=hole.sizes["diameter"] + 0.1 * (k + 1))
            near.append(_seconds(lambda: model.features(body)))
        told = [1000 * t for t in (cold, statistics.median(near), statistics.median(after))]
        print("  read: {:.0f} ms cold on 375 faces, {:.0f} after one hole changed, {:.0f} after all did".format(*told))
    for make in MAKERS:
        for way, splined in (("as made, oddly placed", False), ("as splines, brought in", True)):
            planted = missed = extra = 0
            kinds: set[tuple[str, str]] = set()
            for seed in range(parts if not splined else parts // 4):
                shape, rows = make(seed)
                lost, more = match(_read(build.moved(shape, ODD), splined), rows)
                planted, missed, extra = planted + len(rows), missed + len(lost), extra + len(more)
                kinds |= {(row.kind, row.form) for row in rows}
            told = f"{planted} planted of {len(kinds)} forms, {missed} missed, {extra} more told than planted"
            print(f"  {make.__name__}, {way}: {told}")
    print(f"  lifted out: {dict(_lifted(parts // 4))}")


def _read(shape: Shape, splined: bool) -> list[Feature]:
    if not splined:
        return features_of(SolidTopology(ShapeIndex(shape)))
    with tempfile.TemporaryDirectory() as folder:
        model, body = model_of(Path(folder), VARIANTS["splines"].shape(shape))
        return features_of(model.geometry.solid(model.body(body).shape).topology)


def _lifted(parts: int) -> Counter[str]:
    """exact: the volumes of part and lifted solid add up to 1e-9."""
    counts: Counter[str] = Counter()
    for make in MAKERS:
        for seed in range(parts):
            with tempfile.TemporaryDirectory() as folder:
                model, body = model_of(Path(folder), make(seed)[0])
                for feature in model.features(body):
                    if feature.kind not in ("fillet", "chamfer"):
                        counts[_lift(model, body, feature.faces[0])] += 1
    return counts


def _lift(model: Model, body: str, face: str) -> str:
    before = model.measure(body).volume
    try:
        change = model.do("lift out", faces=[face])
    except EditError:
        return "refused"
    made = next(b for b in change.added if b.startswith("b"))
    own = model.measure(made).volume
    exact = abs(abs(model.measure(body).volume - before) - own) < 1e-9 * before
    model.undo()
    return "exact" if exact else "not exact"


def measure_dimensions() -> None:
    """One driven with five held on the 375-face part, as previews."""
    with tempfile.TemporaryDirectory() as folder:
        model, body = model_of(Path(folder), plate_375())
        ends = [model.faces(body, kind="plane", normal=(s, 0, 0)).highest((s, 0, 0)).id for s in (-1, 1)]
        holes = [f for f in model.features(body) if f.kind == "hole" and "through" in f.form][:5]

        def put(*on: str) -> str:
            return next(a for a in model.do("add dimension", ends=list(on)).added if a.startswith("d"))

        length = put(*ends)
        bores = [next(f for f in h.faces if model.face(f).kind == "cylinder") for h in holes]
        held = [put(bore, ends[1]) for bore in bores]
        took = []
        for k in range(DRIVES):
            took.append(_drag(model, {"dimension": length, "value": 260 + 0.05 * (k + 1), "held": held}))
        middle = statistics.median(took)
        print(f"  one driven, five held, 375 faces: {1000 * middle:.0f} ms a preview, {1 / middle:.1f} a second")


def _drag(model: Model, values: dict[str, object]) -> float:
    work = Work(model.snapshot, model.geometry, mode=Mode.DRAG)
    return _seconds(lambda: perform("drive", values, work))


def measure_variants(count: int = 100) -> None:
    """Rows of a driven value on the 375-face part: one worker after the other's ideal against all cores."""
    with tempfile.TemporaryDirectory() as folder:
        model, body = model_of(Path(folder), plate_375())
    ends = [model.faces(body, kind="plane", normal=(s, 0, 0)).highest((s, 0, 0)).id for s in (-1, 1)]
    model.do("add dimension", ends=ends, called="length")
    length = model.values["length"]
    rows = [{"length": f"{length + 0.05 * k} mm"} for k in range(1, count + 1)]
    address, state = model.snapshot.stored()
    blobs = {address: state, **{b.shape: model.geometry.blob(b.shape) for b in model.snapshot.bodies.values()}}
    engine = LocalEngine(Settings(memory_bytes=3 << 30))
    try:
        try_rows(engine, address, blobs.__getitem__, rows[:8])  # so that all are warm
        began = time.perf_counter()
        for row in rows[:20]:
            engine.call("study", {"snapshot": address, "name": "variant", "values": {"rows": row}}, lane="row",
                        blobs=blobs.__getitem__)  # fmt: skip
        alone = (time.perf_counter() - began) / 20 * count
        used, began = _used(engine), time.perf_counter()
        found = try_rows(engine, address, blobs.__getitem__, rows)
        took, used = time.perf_counter() - began, _used(engine) - used
    finally:
        engine.close()
    cores = os.cpu_count() or 1
    works = sum(f["works"] for f in found)
    print(f"{count} variants of 375 faces ({works} work): {took:.1f} s on {cores} cores, which "
          f"worked {100 * used / cores / took:.0f} % of it (aim 80); one after the other {alone:.1f} s")  # fmt: skip


def _used(engine: LocalEngine) -> float:
    """Seconds of processor that the workers for rows have had."""
    ticks = 0
    for child in engine.status()["children"]:
        if child["lane"] == "row":
            row = Path(f"/proc/{child['pid']}/stat").read_text().rsplit(")", 1)[1].split()
            ticks += int(row[11]) + int(row[12])
    return ticks / os.sysconf("SC_CLK_TCK")
