"""The pool: workers in lanes, a warm spare, and who gets which.

A call goes to a worker that is warm for its key.  While that one is busy it waits for a second at most; then any free
one takes over.  Calls are served in the order they came, a few may wait, further ones are told at once that all are
busy: nobody waits for one that hangs.  While all workers of a lane have been busy for some seconds it may grow
beyond its size, and shrinks again.
"""

from __future__ import annotations

import multiprocessing
import os
import threading
import time
from dataclasses import dataclass, field

from ravine.core import Cancelled

from . import PRELOADED
from .wire import Busy, Call, Done, EngineFailure, Needs, Progress
from .worker import Lost, Worker

TAKEOVER = 1.0  # seconds for which a call waits for the worker that is warm for it
RELIEF = 3.0  # seconds of waiting after which a lane takes on one more worker
MOST_WAITING = 3  # calls, for each worker of a lane
IDLE = 20.0  # seconds after which a worker of a lane that is seldom used goes
LEAST_SHARE = 0.25  # of its deadline, that a call still has when it begins


@dataclass
class Settings:
    """hands, jobs, pictures, rows: workers of each lane."""

    hands: int = 2
    jobs: int = 1
    pictures: int = 1
    rows: int = os.cpu_count() or 1
    memory_bytes: int = 6 << 30
    extra: str | None = None  # a module that registers further tasks and edits; tests use it to plant faults


@dataclass
class _Lane:
    """lasting: whether its workers stay when nothing is to do."""

    size: int
    lasting: bool = True
    workers: list[Worker] = field(default_factory=list)
    waiting: list[_Ticket] = field(default_factory=list)


@dataclass(eq=False)
class _Ticket:
    call: Call
    arrived: float
    worker: Worker | None = None

    @property
    def waited(self) -> float:
        return time.monotonic() - self.arrived


