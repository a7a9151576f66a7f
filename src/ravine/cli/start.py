"""./ravine demo and ./ravine start."""

from __future__ import annotations

import argparse
import json
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.demo import scenario
from ravine.engine.client import RemoteEngine
from ravine.service.designs import Designs
from ravine.store.tables import Design, database

from .folder import DataFolder
from .stack import Stack


def start(with_demo: bool, arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="ravine demo" if with_demo else "ravine start")
    parser.add_argument("--port", type=int, help="port on this machine (a free one from 8471 when left out)")
    options = parser.parse_args(arguments)
    began = time.monotonic()
    ended = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: ended.set())
    folder = DataFolder()
    stack = Stack(folder, options.port)
    try:
        stack.prepare()
        if with_demo:
            load_demo(stack, lambda words: print(f"ravine: {words}", file=sys.stderr, flush=True))
        stack.start()
        took = f"{time.monotonic() - began:.1f} s; Ctrl-C stops it"
        print(f"Ravine is ready at {stack.entering()}  ({took})", flush=True)
        while not ended.wait(0.5):
            if not stack.entrance.exists():
                print(f"ravine: for another browser: {stack.entering()}", flush=True)
        print("ravine: stopping", file=sys.stderr)
    finally:
        stack.stop()
    return 0


def engine_of(stack: Stack) -> RemoteEngine:
    """Waits for the engine's socket."""
    address = stack.folder.run / "engine.sock"
    end = time.monotonic() + 60
    while not address.exists() and time.monotonic() < end:
        time.sleep(0.05)
    return RemoteEngine(str(address), bytes.fromhex(stack.folder.secrets["engine_key"]))


def load_demo(stack: Stack, tell: Callable[[str], None]) -> None:
    """Build and bring in the scenario once per data folder; what the user changed or deleted stays so."""
    notes = stack.folder.path / "demo-brought-in.json"
    done = json.loads(notes.read_text()) if notes.exists() else []
    missing = [m for m in (*scenario.ROUGH, *scenario.MODELS) if m.file not in done]
    drawn = [name for name in scenario.DRAWN if name not in done]
    if not missing and not drawn:
        return
    tell("building the demo parts (once)")
    folder = stack.folder.path / "demo-files"
    written = subprocess.run(
        [sys.executable, "-m", "ravine.demo.files", str(folder)], capture_output=True, text=True, check=False
    )
    if written.returncode:
        raise RavineError(f"the demo parts could not be built:\n{written.stderr[-800:]}")
    designs = Designs(engine_of(stack))
    with database.connection_context():
        for model in missing:
            tell(f"bringing in {model.file}")
            bring_in(designs, model, folder / model.file)
            done.append(model.file)
            notes.write_text(json.dumps(done))
        for name in drawn:
            tell(f"drawing {name}")
            draw(designs, name)
            done.append(name)
            notes.write_text(json.dumps(done))


def draw(designs: Designs, name: str) -> None:
    """A new model drawn edit by edit; none where one of them fails."""
    design = designs.create(name)

    def do(edit: str, values: dict) -> Snapshot:
        now = designs.get(design.id)
        designs.edit(now, now.head, edit, values)
        return designs.snapshot(designs.head(designs.get(design.id)))

    try:
        scenario.DRAWN[name](do)
    except Exception:
        design.delete_instance(recursive=True)  # the next start tries again
        raise


def bring_in(designs: Designs, model: scenario.DemoModel, path: Path) -> None:
    """A new model from a file, with materials set by name: the same edits a person would do."""
    design = designs.create(model.name)
    try:
        _fill(designs, design, model, path)
    except Exception:
        design.delete_instance(recursive=True)  # the next start tries again
        raise


def _fill(designs: Designs, design: Design, model: scenario.DemoModel, path: Path) -> None:
    designs.keep_original(design, path.name, path.read_bytes())
    values = {"path": str(path), "name_as": path.name} | ({"units": model.units} if model.units else {})
    designs.edit(design, design.head, "import", values)
    for part, material in model.materials.items():
        design = designs.get(design.id)
        snapshot = designs.snapshot(designs.head(design))
        node = next(n for n in snapshot.nodes.values() if n.name == part and n.body is not None)
        designs.edit(design, design.head, "set material", {"parts": [f"n{node.id}"], "material": material})
    further = path.with_suffix(".edits.json")
    for edit, values in json.loads(further.read_text()) if further.exists() else []:
        design = designs.get(design.id)
        designs.edit(design, design.head, edit, values)
