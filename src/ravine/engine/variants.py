"""Rows of values tried on all cores."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from threading import Event, Lock
from typing import Any

from ravine.core import Cancelled, RavineError
from ravine.core.studies import find_study

from .client import Engine
from .wire import BlobSource, Progress


def try_rows(
    engine: Engine, address: str, blobs: BlobSource, rows: Sequence[Mapping[str, str]],
    progress: Progress = lambda share, words: None, token: str = "", study: str = "variant",
    more: Mapping[str, Any] | None = None,
) -> list[Any]:  # fmt: skip
    """What the study gives for each row on the state under an address, in their order (more: other values of it); a row
    whose worker was lost says so in words.  Raises Cancelled after engine.cancel(token)."""
    stop, guard, done = Event(), Lock(), 0
    seconds = find_study(study).seconds

    def one(row: Mapping[str, str]) -> Any:
        nonlocal done
        if stop.is_set():
            raise Cancelled("stopped")
        args = {"snapshot": address, "name": study, "values": {**(more or {}), "rows": dict(row)}}
        try:
            found = engine.call("study", args, lane="row", deadline=seconds, blobs=blobs, token=token)
        except Cancelled:
            stop.set()
            raise
        except RavineError as error:
            found = {"works": False, "why": str(error)}
        with guard:
            done += 1
            progress(done / len(rows), f"{done} of {len(rows)} rows")
        return found

    with ThreadPoolExecutor(os.cpu_count() or 1) as hands:
        return list(hands.map(one, rows))