class Pool:
    """Thread-safe; `run` blocks its caller until the worker is done, the call's deadline is over or all are busy."""

    def __init__(self, settings: Settings | None = None) -> None:
        self.settings = settings or Settings()
        # workers are forked from one process of a single thread that has loaded the geometry library, so that a fresh
        # one is there at once and shares its pages
        self._context = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload(PRELOADED)
        self._lanes = {
            "hand": _Lane(self.settings.hands),
            "job": _Lane(self.settings.jobs),
            "picture": _Lane(self.settings.pictures, lasting=False),
            "row": _Lane(self.settings.rows, lasting=False),
        }
        self._changed = threading.Condition()
        self._closed = False
        self._cancelled: set[str] = set()
        self.deaths = 0
        self._spare = self._spawn()

    # --- workers -----------------------------------------------------------------------------------------------

    def _spawn(self) -> Worker:
        return Worker(self._context, self.settings.memory_bytes, self.settings.extra)

    def _take_spare(self) -> Worker:
        """Call with the condition held, as all below."""
        taken, self._spare = self._spare, self._spawn()
        if not taken.alive:
            taken.kill()
            return self._take_spare()
        return taken

    def _assign(self, lane: _Lane) -> None:
        """Workers to those who wait, in their order."""
        for ticket in list(lane.waiting):
            worker = self._worker_for(lane, ticket)
            if worker is not None:
                worker.take(ticket.call.key)
                ticket.worker = worker
                lane.waiting.remove(ticket)
                self._changed.notify_all()

    def _worker_for(self, lane: _Lane, ticket: _Ticket) -> Worker | None:
        for dead in [w for w in lane.workers if not w.busy and not w.alive]:
            self._drop(lane, dead)
        key = ticket.call.key
        warm = [w for w in lane.workers if key and key in w.keys]
        free = [w for w in lane.workers if not w.busy]
        found = next((w for w in warm if not w.busy), None)
        if found is not None:
            return found
        if warm and ticket.waited < TAKEOVER:
            return None
        unused = next((w for w in free if not w.keys), None)
        if unused is not None:
            return unused
        if len(lane.workers) < lane.size + (lane.size if ticket.waited > RELIEF else 0) and not (warm and free):
            new = self._take_spare()
            lane.workers.append(new)
            return new
        return min(free, key=lambda w: len(w.keys), default=None)

    def _drop(self, lane: _Lane, dead: Worker) -> None:
        self.deaths += 1
        if dead in lane.workers:
            lane.workers.remove(dead)
        dead.kill()

    def _give_back(self, lane: _Lane, worker: Worker) -> None:
        worker.busy = False
        if worker not in lane.workers or lane.waiting:
            return
        if len(lane.workers) > lane.size:
            self._retire(lane, worker)
        elif not lane.lasting:
            timer = threading.Timer(IDLE, self._retire_idle, (lane, worker, worker.taken))
            timer.daemon = True
            timer.start()

    def _retire(self, lane: _Lane, worker: Worker) -> None:
        lane.workers.remove(worker)
        worker.kill()

    def _retire_idle(self, lane: _Lane, worker: Worker, taken: int) -> None:
        with self._changed:
            if worker in lane.workers and not worker.busy and worker.taken == taken:
                self._retire(lane, worker)

    # --- calls -------------------------------------------------------------------------------------------------

    def run(self, call: Call, progress: Progress | None = None) -> Done | Needs:
        """Raises RavineError from the core, Cancelled, Busy, or EngineFailure when the worker is lost."""
        lane = self._lanes[call.lane]
        ticket = _Ticket(call, time.monotonic())
        worker = self._wait(lane, ticket)
        try:
            end = max(ticket.arrived + call.deadline, time.monotonic() + LEAST_SHARE * call.deadline)
            return worker.converse(call, end, self._cancelled.__contains__, progress)
        except Lost:
            with self._changed:
                self._drop(lane, worker)
            raise
        finally:
            with self._changed:
                self._cancelled.discard(call.token)
                self._give_back(lane, worker)
                self._changed.notify_all()

    def _wait(self, lane: _Lane, ticket: _Ticket) -> Worker:
        call = ticket.call
        with self._changed:
            if len(lane.waiting) >= MOST_WAITING * lane.size:
                raise Busy(len(lane.waiting) + len(lane.workers))
            lane.waiting.append(ticket)
            try:
                while True:
                    if self._closed:
                        raise EngineFailure("the engine is stopping")
                    self._assign(lane)
                    if ticket.worker is not None:
                        return ticket.worker
                    if call.token in self._cancelled:
                        self._cancelled.discard(call.token)
                        raise Cancelled("stopped before it began; nothing changed")
                    if ticket.waited > call.deadline:
                        raise Busy(len(lane.waiting) + len(lane.workers))
                    self._changed.wait(0.1)
            finally:
                if ticket in lane.waiting:
                    lane.waiting.remove(ticket)

    def cancel(self, token: str) -> None:
        """Ask running and waiting calls to stop; kill a worker that does not notice soon."""
        if not token:
            return
        with self._changed:
            self._cancelled.add(token)
            self._changed.notify_all()
            busy = [w for lane in self._lanes.values() for w in lane.workers if w.token == token]
        for worker in busy:
            worker.cancel(token)

    # --- looking after -----------------------------------------------------------------------------------------

    def status(self) -> dict:
        with self._changed:
            everyone = [("spare", self._spare), *((n, w) for n, lane in self._lanes.items() for w in lane.workers)]
            waiting = {name: len(lane.waiting) for name, lane in self._lanes.items()}
        return {
            "deaths": self.deaths,
            "waiting": waiting,
            "children": [
                {"pid": w.process.pid, "lane": lane, "busy": w.busy, "rss": _rss(w.process.pid)} for lane, w in everyone
            ],
        }

    def close(self) -> None:
        with self._changed:
            self._closed = True
            self._changed.notify_all()
            everyone = [self._spare, *(w for lane in self._lanes.values() for w in lane.workers)]
        for one in everyone:
            one.kill()


def _rss(pid: int | None) -> int:
    try:
        with open(f"/proc/{pid}/statm") as file:
            return int(file.read().split()[1]) * 4096
    except OSError:
        return 0
