"""How the rest of Ravine reaches the engine.

`Engine` is the seam: `RemoteEngine` speaks to the engine process, `LocalEngine` owns a pool itself (scripts,
tests).  Another way to run, such as a cluster, is one more class with the same two methods.
"""

from __future__ import annotations

import math
import threading
import time
from multiprocessing.connection import Client, Connection
from typing import Any, Protocol

from .pool import Pool, Settings
from .wire import BlobSource, Call, CancelCall, Done, EngineFailure, Failed, Needs, Progress, StatusCall

RESTART_PATIENCE = 15.0  # seconds
DEADLINES = {"edit": 60.0, "preview": 60.0, "drag": 30.0, "import": 900.0, "check-up": 300.0}


class Engine(Protocol):
    def call(
        self, task: str, args: dict[str, Any], *, key: str = "", lane: str = "hand", deadline: float = 60.0,
        blobs: BlobSource | None = None, progress: Progress | None = None, token: str = "", still: float = math.inf,
    ) -> Any: ...  # fmt: skip

    def cancel(self, token: str) -> None: ...


class _Supplying:
    """Makes a call, supplies the blobs the child asks for, and makes it again."""

    def call(
        self, task: str, args: dict[str, Any], *, key: str = "", lane: str = "hand", deadline: float = 60.0,
        blobs: BlobSource | None = None, progress: Progress | None = None, token: str = "", still: float = math.inf,
    ) -> Any:  # fmt: skip
        call = Call(task, args, key, lane, deadline, {}, token, still)
        for _ in range(6):
            answer = self._once(call, progress)
            if isinstance(answer, Done):
                return answer.result
            if blobs is None:
                raise EngineFailure("the worker asked for stored geometry, and the caller has none")
            call.blobs = {address: blobs(address) for address in answer.addresses}
        raise EngineFailure("the worker keeps asking for stored geometry; the model's blobs may be incomplete")

    def _once(self, call: Call, progress: Progress | None) -> Done | Needs:
        raise NotImplementedError


class LocalEngine(_Supplying):
    def __init__(self, settings: Settings | None = None) -> None:
        self.pool = Pool(settings)

    def _once(self, call: Call, progress: Progress | None) -> Done | Needs:
        return self.pool.run(call, progress)

    def cancel(self, token: str) -> None:
        self.pool.cancel(token)

    def status(self) -> dict:
        return self.pool.status()

    def close(self) -> None:
        self.pool.close()


class RemoteEngine(_Supplying):
    """One connection a thread, opened on first use and again after the engine was restarted."""

    def __init__(self, address: str, authkey: bytes) -> None:
        self.address, self.authkey = address, authkey
        self._local = threading.local()

    def _connect(self) -> Connection:
        """A restarting engine is waited for; it takes some seconds."""
        end = time.monotonic() + RESTART_PATIENCE
        while True:
            try:
                return Client(self.address, "AF_UNIX", authkey=self.authkey)
            except (OSError, EOFError) as error:
                if time.monotonic() > end:
                    raise EngineFailure("the geometry engine is not running; nothing changed, try again") from error
                time.sleep(0.1)

    def _ask(self, message: object, progress: Progress | None = None) -> Any:
        """One question, one answer.  Calls only compute and keep nothing, so when a connection from earlier turns
        out dead (the engine was restarted meanwhile) the question is asked again on a new one."""
        kept = getattr(self._local, "connection", None)
        if kept is not None and not kept.closed:
            try:
                return self._exchange(kept, message, progress)
            except (OSError, EOFError):
                pass
        self._local.connection = self._connect()
        try:
            return self._exchange(self._local.connection, message, progress)
        except (OSError, EOFError) as error:
            raise EngineFailure("the geometry engine stopped during this edit; nothing changed") from error

    @staticmethod
    def _exchange(connection: Connection, message: object, progress: Progress | None) -> Any:
        try:
            connection.send(message)
            while True:
                answer = connection.recv()
                if answer is None or isinstance(answer, (Done, Needs, Failed, dict)):
                    return answer
                if progress:
                    progress(answer.fraction, answer.words)
        except BaseException:
            connection.close()  # what was still on its way must not be taken for the next answer
            raise

    def _once(self, call: Call, progress: Progress | None) -> Done | Needs:
        answer = self._ask(call, progress)
        if isinstance(answer, Failed):
            raise answer.error
        return answer

    def cancel(self, token: str) -> None:
        self._ask(CancelCall(token))

    def status(self) -> dict:
        return self._ask(StatusCall())
