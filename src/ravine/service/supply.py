"""The one way to a supplier, and to a print service.  An address is `unix:` with a socket (the stand-in) or http(s);
another one takes its place by answering the same requests (supplier/__main__.py, printshop/__main__.py)."""

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


class Service:
    """One at an address."""

    what = "the service"

    def __init__(self, address: str) -> None:
        self.address = address

    def _ask(self, method: str, path: str, body: dict[str, Any] | bytes | None) -> dict[str, Any]:
        """body: None where nothing is sent; who answers without reading one may have hung up before it is sent."""
        link = self._link()
        data, kind = (json.dumps(body), "application/json") if isinstance(body, dict) else (body, "model/stl")
        try:
            link.request(method, path, data, {"Content-Type": kind} if data else {})
            answer = link.getresponse()
            found: dict[str, Any] = json.loads(answer.read())
        except (OSError, http.client.HTTPException, ValueError) as error:
            raise SupplierAway(f"{self.what} does not answer") from error
        finally:
            link.close()
        if answer.status >= 500:
            raise SupplierAway(f"{self.what} is out of service")
        if answer.status >= 400:
            raise RavineError(f"{self.what} refused: {found.get('reason', 'without a word')}")
        return found

    def order(self, key: str, lines: list[dict[str, Any]]) -> dict[str, Any]:
        """Nothing is ordered twice under one key.  Raises SupplierAway, and RavineError where it is refused."""
        return self._ask("POST", "/orders", {"key": key, "lines": lines})

    def _link(self) -> http.client.HTTPConnection:
        if self.address.startswith("unix:"):
            return _Socket(self.address[5:])
        where = urlsplit(self.address)
        kind = http.client.HTTPSConnection if where.scheme == "https" else http.client.HTTPConnection
        return kind(where.hostname or "", where.port, timeout=PATIENCE)


class PrintShop(Service):
    """The one way to a print service (printshop/__main__.py says what it has to answer)."""

    what = "the print service"

    def upload(self, mesh: bytes) -> dict[str, Any]:
        """Binary STL in mm; its own look at it: upload, size, volume, problems.  Raises SupplierAway."""
        return self._ask("POST", "/uploads", mesh)

    def quotes(self, upload: str, quantity: int) -> list[dict[str, Any]]:
        """Raises SupplierAway, and RavineError where it is refused."""
        found: list[dict[str, Any]] = self._ask("POST", "/quotes", {"upload": upload, "quantity": quantity})["quotes"]
        return found

    def standing(self, key: str) -> dict[str, Any]:
        return self._ask("GET", f"/orders/{key}", None)


class Supply(Service):
    what = "the supplier"

    def offers(self, items: Iterable[str]) -> dict[str, list[dict[str, Any]]]:
        """By item of the shelf.  Raises SupplierAway."""
        wanted = sorted(set(items))
        return self._ask("POST", "/offers", {"items": wanted}) if wanted else {}

    def find(self, text: str, limit: int) -> list[str]:
        """Items of the shelf that a stock number or a maker stands for.  Raises SupplierAway."""
        return [str(i) for i in self._ask("POST", "/find", {"text": text, "limit": limit}).get("items", [])]
