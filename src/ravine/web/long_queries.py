"""Questions that are too long for an address, such as about hundreds of picked things: asked by POST, read as GET."""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable
from typing import Any

HEADER = "HTTP_X_RAVINE_QUERY"  # which other sites cannot send
LONGEST = 1 << 20

App = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class LongQueries:
    """A layer around the application: a POST that says so becomes the GET whose query is its body."""

    def __init__(self, app: App) -> None:
        self.app = app

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        if environ["REQUEST_METHOD"] == "POST" and environ.get(HEADER):
            told = environ.get("CONTENT_LENGTH") or "0"
            length = int(told) if told.isdigit() else LONGEST + 1
            if length > LONGEST:
                start_response("413 Content Too Large", [("Content-Type", "text/plain; charset=utf-8")])
                return [f"a question has up to {LONGEST >> 10} kB".encode()]
            query = environ["wsgi.input"].read(length)
            environ |= {"REQUEST_METHOD": "GET", "QUERY_STRING": query.decode("latin-1"), "CONTENT_LENGTH": "0",
                        "wsgi.input": io.BytesIO()}  # fmt: skip
            environ.pop("CONTENT_TYPE", None)
        return self.app(environ, start_response)
