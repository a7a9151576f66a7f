"""The loop of one worker process.  It is forked with everything loaded (preloaded.py)."""

from __future__ import annotations

import ctypes
import importlib
import logging
import os
import resource
import signal
import time
from multiprocessing.connection import Connection
from typing import Any

from .wire import Call, CancelCall, Done, Failed, GaveUp, Needs, OutOfMemory, ProgramFault, Progressed

log = logging.getLogger("ravine.worker")
_PR_SET_PDEATHSIG = 1
_PR_SET_NO_NEW_PRIVS = 38
_CLONE_NEWUSER = 0x10000000
_CLONE_NEWNET = 0x40000000


def _limits(memory_bytes: int) -> None:
    """Die with the engine; hold no more memory than allowed; write no core files; leave Ctrl-C to the starter."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_AS, (memory_bytes, memory_bytes))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    ctypes.CDLL(None).prctl(_PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0)
    _without_network()


def _without_network() -> None:
    """What reads files of strangers gets a network of its own with nothing in it (namespaces(7)); where the system does
    not allow that, it goes on with the one there is, and says so in the log."""
    libc, uid, gid = ctypes.CDLL(None, use_errno=True), os.getuid(), os.getgid()
    if libc.unshare(_CLONE_NEWNET) == 0:
        return
    if libc.unshare(_CLONE_NEWUSER | _CLONE_NEWNET) != 0:
        log.warning("this worker keeps the network: %s", os.strerror(ctypes.get_errno()))
        return
    for name, text in (("setgroups", "deny"), ("uid_map", f"{uid} {uid} 1"), ("gid_map", f"{gid} {gid} 1")):
        with open(f"/proc/self/{name}", "w") as file:
            file.write(text)


def _warm() -> None:
    """What the first real call would otherwise wait for."""
    from ravine.core.kernel.boolean import combine
    from ravine.core.kernel.build import box
    from ravine.core.kernel.tessellate import fast_reading_works

    combine("unite", box(1, 1, 1), [box(1, 1, 2)])
    fast_reading_works()


def main(connection: Connection, memory_bytes: int, extra: str | None) -> None:
    _limits(memory_bytes)
    from ravine.core import Cancelled, RavineError

    from . import tasks

    if extra:
        importlib.import_module(extra)
    _warm()
    workshop = tasks.Workshop()
    connection.send(("ready", os.getpid()))
    while True:
        try:
            call = connection.recv()
        except EOFError:
            return
        if isinstance(call, CancelCall):
            continue  # it came after the work was done
        connection.send(_run(call, workshop, connection, tasks, (RavineError, Cancelled)))


def _run(call: Call, workshop: Any, connection: Connection, tasks: Any, expected: tuple) -> Done | Failed | Needs:
    from ravine.core import Cancelled
    from ravine.core.operations.ladder import FAILURES

    last = 0.0

    def progress(fraction: float, words: str) -> None:
        nonlocal last
        while connection.poll():
            message = connection.recv()
            if isinstance(message, CancelCall) and message.token == call.token:
                raise Cancelled("stopped; nothing changed")
        if time.monotonic() - last > 0.05:
            last = time.monotonic()
            connection.send(Progressed(fraction, words))

    try:
        workshop.take(dict(call.blobs))
        return Done(tasks.TASKS[call.task](workshop, call.args, progress))
    except tasks.MissingBlobs as missing:
        return Needs(missing.addresses)
    except expected as error:
        return Failed(error)
    except MemoryError:
        return Failed(OutOfMemory())
    except FAILURES as error:
        log.warning("the kernel gave up on %s", call.task, exc_info=True)
        return Failed(OutOfMemory() if "bad_alloc" in str(error) else GaveUp(f"{type(error).__name__}: {error}"))
    except Exception as error:  # whatever else comes is a fault in the program, and is told as one
        log.exception("fault in the program, in %s", call.task)
        return Failed(OutOfMemory() if "bad_alloc" in str(error) else ProgramFault(f"{type(error).__name__}: {error}"))
