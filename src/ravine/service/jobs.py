"""Durable jobs: rows in the database, run on the engine, with progress and cancel, taken up again after a crash."""

from __future__ import annotations

import datetime
import json
import logging
import os
import tempfile
import threading
import time
from typing import Any

from peewee import InterfaceError, OperationalError

from ravine.core import Cancelled, RavineError, formats
from ravine.core.edits.exchange.import_file import ImportFile
from ravine.core.edits.fields import Context
from ravine.core.formats import reading
from ravine.engine.client import DEADLINES
from ravine.engine.wire import EngineFailure
from ravine.store import blobs
from ravine.store.revisions import Conflict
from ravine.store.tables import Design, Job, Original, database, now

from .designs import Designs

log = logging.getLogger("ravine.jobs")
LEASE = datetime.timedelta(seconds=15)
TRIES = 3


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
    return Job.create(owner=designs.owner, design=design, kind="import", params=json.dumps(params), words="waiting")


def open_jobs(design: Design) -> list[Job]:
    """Jobs under way, and ended ones nobody has seen the end of."""
    open_ = Job.state.in_(["queued", "running"]) | ~Job.seen
    return list(Job.select().where((Job.design == design) & open_).order_by(Job.id))


def seen(design: Design, number: int) -> None:
    Job.update(seen=True).where((Job.id == number) & (Job.design == design)).execute()


def find(design: Design, number: int) -> Job:
    job = Job.get_or_none((Job.id == number) & (Job.design == design))
    if job is None:
        raise RavineError("there is no such job")
    return job


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


def cancel(designs: Designs, job: Job) -> None:
    Job.update(cancel=True).where((Job.id == job.id) & Job.state.in_(["queued", "running"])).execute()
    Job.update(state="cancelled", words="stopped before it began").where(
        (Job.id == job.id) & (Job.state == "queued")
    ).execute()
    designs.engine.cancel(_token(job))


def _token(job: Job) -> str:
    return f"job {job.id}"


class Runner(threading.Thread):
    """Takes queued jobs, and running ones whose runner died, one after the other."""

    def __init__(self, designs: Designs) -> None:
        super().__init__(name="jobs", daemon=True)
        self.designs = designs
        self.stopping = threading.Event()

    def run(self) -> None:
        while not self.stopping.is_set():
            try:
                with database.connection_context():
                    job = self._claim()
                    if job is not None:
                        self._run(job)
                        continue
            except (OperationalError, InterfaceError) as error:
                log.warning("the database is away (%s); trying again", error)
                self.stopping.wait(1.0)
            self.stopping.wait(0.2)

    def _claim(self) -> Job | None:
        ready = (Job.state == "queued") | ((Job.state == "running") & (Job.lease < now()))
        job = Job.select().where(ready).order_by(Job.id).first()
        if job is None:
            return None
        claimed = (
            Job.update(state="running", lease=now() + LEASE, attempts=Job.attempts + 1, updated=now())
            .where((Job.id == job.id) & (Job.state == job.state) & (Job.attempts == job.attempts))
            .execute()
        )
        return Job.get_by_id(job.id) if claimed else None

    def _run(self, job: Job) -> None:
        if job.cancel:
            self._end(job, "cancelled", "stopped")
            return
        if job.attempts > TRIES:
            self._end(job, "failed", f"given up after {TRIES} interrupted tries; the original file is kept")
            return
        beat = _Beat(job)
        beat.start()
        try:
            told = self._import(job, beat)
            self._end(job, "done", told)
        except Cancelled:
            self._end(job, "cancelled", "stopped; nothing was brought in")
        except (OperationalError, InterfaceError):
            raise  # the row stays as it is; its lease runs out and it is taken up again
        except RavineError as error:
            if isinstance(error, EngineFailure) and Job.get_by_id(job.id).cancel:
                self._end(job, "cancelled", "stopped; nothing was brought in")
            else:
                self._end(job, "failed", str(error))
        except Exception:
            log.exception("job %s", job.id)
            self._end(job, "failed", "an unexpected fault stopped this job; the log has the details")
        finally:
            beat.stop.set()

    def _import(self, job: Job, beat: _Beat) -> str:
        params = json.loads(job.params)
        original = Original.get_by_id(params["original"])
        values: dict[str, Any] = {"name_as": params["name"], **params.get("choices", {})}
        if params.get("units"):
            values["units"] = params["units"]
        with _as_file(params["name"], blobs.get(original.blob_id)) as path:
            for _ in range(TRIES):
                design = self.designs.get(job.design_id)
                head = self.designs.head(design)
                result = self.designs.engine.call(
                    "edit",
                    {"snapshot": head.state_id, "name": "import", "values": {**values, "path": path}, "meshes": False},
                    lane="job", key="imports", deadline=DEADLINES["import"], blobs=blobs.get, progress=beat.tell,
                    token=_token(job),
                )  # fmt: skip
                if Job.get_by_id(job.id).cancel:
                    raise Cancelled("stopped; nothing was brought in")
                kept = {**values, "path": params["name"], "original": original.blob_id}
                try:
                    if result.stored is None:
                        return result.sentence
                    self.designs.keep(design, head.id, kept, result, result.stored)
                except Conflict:
                    continue  # somebody edited meanwhile: bring it in on top of that
                return result.sentence
        raise RavineError("the model changed again and again while the file came in; try once more")

    @staticmethod
    def _end(job: Job, state: str, words: str) -> None:
        Job.update(state=state, words=words[:255], fraction=1.0, updated=now(), lease=None).where(
            Job.id == job.id
        ).execute()


class _Beat(threading.Thread):
    """Keeps the lease alive and writes progress, a few times a second, on a connection of its own."""

    def __init__(self, job: Job) -> None:
        super().__init__(daemon=True)
        self.job = job
        self.stop = threading.Event()
        self.latest = (0.0, "beginning")

    def tell(self, fraction: float, words: str) -> None:
        self.latest = (fraction, words)

    def run(self) -> None:
        while not self.stop.wait(0.3):
            fraction, words = self.latest
            try:
                with database.connection_context():
                    Job.update(fraction=fraction, words=words[:255], lease=now() + LEASE, updated=now()).where(
                        (Job.id == self.job.id) & (Job.state == "running")
                    ).execute()
            except (OperationalError, InterfaceError) as error:
                log.warning("progress of job %s not written: %s", self.job.id, error)
                time.sleep(0.5)
