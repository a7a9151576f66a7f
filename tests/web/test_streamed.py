"""Answers that come with their progress, and what happens when nobody reads on."""

from __future__ import annotations

import json
import threading
import time

from flask import Flask

from ravine.core import EditError
from ravine.web.streamed import streamed
from tests.parts import boss_block, step_file


class Watched:
    """Stands in for the engine: only what was stopped is noted."""

    def __init__(self):
        self.stopped = threading.Event()

    def cancel(self, token):
        self.stopped.set()


def frames(data):
    found = []
    while data:
        size = int.from_bytes(data[:4], "little")
        found.append(data[4 : 4 + size])
        data = data[4 + size :]
    return found


def test_progress_then_the_answer_or_why_not():
    def work(told, token):
        told(0.5, "half")
        return b"RVM1 and so on"

    engine = Watched()
    with Flask(__name__).test_request_context():
        first, second = frames(streamed(engine, work).get_data())
        assert json.loads(first) == {"share": 0.5, "words": "half"}
        assert second == b"RVM1 and so on"

        def refused(told, token):
            raise EditError("an open surface has no thickness")

        (only,) = frames(streamed(engine, refused).get_data())
        assert json.loads(only) == {"error": "an open surface has no thickness"}

        def broken(told, token):
            raise ZeroDivisionError

        (only,) = frames(streamed(engine, broken).get_data())
        assert "the server failed" in json.loads(only)["error"]
    assert not engine.stopped.is_set()


def test_who_stops_reading_stops_the_work():
    engine = Watched()

    def work(told, token):
        for k in range(200):
            told(k / 200, "on and on")
            if engine.stopped.wait(0.02):
                return b"too late"
        return b"never stopped"

    with Flask(__name__).test_request_context():
        rows = iter(streamed(engine, work).response)
        next(rows)
        rows.close()
    assert engine.stopped.wait(2)


def test_a_map_through_the_server(page, tmp_path):
    ident, scene = page.model_with(step_file(tmp_path / "boss.step", boss_block(), "Boss plate"))
    node = scene["nodes"][0]["id"]
    rows = frames(page.get(f"/m/{ident}/map/walls?nodes={node}").body)
    assert rows[-1][:4] == b"RVM1"
    shares = [json.loads(r)["share"] for r in rows[:-1]]
    assert shares == sorted(shares)
    (only,) = frames(page.get(f"/m/{ident}/map/deviation?nodes={node}").body)[-1:]
    assert "pick two parts" in json.loads(only)["error"]
    start = time.monotonic()
    assert page.get(f"/m/{ident}/scene").status == 200
    assert time.monotonic() - start < 5


def test_a_sheet_is_drawn_ahead_with_its_progress(page, tmp_path):
    ident, scene = page.model_with(step_file(tmp_path / "boss.step", boss_block(), "Boss"), "Drawn ahead")
    begun = page.edit(ident, scene["revision"], "begin sheet", size="A3", called="Plate")
    assert begun.status == 200, begun.head
    *told, last = frames(page.get(f"/m/{ident}/drawings/ahead?open=Plate").body)
    assert last == b"drawn"
    words = {json.loads(row)["words"] for row in told} - {"waiting for a worker"}
    assert words  # not every step is told
    assert words <= {f"drawing view {k} of 4" for k in (1, 2, 3, 4)}
    assert 'data-name="Corner"' in page.get(f"/m/{ident}/drawings?open=Plate").text
    (only,) = (json.loads(row) for row in frames(page.get(f"/m/{ident}/drawings/ahead?open=Nowhere").body))
    assert "Nowhere" in only["error"]
