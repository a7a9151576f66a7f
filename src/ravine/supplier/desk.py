"""What stand-ins for services have in common: HTTP on a socket of the file system, which only its owner can reach."""

from __future__ import annotations

import json
import os
import socketserver
from http.server import BaseHTTPRequestHandler
from pathlib import Path
from typing import Any

LARGEST = 1 << 20


class Desk(BaseHTTPRequestHandler):
    """Reads and tells JSON."""

    def read_body(self, most: int = LARGEST) -> bytes | None:
        length = self.headers.get("Content-Length", "0")
        return self.rfile.read(int(length)) if length.isdecimal() and int(length) <= most else None

    def read_json(self) -> dict[str, Any] | None:
        body = self.read_body()
        if body is None:
            return None
        try:
            data = json.loads(body or b"{}")
        except (ValueError, RecursionError):
            return None
        return data if isinstance(data, dict) else None

    def tell(self, status: int, data: Any) -> None:
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


def serve_desk(path: str, desk: type[Desk], **values: Any) -> Server:
    """Bound and ready; call serve_forever.  values: what its desks share."""
    Path(path).unlink(missing_ok=True)
    before = os.umask(0o177)
    try:
        return Server(path, type("Bound", (desk,), values))
    finally:
        os.umask(before)
