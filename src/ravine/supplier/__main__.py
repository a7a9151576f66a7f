"""The server of the stand-in."""

from __future__ import annotations

import re
import sys
from pathlib import Path
from typing import Any

from .catalogue import items_for
from .desk import Desk, Server, serve_desk
from .orders import Books, Refused


class Answering(Desk):
    """POST /offers {"items": […]}; POST /find {"text", "limit"}; POST /orders {"key", "lines"}; GET
    /orders/KEY; GET and POST /service {"out"}."""

    books: Books

    def do_GET(self) -> None:
        if self.path == "/service":
            self.tell(200, {"out": self.books.out})
        elif self.books.out:
            self.tell(503, {"reason": "out of service"})
        elif found := re.fullmatch(r"/orders/([\w-]{1,64})", self.path):
            order = self.books.data["orders"].get(found[1])
            self.tell(200 if order else 404, order or {"reason": "no such order"})
        else:
            self.tell(404, {"reason": "no such address"})

    def do_POST(self) -> None:
        told = self.read_json()
        if told is None:
            self.tell(422, {"reason": "the request is no JSON object"})
        elif self.path == "/service":
            self.books.switch(bool(told.get("out")))
            self.tell(200, {"out": self.books.out})
        elif self.books.out:
            self.tell(503, {"reason": "out of service"})
        elif self.path == "/offers":
            items = [str(i)[:80] for i in told.get("items", [])][:2000]
            self.tell(200, {item: self.books.offers(item) for item in items})
        elif self.path == "/find":
            limit = told.get("limit", 40)
            self.tell(
                200, {"items": items_for(str(told.get("text", ""))[:80], limit if isinstance(limit, int) else 40)}
            )
        elif self.path == "/orders":
            self._order(told)
        else:
            self.tell(404, {"reason": "no such address"})

    def _order(self, told: dict[str, Any]) -> None:
        key = told.get("key")
        if not isinstance(key, str) or not re.fullmatch(r"[\w-]{8,64}", key):
            self.tell(422, {"reason": "an order has a key of 8 to 64 letters"})
            return
        try:
            self.tell(200, self.books.order(key, told.get("lines", [])))
        except Refused as error:
            self.tell(422, {"reason": str(error)})


def serve(path: str, folder: Path) -> Server:
    """Bound and ready; call serve_forever."""
    return serve_desk(path, Answering, books=Books(folder))


if __name__ == "__main__":
    serve(sys.argv[1], Path(sys.argv[2])).serve_forever()
