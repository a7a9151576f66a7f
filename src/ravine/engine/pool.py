"""The pool: children per lane, a warm spare, deadlines and cancel."""

from __future__ import annotations

import multiprocessing
import threading
import time
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess

from ravine.core import Cancelled, RavineError

from . import child
from .wire import Call, CancelCall, Done, EngineFailure, Failed, GaveUp, Needs, OutOfMemory, Progress

CANCEL_GRACE = 1.5  # seconds a child has to notice a cancel before it is killed
START_LIMIT = 60.0


@dataclass
class Settings:
    hands: int = 2
    jobs: int = 1
    memory_bytes: int = 6 << 30
    extra: str | None = None  # a module that registers further tasks and edits; tests use it to plant faults


@dataclass(eq=False)
class _Child:
    process: BaseProcess
    pipe: Connection
    ready: bool = False
    lock: threading.Lock = field(default_factory=threading.Lock)
    sending: threading.Lock = field(default_factory=threading.Lock)
    waiting: int = 0
    keys: set[str] = field(default_factory=set)
    token: str = ""

    def wait_ready(self) -> None:
        if self.ready:
            return
        if not self.pipe.poll(START_LIMIT):
            raise EngineFailure("a worker process did not start in time; the machine may be overloaded")
        try:
            self.pipe.recv()
        except (EOFError, OSError) as error:
            raise EngineFailure("a worker process ended while starting; see the engine's log") from error
        self.ready = True

    def kill(self) -> None:
        self.process.kill()
        self.process.join(5)
        self.pipe.close()


class Pool:
    """Thread-safe; `run` blocks its caller until the child is done."""

    def __init__(self, settings: Settings | None = None) -> None:
        self.settings = settings or Settings()
        self._context = multiprocessing.get_context("spawn")
        self._lanes: dict[str, list[_Child]] = {"hand": [], "job": []}
        self._guard = threading.Lock()
        self._closed = False
        self._cancelled: set[str] = set()
        self.deaths = 0
        self._spare = self._spawn()

    # --- children ----------------------------------------------------------------------------------------------

    def _spawn(self) -> _Child:
        ours, theirs = self._context.Pipe()
        process = self._context.Process(
            target=child.main, args=(theirs, self.settings.memory_bytes, self.settings.extra), daemon=True
        )
        process.start()
        theirs.close()
        return _Child(process, ours)

    def _take_spare(self) -> _Child:
        """Call with the guard held."""
        taken, self._spare = self._spare, self._spawn()
        if not taken.process.is_alive():
            taken.kill()
            return self._take_spare()
        return taken

    def _child_for(self, call: Call) -> _Child:
        """The child that has this key already; else a free one; else a new one while the lane may grow; else the
        least busy."""
        with self._guard:
            if self._closed:
                raise EngineFailure("the engine is stopping")
            lane = self._lanes[call.lane]
            found = next((c for c in lane if call.key and call.key in c.keys), None)
            if found is None:
                found = next((c for c in lane if not c.waiting and not c.keys), None)
            if found is None:
                limit = self.settings.hands if call.lane == "hand" else self.settings.jobs
                if len(lane) < limit:
                    found = self._take_spare()
                    lane.append(found)
                else:
                    found = min(lane, key=lambda c: (c.waiting, len(c.keys)))
            if call.key:
                found.keys.add(call.key)
            found.waiting += 1
            return found

    def _drop(self, dead: _Child, lane: str) -> None:
        with self._guard:
            self.deaths += 1
            if dead in self._lanes[lane]:
                self._lanes[lane].remove(dead)
        dead.kill()

    # --- calls -------------------------------------------------------------------------------------------------

    def run(self, call: Call, progress: Progress | None = None) -> Done | Needs:
        """Raises RavineError from the core, Cancelled, or EngineFailure when the child is lost."""
        chosen = self._child_for(call)
        try:
            with chosen.lock:
                if not chosen.process.is_alive() and chosen.ready:
                    self._drop(chosen, call.lane)
                    raise _Lost
                return self._converse(chosen, call, progress)
        except _Lost:
            return self.run(call, progress)  # it died before this call began: nothing was tried yet
        finally:
            with self._guard:
                chosen.waiting -= 1
                self._cancelled.discard(call.token)

    def _converse(self, chosen: _Child, call: Call, progress: Progress | None) -> Done | Needs:
        chosen.wait_ready()
        if call.token in self._cancelled:
            raise Cancelled("stopped before it began; nothing changed")
        chosen.token = call.token
        end = time.monotonic() + call.deadline
        try:
            with chosen.sending:
                chosen.pipe.send(call)
            while True:
                left = end - time.monotonic()
                if left <= 0 or not chosen.pipe.poll(min(left, 0.25)):
                    self._check_patience(chosen, call, left)
                    continue
                message = chosen.pipe.recv()
                if isinstance(message, (Done, Needs)):
                    return message
                if isinstance(message, Failed):
                    raise self._word(message.error)
                if progress:
                    progress(message.fraction, message.words)
        except (EOFError, OSError) as error:
            self._drop(chosen, call.lane)
            if call.token in self._cancelled:
                raise Cancelled("stopped; nothing changed") from error
            raise EngineFailure(
                "the geometry kernel crashed on this edit; nothing changed, and a fresh worker has taken over"
            ) from error
        finally:
            chosen.token = ""

    def _check_patience(self, chosen: _Child, call: Call, left: float) -> None:
        if left <= 0:
            self._drop(chosen, call.lane)
            raise EngineFailure(
                f"the geometry kernel did not finish within {call.deadline:.0f} s, so this edit was stopped; nothing "
                f"changed, and a fresh worker has taken over"
            )

    @staticmethod
    def _word(error: Exception) -> Exception:
        if isinstance(error, RavineError):
            return error
        if isinstance(error, OutOfMemory):
            return EngineFailure("this edit needed more memory than a worker may have; nothing changed")
        if isinstance(error, GaveUp):
            return EngineFailure(f"the geometry kernel gave up on this edit ({error}); nothing changed")
        return EngineFailure(
            f"Ravine itself is at fault here, not the model or the value ({error}); nothing changed, and the engine's "
            f"log has the details"
        )

    def cancel(self, token: str) -> None:
        """Ask a running call to stop; kill its child when it does not notice soon."""
        if not token:
            return
        with self._guard:
            self._cancelled.add(token)
            busy = next((c for lane in self._lanes.values() for c in lane if c.token == token), None)
        if busy is None:
            return
        with busy.sending:
            busy.pipe.send(CancelCall(token))

        def insist() -> None:
            if busy.token == token:
                busy.process.kill()

        timer = threading.Timer(CANCEL_GRACE, insist)
        timer.daemon = True
        timer.start()

    # --- looking after -----------------------------------------------------------------------------------------

    def status(self) -> dict:
        with self._guard:
            everyone = [("spare", self._spare), *((n, c) for n, lane in self._lanes.items() for c in lane)]
        return {
            "deaths": self.deaths,
            "children": [
                {"pid": c.process.pid, "lane": lane, "busy": bool(c.token), "rss": _rss(c.process.pid)}
                for lane, c in everyone
            ],
        }

    def close(self) -> None:
        with self._guard:
            self._closed = True
            everyone = [self._spare, *(c for lane in self._lanes.values() for c in lane)]
        for one in everyone:
            one.kill()


class _Lost(Exception):
    pass


def _rss(pid: int | None) -> int:
    try:
        with open(f"/proc/{pid}/statm") as file:
            return int(file.read().split()[1]) * 4096
    except OSError:
        return 0
