"""Files brought in as jobs."""

from __future__ import annotations

import os
import tempfile
from typing import Any

from ravine.core import Cancelled, RavineError, formats
from ravine.core.edits.exchange.import_file import ImportFile
from ravine.core.edits.fields import Context
from ravine.core.formats import reading
from ravine.engine.client import DEADLINES
from ravine.store import blobs
from ravine.store.revisions import Conflict
from ravine.store.tables import Design, Job, Original

from ..designs import Designs
from .kinds import JobKind, Tell, enter
from .rows import queue, token_of

MEETINGS = 3  # with edits made meanwhile, before it gives way


def start_import(
    designs: Designs, design: Design, name: str, data: bytes, units: str | None, choices: dict[str, str] | None = None
) -> Job:
    """Keep the original and queue its import.  Raises FormatError at once for what no reader takes."""
    with _as_file(name, data) as path:
        kind = reading.sniff(path, name)
    if kind in formats.NO_UNIT and units is None:
        raise RavineError(f"{name} is of a format that does not say its unit; choose one")
    context = Context(designs.snapshot(designs.head(design)))
    for field, value in (choices or {}).items():
        ImportFile.fields()[field].read(value, context)
    stem, ending = os.path.splitext(name)
    name = stem[: 120 - len(ending)] + ending  # as long as the import's name field takes
    original = designs.keep_original(design, name, data)
    params = {"original": original.id, "name": name, "units": units, "choices": choices or {}}
    return queue(designs, design, IMPORT, params)


class _as_file:
    """Bytes as a file of that name while the block runs."""

    def __init__(self, name: str, data: bytes) -> None:
        self.data = data
        ending = os.path.splitext(name)[1][:10]
        self.ending = ending if ending.replace(".", "").isalnum() else ""

    def __enter__(self) -> str:
        handle, self.path = tempfile.mkstemp(suffix=self.ending, prefix="ravine-")
        with os.fdopen(handle, "wb") as file:
            file.write(self.data)
        return self.path

    def __exit__(self, *_: object) -> None:
        os.unlink(self.path)


def _patience(path: str) -> dict[str, float]:
    """Seconds that a file of its size may take in all, and without a step further."""
    size = os.path.getsize(path) / (1 << 20)
    return {"deadline": min(DEADLINES["import"], 120 + 30 * size), "still": 90 + 15 * size}


def _work(designs: Designs, job: Job, params: dict[str, Any], tell: Tell) -> str:
    original = Original.get_by_id(params["original"])
    values: dict[str, Any] = {"name_as": params["name"], **params.get("choices", {})}
    if params.get("units"):
        values["units"] = params["units"]
    with _as_file(params["name"], blobs.get(original.blob_id)) as path:
        for _ in range(MEETINGS):
            design = designs.get(job.design_id)
            head = designs.head(design)
            result = designs.engine.call(
                "edit",
                {"snapshot": head.state_id, "name": "import", "values": {**values, "path": path}, "meshes": False},
                lane="job", key="imports", blobs=blobs.get, progress=tell, token=token_of(job), **_patience(path),
            )  # fmt: skip
            if Job.get_by_id(job.id).cancel:
                raise Cancelled(IMPORT.stopped)
            kept = {**values, "path": params["name"], "original": original.blob_id}
            try:
                if result.stored is None:
                    return result.sentence
                designs.keep(design, head.id, kept, result, result.stored)
            except Conflict:
                continue  # somebody edited meanwhile: bring it in on top of that
            return result.sentence
    raise RavineError("the model changed again and again while the file came in; try once more")


IMPORT = enter(
    JobKind(
        "import",
        _work,
        doing="Bringing in {name}",
        failed="{name} did not come in",
        stopped="stopped; nothing was brought in",
        kept="the original file is kept",
    )
)
