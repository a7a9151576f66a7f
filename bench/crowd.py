"""Six people at once, two of them with large parts; what each waits for, what is back when after a kill, and memory."""

from __future__ import annotations

import contextlib
import http.client
import os
import random
import signal
import statistics
import threading
import time
from collections.abc import Callable
from pathlib import Path

from tests.parts import boss_block, step_file

from ravine.cli.folder import DataFolder
from ravine.cli.stack import Stack, engine_of
from ravine.engine.client import RemoteEngine
from ravine.service.designs import Designs
from ravine.store.tables import database

from .client import Window

SECONDS = 60.0
LIGHT = 4


def measure_crowd(folder: Path, part: Path, edits: int = 300) -> None:
    """edits: of the one whose memory is watched."""
    stack = Stack(DataFolder(folder / "crowd"))
    stack.prepare()
    stack.start()
    engine = engine_of(stack)
    try:
        time.sleep(5)
        print(f"idle, all processes together: {_pss_of(stack) / 2**20:.0f} MB")
        idents = _models(engine, part)
        _people(stack, idents)
        _memory(stack, engine, idents[-1], edits)
        _kills(stack, engine, idents[-1])
    finally:
        stack.stop()


def _models(engine: RemoteEngine, part: Path) -> list[int]:
    """Two with the large part, then those with a block and its boss."""
    found, small = [], step_file(part.with_name("small.step"), boss_block())
    with database.connection_context():
        designs = Designs(engine)
        for number in range(2 + LIGHT):
            design = designs.create(f"Person {number + 1}")
            designs.edit(design, design.head, "import", {"path": str(part if number < 2 else small)})
            found.append(design.id)
    return found


def _people(stack: Stack, idents: list[int]) -> None:
    """Everyone pushes faces out and in again, three previews and one edit, with half a second between."""
    waits: list[list[float]] = [[] for _ in idents]
    refused = [0] * len(idents)
    end = time.monotonic() + SECONDS

    def person(number: int) -> None:
        window, draw = Window(stack), random.Random(number)
        while time.monotonic() < end:
            scene = window.json(f"/m/{idents[number]}/scene")
            face = draw.choice(scene["bodies"][0]["faces"])
            for how in ("preview", "preview", "preview", "edits"):
                values = {"faces": [f"f{face}"], "distance": f"{draw.choice((0.2, -0.2))} mm"}
                head, seconds = window.edit(idents[number], scene["revision"], "push", values, how)
                if "error" in head:
                    refused[number] += 1
                waits[number].append(seconds)
                time.sleep(0.5)

    threads = [threading.Thread(target=person, args=(k,)) for k in range(len(idents))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    for number, row in enumerate(waits):
        row.sort()
        print(f"  person {number + 1} ({'large' if number < 2 else 'small'} part): p50 {row[len(row) // 2] * 1e3:.0f} "
              f"ms, p95 {row[int(len(row) * 0.95)] * 1e3:.0f} ms, n {len(row)}, {refused[number]} refused")  # fmt: skip
    everyone = sorted(w for row in waits for w in row)
    middle, slow = everyone[len(everyone) // 2], everyone[int(len(everyone) * 0.95)]
    print(f"  all: p50 {middle * 1e3:.0f} ms, p95 {slow * 1e3:.0f} ms, {slow / middle:.1f} times (aim 3)")


def _memory(stack: Stack, engine: RemoteEngine, ident: int, edits: int) -> None:
    """One small part is pushed out and in; the largest worker, at the first tenth and at the end."""
    window, sizes = Window(stack), []
    scene = window.json(f"/m/{ident}/scene")
    base, face = scene["revision"], scene["bodies"][0]["faces"][0]
    for number in range(edits):
        values = {"faces": [f"f{face}"], "distance": "0.5 mm" if number % 2 else "-0.5 mm"}
        head, _ = window.edit(ident, base, "push", values)
        if "error" in head:
            raise RuntimeError(head["error"]["reason"])
        base = head["revision"]
        if number % max(1, edits // 10) == 0:
            sizes.append(max(c["rss"] for c in engine.status()["children"]) / 2**20)
    print(f"  largest worker over {edits} edits: " + ", ".join(f"{s:.0f}" for s in sizes) + " MB")


def _kills(stack: Stack, engine: RemoteEngine, ident: int) -> None:
    """From the kill until an edit is answered again."""

    def children(pid: int) -> list[int]:
        with open(f"/proc/{pid}/task/{pid}/children") as file:
            return [int(p) for p in file.read().split()]

    ways: dict[str, Callable[[], list[int]]] = {
        "one web process": lambda: children(stack.web.pid if stack.web else 0)[:1],
        "both web processes": lambda: children(stack.web.pid if stack.web else 0),
        "web server": lambda: [stack.web.pid] if stack.web else [],
        "a worker": lambda: [c["pid"] for c in engine.status()["children"] if c["lane"] == "hand"][:1],
        "engine": lambda: [stack.engine.pid] if stack.engine else [],
    }
    for name, pids in ways.items():
        took = []
        for _ in range(3):
            for pid in pids():
                with contextlib.suppress(ProcessLookupError):  # it had gone by itself
                    os.kill(pid, signal.SIGKILL)
            began = time.perf_counter()
            _until_edited(stack, ident)
            took.append(time.perf_counter() - began)
            time.sleep(2)
        print(f"  back after {name} was killed: {statistics.median(took):.1f} s")


def _until_edited(stack: Stack, ident: int) -> None:
    end = time.monotonic() + 60
    while time.monotonic() < end:
        with contextlib.suppress(OSError, http.client.HTTPException, ValueError, KeyError):
            window = Window(stack)
            scene = window.json(f"/m/{ident}/scene")
            values = {"faces": [f"f{scene['bodies'][0]['faces'][0]}"], "distance": "0.1 mm"}
            head, _ = window.edit(ident, scene["revision"], "push", values)
            if "revision" in head:
                return
        time.sleep(0.05)
    raise RuntimeError("no edit came through within a minute")


def _pss_of(stack: Stack) -> int:
    """Bytes, each shared page counted once over all of ours."""
    ours = (stack.database.process, stack.engine, stack.web, stack.supplier, stack.printshop)
    roots = [p.pid for p in ours if p is not None]
    parents: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        with contextlib.suppress(OSError, ValueError):
            parents.setdefault(int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1]), []).append(
                int(entry.name)
            )
    total, queue = 0, roots
    while queue:
        pid = queue.pop()
        queue.extend(parents.get(pid, ()))
        with contextlib.suppress(OSError):
            rows = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
            total += next(int(r.split()[1]) for r in rows if r.startswith("Pss:")) * 1024
    return total
