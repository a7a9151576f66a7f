"""A long answer with its progress: frames of a uint32 length and that many bytes.  A frame that begins with a brace is
JSON, `{"share": 0.4, "words": "measuring"}` or `{"error": "why not"}`; any other is the answer, and the last.

Whoever stops reading stops the work.
"""

from __future__ import annotations

import json
import logging
import queue
import struct
import threading
import uuid
from collections.abc import Callable, Iterator

from flask import Response

from ravine.core import RavineError
from ravine.engine.client import Engine
from ravine.engine.wire import Progress

log = logging.getLogger(__name__)
BEAT = 1.0  # seconds after which the last word is said again, so that a reader who left is noticed


def streamed(engine: Engine, work: Callable[[Progress, str], bytes]) -> Response:
    """work: gets where to tell its progress, and the token to stop it by."""
    token = uuid.uuid4().hex
    waiting: queue.Queue[bytes | dict] = queue.Queue()

    def run() -> None:
        try:
            waiting.put(work(lambda share, words: waiting.put({"share": share, "words": words}), token))
        except RavineError as error:
            waiting.put({"error": str(error)})
        except Exception:  # the reader must not wait for ever
            log.exception("a streamed answer failed")
            waiting.put({"error": "the server failed on this; its log says more. Nothing changed"})

    def frames() -> Iterator[bytes]:
        threading.Thread(target=run, daemon=True).start()
        said: dict = {"share": 0.0, "words": "waiting for a worker"}
        ended = False
        try:
            while not ended:
                try:
                    item = waiting.get(timeout=BEAT)
                except queue.Empty:
                    item = said
                ended = isinstance(item, bytes) or "error" in item
                said = item if isinstance(item, dict) else said
                data = json.dumps(item).encode() if isinstance(item, dict) else item
                yield struct.pack("<I", len(data)) + data
        finally:
            if not ended:
                engine.cancel(token)

    return Response(frames(), mimetype="application/x-ravine")
