"""The thread that does jobs, one after the other."""

from __future__ import annotations

import datetime
import json
import logging
import threading
import time

from peewee import InterfaceError, OperationalError

from ravine.core import Cancelled, RavineError
from ravine.engine.wire import EngineFailure
from ravine.store.tables import Job, database, now

from ..designs import Designs
from .kinds import KINDS

log = logging.getLogger("ravine.jobs")
LEASE = datetime.timedelta(seconds=8)
TRIES = 3
CLAIMING = "ravine jobs"  # a lock of the database's


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
        """One runner at a time looks for what is next, so that no two take jobs of one model."""
        if not database.execute_sql("SELECT GET_LOCK(%s, 1)", (CLAIMING,)).fetchone()[0]:
            return None
        try:
            job = self._next()
            if job is None:
                return None
            claimed = (
                Job.update(state="running", lease=now() + LEASE, attempts=Job.attempts + 1, updated=now())
                .where((Job.id == job.id) & (Job.state == job.state) & (Job.attempts == job.attempts))
                .execute()
            )
            return Job.get_by_id(job.id) if claimed else None
        finally:
            database.execute_sql("SELECT RELEASE_LOCK(%s)", (CLAIMING,))

    @staticmethod
    def _next() -> Job | None:
        """The oldest of a model for which no other is under way: jobs of one model follow one another."""
        others = Job.alias()
        busy = [j.design_id for j in others.select(others.design).where(
            (others.state == "running") & (others.lease >= now()))]  # fmt: skip
        ready = (Job.state == "queued") | ((Job.state == "running") & (Job.lease < now()))
        if busy:
            ready &= Job.design.not_in(busy) | Job.design.is_null()
        return Job.select().where(ready).order_by(Job.id).first()

    def _run(self, job: Job) -> None:
        kind = KINDS.get(job.kind)
        if kind is None:
            self._end(job, "failed", f"this version of Ravine does not know jobs of the kind “{job.kind}”")
            return
        if job.cancel:
            self._end(job, "cancelled", "stopped")
            return
        if job.attempts > TRIES:
            self._end(job, "failed", f"given up after {TRIES} interrupted tries; {kind.kept}")
            return
        beat = _Beat(job)
        beat.start()
        try:
            told = kind.work(self.designs, job, json.loads(job.params), beat.tell)
            self._end(job, "done", told)
        except Cancelled:
            self._end(job, "cancelled", kind.stopped)
        except (OperationalError, InterfaceError):
            raise  # the row stays as it is; its lease runs out and it is taken up again
        except RavineError as error:
            if isinstance(error, EngineFailure) and Job.get_by_id(job.id).cancel:
                self._end(job, "cancelled", kind.stopped)
            else:
                self._end(job, "failed", str(error))
        except Exception:
            log.exception("job %s", job.id)
            self._end(job, "failed", "an unexpected fault stopped this job; the log has the details")
        finally:
            beat.stop.set()

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
