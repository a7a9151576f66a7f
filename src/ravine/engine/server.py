"""The engine process: a pool behind a socket in the data folder, one thread a caller."""

from __future__ import annotations

import contextlib
import logging
import os
import signal
import sys
import threading
from multiprocessing.connection import Connection, Listener

from ravine.core import RavineError

from .pool import Pool, Settings
from .wire import Call, CancelCall, EngineFailure, Failed, Progressed, StatusCall

log = logging.getLogger("ravine.engine")


def _serve(connection: Connection, pool: Pool) -> None:
    with contextlib.suppress(EOFError, OSError), connection:
        while True:
            message = connection.recv()
            if isinstance(message, CancelCall):
                pool.cancel(message.token)
                connection.send(None)
            elif isinstance(message, StatusCall):
                connection.send(pool.status())
            else:
                connection.send(_answer(message, pool, connection))


def _answer(call: Call, pool: Pool, connection: Connection) -> object:
    def progress(fraction: float, words: str) -> None:
        connection.send(Progressed(fraction, words))

    try:
        return pool.run(call, progress)
    except RavineError as error:
        if isinstance(error, EngineFailure):
            log.warning("%s: %s", call.task, error)
        return Failed(error)


def serve(address: str, authkey: bytes, settings: Settings) -> None:
    """Blocks until SIGTERM."""
    with contextlib.suppress(FileNotFoundError):
        os.unlink(address)
    pool = Pool(settings)
    listener = Listener(address, "AF_UNIX", backlog=64, authkey=authkey)
    os.chmod(address, 0o600)

    def stop(*_: object) -> None:
        pool.close()
        listener.close()
        os._exit(0)

    signal.signal(signal.SIGTERM, stop)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # the starter decides when to stop
    print("engine ready", flush=True)
    while True:
        try:
            connection = listener.accept()
        except (OSError, EOFError) as error:  # a caller that left while being greeted
            log.info("caller lost: %s", error)
            continue
        threading.Thread(target=_serve, args=(connection, pool), daemon=True).start()


def main(key: bytes) -> None:
    """Of `python -m ravine.engine ADDRESS`."""
    logging.basicConfig(level=logging.INFO, format="%(asctime)s %(name)s %(message)s")
    settings = Settings(extra=os.environ.get("RAVINE_ENGINE_EXTRA") or None)
    serve(sys.argv[1], key, settings)
