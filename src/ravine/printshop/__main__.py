"""The server of the stand-in."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from ravine.supplier.desk import Desk, Server, serve_desk

from .books import Books, Refused

LARGEST_MESH = 120 << 20


class Answering(Desk):
    """POST /uploads (binary STL, mm); POST /quotes {"upload", "quantity"}; POST /orders {"key", "lines"};
    GET /orders/KEY; GET and POST /service {"out", "fails"}."""

    books: Books

    def do_GET(self) -> None:
        if self.path == "/service":
            self.tell(200, {k: self.books.data[k] for k in ("out", "fails")})
        elif self.books.data["out"]:
            self.tell(503, {"reason": "out of service"})
        elif found := re.fullmatch(r"/orders/([\w-]{1,64})", self.path):
            order = self.books.known(found[1])
            self.tell(200 if order else 404, order or {"reason": "no such order"})
        else:
            self.tell(404, {"reason": "no such address"})

    def do_POST(self) -> None:
        if self.path == "/uploads":
            self._upload()
            return
        told = self.read_json()
        if told is None:
            self.tell(422, {"reason": "the request is no JSON object"})
        elif self.path == "/service":
            self.books.switch(bool(told.get("out")), str(told.get("fails", "")))
            self.tell(200, {})
        elif self._is_out():
            self.tell(503, {"reason": "out of service"})
        else:
            self._answer(told)

    def _is_out(self) -> bool:
        return bool(self.books.data["out"]) or self.path == f"/{self.books.data['fails']}"

    def _upload(self) -> None:
        data = self.read_body(LARGEST_MESH)
        if data is None:
            self.tell(422, {"reason": "the mesh is too large"})
        elif self._is_out():
            self.tell(503, {"reason": "out of service"})
        else:
            self.tell(200, self.books.upload(data))

    def _answer(self, told: dict) -> None:
        try:
            if self.path == "/quotes":
                count = told.get("quantity", 1)
                rows = self.books.quotes(str(told.get("upload", "")), count if isinstance(count, int) else 0)
                self.tell(200, {"quotes": rows})
            elif self.path == "/orders":
                key = told.get("key")
                if not isinstance(key, str) or not re.fullmatch(r"[\w-]{8,64}", key):
                    raise Refused("an order has a key of 8 to 64 letters")
                self.tell(200, self.books.order(key, told.get("lines")))
            else:
                self.tell(404, {"reason": "no such address"})
        except Refused as error:
            self.tell(422, {"reason": str(error)})


def serve(path: str, folder: Path) -> Server:
    """Bound and ready; call serve_forever."""
    return serve_desk(path, Answering, books=Books(folder))


if __name__ == "__main__":
    serve(sys.argv[1], Path(sys.argv[2])).serve_forever()
