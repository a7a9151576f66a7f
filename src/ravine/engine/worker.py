"""One worker process as the pool sees it: started, spoken with, killed."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from multiprocessing.context import ForkServerContext
from multiprocessing.process import BaseProcess

from ravine.core import Cancelled, RavineError

from . import child
from .wire import Call, CancelCall, Done, EngineFailure, Failed, GaveUp, Needs, OutOfMemory, Progress

CANCEL_GRACE = 1.5  # seconds a worker has to notice a cancel before it is killed
START_LIMIT = 60.0
MOST_KEYS = 200  # that a worker is known to be warm for


class Lost(EngineFailure):
    """The worker is no more; whoever spoke with it has to drop it."""


class Worker:
    """busy: whether it is taken, which the pool decides; taken: how often it was; keys: what its caches are warm for,
    latest last."""

    def __init__(self, context: ForkServerContext, memory_bytes: int, extra: str | None) -> None:
        self.pipe, theirs = context.Pipe()
        self.process: BaseProcess = context.Process(target=child.main, args=(theirs, memory_bytes, extra), daemon=True)
        self.process.start()
        theirs.close()
        self.busy = False
        self.taken = 0
        self.keys: OrderedDict[str, None] = OrderedDict()
        self.token = ""
        self._ready = False
        self._sending = threading.Lock()

    @property
    def alive(self) -> bool:
        return self.process.is_alive()

    def take(self, key: str) -> None:
        self.busy = True
        self.taken += 1
        if key:
            self.keys[key] = None
            self.keys.move_to_end(key)
            while len(self.keys) > MOST_KEYS:
                self.keys.popitem(last=False)

    def kill(self) -> None:
        self.process.kill()
        self.process.join(5)
        self.pipe.close()

    def converse(
        self, call: Call, end: float, cancelled: Callable[[str], bool], progress: Progress | None
    ) -> Done | Needs:
        """The answer to a call.  end: when (monotonic) it is stopped.  Raises RavineError from the core, Cancelled,
        and Lost where the worker has ended or has to."""
        self._wait_ready(end)
        if cancelled(call.token):
            raise Cancelled("stopped before it began; nothing changed")
        self.token, heard = call.token, time.monotonic()
        try:
            with self._sending:
                self.pipe.send(call)
            while True:
                now = time.monotonic()
                if now > end:
                    raise self._overdue(f"did not finish within {call.deadline:.0f} s")
                if now - heard > call.still:
                    raise self._overdue(f"got no further for {call.still:.0f} s")
                if not self.pipe.poll(min(end - now, 0.25)):
                    continue
                message, heard = self.pipe.recv(), time.monotonic()
                if isinstance(message, (Done, Needs)):
                    return message
                if isinstance(message, Failed):
                    raise _word(message.error)
                if progress:
                    progress(message.fraction, message.words)
        except (EOFError, OSError) as error:
            self.process.join(5)  # so that it counts as dead from here on
            if cancelled(call.token):
                raise Cancelled("stopped; nothing changed") from error
            raise Lost(
                "the geometry kernel crashed on this edit; nothing changed, and a fresh worker has taken over"
            ) from error
        finally:
            self.token = ""

    def _wait_ready(self, end: float) -> None:
        if self._ready:
            return
        if not self.pipe.poll(max(0.0, min(START_LIMIT, end - time.monotonic()))):
            raise Lost("a worker process did not start in time; the machine may be overloaded")
        try:
            self.pipe.recv()
        except (EOFError, OSError) as error:
            raise Lost("a worker process ended while starting; see the engine's log") from error
        self._ready = True

    @staticmethod
    def _overdue(what: str) -> Lost:
        return Lost(
            f"the geometry kernel {what}, so this edit was stopped; nothing changed, and a fresh worker has taken over"
        )

    def cancel(self, token: str) -> None:
        """Ask for an end of the call with this token; kill it when it does not notice soon."""
        with self._sending:
            self.pipe.send(CancelCall(token))

        def insist() -> None:
            if self.token == token:
                self.process.kill()

        timer = threading.Timer(CANCEL_GRACE, insist)
        timer.daemon = True
        timer.start()


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
