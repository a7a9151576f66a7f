"""The demo scenario into a data folder: `python -m ravine.cli.bringing_in FOLDER`, beside a running engine and database
whose addresses stand in the environment.  A process of its own, so that the starter need not hold what it loads."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.demo import scenario
from ravine.engine.client import RemoteEngine
from ravine.service import connection
from ravine.service.designs import Designs
from ravine.store.tables import Design


def tell(words: str) -> None:
    print(f"ravine: {words}", file=sys.stderr, flush=True)


def build_files(folder: Path) -> None:
    """In a process of its own, which may load the geometry library.  Raises RavineError."""
    tell("building the demo parts (once)")
    written = subprocess.run(
        [sys.executable, "-m", "ravine.demo.files", str(folder)], capture_output=True, text=True, check=False
    )
    if written.returncode:
        raise RavineError(f"the demo parts could not be built:\n{written.stderr[-800:]}")


def load_demo(designs: Designs, data: Path, build: Callable[[Path], None] = build_files) -> None:
    """Build and bring in the scenario once per data folder; what the user changed or deleted stays so."""
    notes = scenario.BroughtIn(data)
    missing, drawn = notes.missing()
    if not missing and not drawn:
        return
    folder = data / "demo-files"
    build(folder)
    for model in missing:
        tell(f"bringing in {model.file}")
        bring_in(designs, model, folder / model.file)
        notes.note(model.file)
    for name in drawn:
        tell(f"drawing {name}")
        draw(designs, name)
        notes.note(name)


def draw(designs: Designs, name: str) -> None:
    """A new model drawn edit by edit; none where one of them fails."""
    design = designs.create(name)

    def do(edit: str, values: dict) -> Snapshot:
        now = designs.get(design.id)
        designs.edit(now, now.head, edit, values)
        return designs.snapshot(designs.head(designs.get(design.id)))

    try:
        scenario.DRAWN[name](do)
    except BaseException:
        design.delete_instance(recursive=True)  # the next start tries again
        raise


def bring_in(designs: Designs, model: scenario.DemoModel, path: Path) -> None:
    """A new model from a file, with materials set by name: the same edits a person would do."""
    design = designs.create(model.name)
    try:
        _fill(designs, design, model, path)
    except BaseException:
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


def main(data: Path) -> int:
    """Asked to end, it takes back the model that it is at.  The starter hears Ctrl-C, and passes it on."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(1))
    connection.connect(os.environ["RAVINE_DB"], os.environ["RAVINE_DB_PASSWORD"])
    designs = Designs(RemoteEngine(os.environ["RAVINE_ENGINE"], bytes.fromhex(os.environ["RAVINE_ENGINE_KEY"])))
    try:
        with connection.in_this_thread():
            load_demo(designs, data)
    except RavineError as error:
        tell(str(error))
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
