"""The whole of Ravine, running for the tests on a data folder of its own: database, engine and web server."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import time
import urllib.parse
import uuid
from pathlib import Path

import pytest

from ravine.cli.folder import DataFolder
from ravine.cli.stack import Stack
from ravine.store.mariadb import free_port
from ravine.web.container import MAGIC
from ravine.web.entrance import cookie_name, pass_of

ROOT = Path(__file__).resolve().parents[1]


class Answer:
    def __init__(self, status, headers, body):
        self.status, self.headers, self.body = status, headers, body

    @property
    def text(self):
        return self.body.decode()

    @property
    def json(self):
        return json.loads(self.body)

    @property
    def head(self):
        """Head of a container (web/container.py)."""
        assert self.body[:4] == MAGIC, self.body[:300]
        length = int.from_bytes(self.body[4:8], "little")
        return json.loads(self.body[8 : 8 + length])

    @property
    def blobs(self):
        at, found = 8 + int.from_bytes(self.body[4:8], "little"), []
        for length in self.head["blobs"]:
            found.append(self.body[at : at + length])
            at += length + -length % 4
        return found


class Page:
    """A plain HTTP client that speaks as the pages do."""

    def __init__(self, stack):
        self.stack = stack
        own = cookie_name(f"127.0.0.1:{stack.port}")
        self.cookie = f"{own}={pass_of(stack.folder.secrets['session_key'])}"

    def ask(self, method, path, body=None, headers=None, host=None):
        connection = http.client.HTTPConnection("127.0.0.1", self.stack.port, timeout=120)
        told = {"X-Ravine": "1", "Cookie": self.cookie, **(headers or {})}
        if host:
            told["Host"] = host
        with contextlib.suppress(BrokenPipeError, ConnectionResetError):  # refused before all was sent, but answered
            connection.request(method, path, body, told)
        if connection.sock is None:  # gone before anything was answered
            raise ConnectionResetError("the server went away")
        answer = connection.getresponse()
        return Answer(answer.status, answer.headers, answer.read())

    def get(self, path, **more):
        return self.ask("GET", path, **more)

    def form(self, path, **fields):
        return self.ask(
            "POST", path, urllib.parse.urlencode(fields), {"Content-Type": "application/x-www-form-urlencoded"}
        )

    def send(self, path, data):
        told = {"Content-Type": "application/json", "Accept": "application/x-ravine"}
        return self.ask("POST", path, json.dumps(data), told)

    def upload(self, path, name, data, **fields):
        mark = uuid.uuid4().hex
        head = "".join(
            f'--{mark}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in fields.items()
        )
        head += f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
        body = head.encode() + data + f"\r\n--{mark}--\r\n".encode()
        return self.ask("POST", path, body, {"Content-Type": f"multipart/form-data; boundary={mark}"})

    # --- what tests do often -----------------------------------------------------------------------------------

    def new(self, name="Test", units="mm"):
        answer = self.form("/models", name=name, units=units)
        assert answer.status == 200, answer.text
        return int(answer.headers["HX-Redirect"].rsplit("/", 1)[1])

    def scene(self, ident):
        return self.get(f"/m/{ident}/scene").json

    def wait_for_jobs(self, ident, seconds=60):
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            text = self.get(f"/m/{ident}/jobs").text
            if 'data-state="running"' not in text and 'data-state="queued"' not in text:
                return text
            time.sleep(0.1)
        raise AssertionError("the job did not end")

    def model_with(self, path, name="Test"):
        """A model with a STEP file brought in; its id and scene."""
        ident = self.new(name)
        assert self.upload(f"/m/{ident}/import", path.name, path.read_bytes()).status == 200
        assert 'data-state="done"' in self.wait_for_jobs(ident)
        return ident, self.scene(ident)

    def edit(self, ident, base, edit, **values):
        return self.send(f"/m/{ident}/edits", {"edit": edit, "base": base, "values": values})

    def until_alive(self, seconds=40):
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                if self.get("/").status == 200:
                    return
            except (OSError, http.client.HTTPException):
                pass
            time.sleep(0.1)
        raise AssertionError("the page did not come back")


@pytest.fixture(scope="session")
def stack(tmp_path_factory):
    os.environ["PYTHONPATH"] = f"{ROOT}{os.pathsep}{ROOT / 'src'}{os.pathsep}{os.environ.get('PYTHONPATH', '')}"
    found = Stack(DataFolder(tmp_path_factory.mktemp("ravine")), free_port(), extra="tests.faults")
    found.prepare()
    found.start()
    yield found
    found.stop()


@pytest.fixture(scope="session")
def page(stack):
    return Page(stack)
