"""The one way to a supplier.  Its address is `unix:` with a socket (the stand-in) or http(s); another one takes its
place by answering the same five requests (supplier/__main__.py)."""

from __future__ import annotations

import http.client
import json
import socket
from collections.abc import Iterable
from typing import Any
from urllib.parse import urlsplit

from ravine.core import RavineError

PATIENCE = 4.0  # s


class SupplierAway(RavineError):
    """It does not answer; whether it has got what was sent is not known."""


class _Socket(http.client.HTTPConnection):
    def __init__(self, path: str) -> None:
        super().__init__("localhost", timeout=PATIENCE)
        self._path = path

    def connect(self) -> None:
        self.sock = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.sock.settimeout(PATIENCE)
        self.sock.connect(self._path)


class Supply:
    def __init__(self, address: str) -> None:
        self.address = address

    def offers(self, items: Iterable[str]) -> dict[str, list[dict[str, Any]]]:
        """By item of the shelf.  Raises SupplierAway."""
        wanted = sorted(set(items))
        return self._ask("POST", "/offers", {"items": wanted}) if wanted else {}

    def find(self, text: str, limit: int) -> list[str]:
        """Items of the shelf that a stock number or a maker stands for.  Raises SupplierAway."""
        return [str(i) for i in self._ask("POST", "/find", {"text": text, "limit": limit}).get("items", [])]

    def order(self, key: str, lines: list[dict[str, Any]]) -> dict[str, Any]:
        """Nothing is ordered twice under one key.  Raises SupplierAway, and RavineError where it is refused."""
        return self._ask("POST", "/orders", {"key": key, "lines": lines})

    def _ask(self, method: str, path: str, body: dict[str, Any]) -> dict[str, Any]:
        link = self._link()
        try:
            link.request(method, path, json.dumps(body), {"Content-Type": "application/json"})
            answer = link.getresponse()
            data = json.loads(answer.read())
        except (OSError, http.client.HTTPException, ValueError) as error:
            raise SupplierAway("the supplier does not answer") from error
        finally:
            link.close()
        if answer.status >= 500:
            raise SupplierAway("the supplier is out of service")
        if answer.status >= 400:
            raise RavineError(f"the supplier refused: {data.get('reason', 'without a word')}")
        found: dict[str, Any] = data
        return found

    def _link(self) -> http.client.HTTPConnection:
        if self.address.startswith("unix:"):
            return _Socket(self.address[5:])
        where = urlsplit(self.address)
        kind = http.client.HTTPSConnection if where.scheme == "https" else http.client.HTTPConnection
        return kind(where.hostname or "", where.port, timeout=PATIENCE)
