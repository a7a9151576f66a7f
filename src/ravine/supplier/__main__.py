"""The server: HTTP on a socket of the file system, which only its owner can reach."""

from __future__ import annotations

import json
import os
import re
import socketserver
import sys
from http.server import BaseHTTPRequestHandler
from pathlib import Path
from typing import Any

from .catalogue import items_for
from .orders import Books, Refused

LARGEST = 1 << 20


class Answering(BaseHTTPRequestHandler):
    """POST /offers {"items": […]}; POST /find {"text", "limit"}; POST /orders {"key", "lines"}; GET
    /orders/KEY; GET and POST /service {"out"}."""

    books: Books

    def do_GET(self) -> None:
        if self.path == "/service":
            self._tell(200, {"out": self.books.out})
        elif self.books.out:
            self._tell(503, {"reason": "out of service"})
        elif found := re.fullmatch(r"/orders/([\w-]{1,64})", self.path):
            order = self.books.data["orders"].get(found[1])
            self._tell(200 if order else 404, order or {"reason": "no such order"})
        else:
            self._tell(404, {"reason": "no such address"})

    def do_POST(self) -> None:
        told = self._read()
        if told is None:
            self._tell(422, {"reason": "the request is no JSON object"})
        elif self.path == "/service":
            self.books.switch(bool(told.get("out")))
            self._tell(200, {"out": self.books.out})
        elif self.books.out:
            self._tell(503, {"reason": "out of service"})
        elif self.path == "/offers":
            items = [str(i)[:80] for i in told.get("items", [])][:2000]
            self._tell(200, {item: self.books.offers(item) for item in items})
        elif self.path == "/find":
            limit = told.get("limit", 40)
            self._tell(
                200, {"items": items_for(str(told.get("text", ""))[:80], limit if isinstance(limit, int) else 40)}
            )
        elif self.path == "/orders":
            self._order(told)
        else:
            self._tell(404, {"reason": "no such address"})

    def _order(self, told: dict[str, Any]) -> None:
        key = told.get("key")
        if not isinstance(key, str) or not re.fullmatch(r"[\w-]{8,64}", key):
            self._tell(422, {"reason": "an order has a key of 8 to 64 letters"})
            return
        try:
            self._tell(200, self.books.order(key, told.get("lines", [])))
        except Refused as error:
            self._tell(422, {"reason": str(error)})

    def _read(self) -> dict[str, Any] | None:
        length = self.headers.get("Content-Length", "0")
        if not length.isdecimal() or int(length) > LARGEST:
            return None
        try:
            data = json.loads(self.rfile.read(int(length)) or b"{}")
        except (ValueError, RecursionError):
            return None
        return data if isinstance(data, dict) else None

    def _tell(self, status: int, data: Any) -> None:
        body = json.dumps(data).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def address_string(self) -> str:
        return "local"


class Server(socketserver.ThreadingMixIn, socketserver.UnixStreamServer):
    daemon_threads = True


def serve(path: str, folder: Path) -> Server:
    """Bound and ready; call serve_forever."""
    Path(path).unlink(missing_ok=True)
    handler = type("Bound", (Answering,), {"books": Books(folder)})
    before = os.umask(0o177)
    try:
        return Server(path, handler)
    finally:
        os.umask(before)


if __name__ == "__main__":
    serve(sys.argv[1], Path(sys.argv[2])).serve_forever()
