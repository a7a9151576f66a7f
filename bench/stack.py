"""The whole of Ravine on a 375-face part: start, edits, previews, undo, memory."""

from __future__ import annotations

import json
import time
from pathlib import Path

from ravine.cli.folder import DataFolder
from ravine.cli.stack import Stack, engine_of
from ravine.service.designs import Designs
from ravine.store.tables import Design, database

from .client import Window, head_of


def _spread(name: str, row: list[float]) -> str:
    row = sorted(row)
    return f"{name}: p50 {row[len(row) // 2] * 1e3:.0f} ms, p95 {row[int(len(row) * 0.95)] * 1e3:.0f} ms, n {len(row)}"


def measure_stack(folder: Path, part: Path) -> None:
    for word in ("first", "second"):
        stack = Stack(DataFolder(folder / "data"))
        began = time.perf_counter()
        stack.prepare()
        stack.start()
        print(f"{word} start, without demo parts: {time.perf_counter() - began:.1f} s")
        if word == "first":
            stack.stop()
            stack.folder._lock.close()
    try:
        _measure(stack, part)
    finally:
        stack.stop()


def _measure(stack: Stack, part: Path) -> None:
    engine = engine_of(stack)
    with database.connection_context():
        designs = Designs(engine)
        design = designs.create("Bench")
        designs.edit(design, design.head, "import", {"path": str(part)})
    page, ident = Window(stack), design.id
    scene = json.loads(page.ask("GET", f"/m/{ident}/scene")[0])
    body = scene["bodies"][0]
    mesh, first = page.ask("GET", f"/m/{ident}/mesh/{body['id']}?revision={scene['revision']}")
    print(f"first mesh of {len(body['faces'])} faces: {first * 1e3:.0f} ms, {len(mesh) / 1024:.0f} kB")
    flat = _flat_faces(scene, designs, design)[:20]
    previews = []
    for face in flat:
        for distance in (0.5, 1.0, 1.5):
            values = {"faces": [face], "distance": f"{distance} mm"}
            asked = {"edit": "push", "base": scene["revision"], "values": values}
            answer, seconds = page.ask("POST", f"/m/{ident}/preview", asked)
            if "error" not in head_of(answer):
                previews.append(seconds)
    print(_spread("preview round trip", previews), f"→ {1 / (sum(previews) / len(previews)):.1f} a second")
    base, edits, undos = scene["revision"], [], []
    for face in flat:
        values = {"faces": [face], "distance": "1 mm"}
        answer, seconds = page.ask("POST", f"/m/{ident}/edits", {"edit": "push", "base": base, "values": values})
        head = head_of(answer)
        if "error" in head:
            print("  refused:", head["error"]["reason"])
            continue
        edits.append(seconds)
        base = head["revision"]
        answer, stepped = page.ask("POST", f"/m/{ident}/step", {"base": base, "direction": -1})
        shown = page.ask("GET", f"/m/{ident}/scene")[1]
        undos.append(stepped + shown)
        base = json.loads(answer)["revision"]
        answer, _ = page.ask("POST", f"/m/{ident}/step", {"base": base, "direction": 1})
        base = json.loads(answer)["revision"]
    print(_spread("edit accepted to answer with changed faces (budget p95 400 ms)", edits))
    print(_spread("undo: step and scene (budget 150 ms; shapes are still in the page)", undos))
    for child in engine.status()["children"]:
        print(f"worker {child['lane']}: {child['rss'] / 2**20:.0f} MB")


def _flat_faces(scene: dict, designs: Designs, design: Design) -> list[str]:
    """Ids of plane faces, spread over the part."""
    found = []
    with database.connection_context():
        revision = designs.head(designs.get(design.id))
        for face in scene["bodies"][0]["faces"][::3]:
            if designs.describe(revision, [f"f{face}"], "Shape").summary["face_kinds"] == ["plane"]:
                found.append(f"f{face}")
    return found
