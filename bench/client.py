"""A window on the running stack, as fast as the wire allows."""

from __future__ import annotations

import http.client
import json
import time
from typing import Any

from ravine.cli.stack import Stack
from ravine.web.entrance import cookie_name, pass_of


class Window:
    def __init__(self, stack: Stack) -> None:
        self.port = stack.port
        own = cookie_name(f"127.0.0.1:{stack.port}")
        self._told = {
            "Content-Type": "application/json", "X-Ravine": "1", "Accept": "application/x-ravine",
            "Cookie": f"{own}={pass_of(stack.folder.secrets['session_key'])}",
        }  # fmt: skip
        self._connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=120)

    def ask(self, method: str, path: str, data: object = None) -> tuple[bytes, float]:
        """The answer and the seconds it took; OSError or HTTPException where none came."""
        began = time.perf_counter()
        try:
            self._connection.request(method, path, None if data is None else json.dumps(data), self._told)
            body = self._connection.getresponse().read()
        except (OSError, http.client.HTTPException):
            self._connection.close()
            raise
        return body, time.perf_counter() - began

    def json(self, path: str) -> Any:
        return json.loads(self.ask("GET", path)[0])

    def edit(self, ident: int, base: int, name: str, values: dict, how: str = "edits") -> tuple[dict, float]:
        """The head of its answer."""
        body, seconds = self.ask("POST", f"/m/{ident}/{how}", {"edit": name, "base": base, "values": values})
        return head_of(body), seconds


def head_of(body: bytes) -> dict:
    return json.loads(body[8 : 8 + int.from_bytes(body[4:8], "little")])
