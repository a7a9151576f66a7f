"""How gunicorn runs the pages: loaded once, in the process that its workers are forked from, so that they share it.
Threads come with each worker, since a fork takes none along."""

from __future__ import annotations

import gc
from typing import Any

preload_app = True
RUNNERS = 2  # so that what is brought in does not wait for what is solved


def pre_fork(server: Any, worker: Any) -> None:
    """What is loaded by now lasts: the collector need not write to it, which would copy it."""
    gc.freeze()


def post_worker_init(worker: Any) -> None:
    from ravine.service.jobs import Runner

    for _ in range(RUNNERS):
        Runner(worker.wsgi.extensions["designs"]).start()
