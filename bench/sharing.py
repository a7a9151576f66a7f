"""What leaves: the station as one page, with and without what nobody sees; the review of two states of the plate with
375 faces, by ids and by form."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from tests.parts import model_of

from ravine.core import Model, compare
from ravine.core.operations.package import missing
from ravine.core.operations.work import Work
from ravine.core.sharing.page import Sharing, shared_page
from ravine.demo.files import write_files

from .parts import plate_375


def measure_sharing() -> None:
    with tempfile.TemporaryDirectory() as folder:
        write_files(Path(folder))
        for name in ("mast-clamp", "gauging-station", "propeller-rotor"):
            model = Model()
            model.do("import", path=str(Path(folder) / f"{name}.step"))
            for inside in (True, False):
                began = time.perf_counter()
                page = shared_page(model.snapshot, model.geometry, Sharing(inside=inside))
                seconds = time.perf_counter() - began
                what = "all" if inside else "seen only"
                size = f"{len(page.data) / 1024:>5.0f} kB"
                print(f"{name:<16} {what:<9} {size} {seconds:>5.2f} s, {page.left_out} faces stay", flush=True)
        began = time.perf_counter()
        lacks = missing(Work(model.snapshot, model.geometry), ())
        print(f"missing of a package: {len(lacks)} in {time.perf_counter() - began:.2f} s")


def measure_review() -> None:
    with tempfile.TemporaryDirectory() as folder:
        one, _ = model_of(Path(folder), plate_375(), "One")
        two, _ = model_of(Path(folder), plate_375(), "Two")
        before = Model(snapshot=one.snapshot, geometry=one.geometry)
        for model in (one, two):
            faces = model.faces(model.bodies()[0], kind="cylinder")
            model.do("resize", faces=[faces[0].id], size=1.1 * 2 * (faces[0].radius or 1), measure="diameter")
        for words, first, second in (("by ids", before, one), ("by form", before, two)):
            for again in ("first", "again"):
                began = time.perf_counter()
                found = compare(first, second)
                print(
                    f"review {words}, {again}: {1e3 * (time.perf_counter() - began):.0f} ms, {found.counts()}",
                    flush=True,
                )
        state = two.geometry.put_state(before.snapshot)
        for name in ("review report", "review page"):
            began = time.perf_counter()
            data = two.study_named(name, {"before": state, "apart": True, "notes": ["One"]})
            print(f"{name}: {time.perf_counter() - began:.2f} s, {len(data) / 1024:.0f} kB", flush=True)
