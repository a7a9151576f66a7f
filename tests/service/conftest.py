"""The pages and the jobs in this process: Flask's own client, the real database, an engine with one worker."""

from __future__ import annotations

import threading

import pytest

from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings
from ravine.service.designs import Designs
from ravine.service.jobs import Runner, start_import
from ravine.service.people import signed_in
from ravine.web.app import create_app
from ravine.web.entrance import cookie_name, pass_of
from tests import faults  # noqa: F401  its edits are declared here as in the worker
from tests.parts import boss_block, step_file


@pytest.fixture(scope="session")
def engine():
    found = LocalEngine(Settings(hands=1, jobs=1, memory_bytes=3 << 30, extra="tests.faults"))
    yield found
    found.close()


@pytest.fixture
def served(tmp_path):
    """Serves a stand-in on a socket of this test; gives its books."""
    servers = []

    def start(serve):
        server = serve(str(tmp_path / "s"), tmp_path / "books")
        servers.append(server)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        return server.RequestHandlerClass.books

    yield start
    for server in servers:
        server.shutdown()
        server.server_close()


@pytest.fixture
def rows(database):
    """The connection of this thread, which every request closes."""
    database.connect(reuse_if_open=True)
    yield database
    database.connect(reuse_if_open=True)


@pytest.fixture
def designs(rows, engine):
    return Designs(engine, signed_in())


@pytest.fixture
def runner(designs):
    """Not started: a test has it do one job after the other."""
    return Runner(designs)


@pytest.fixture(scope="session")
def boss_bytes(tmp_path_factory):
    return step_file(tmp_path_factory.mktemp("boss") / "boss.step", boss_block(), "Boss").read_bytes()


@pytest.fixture
def boss(designs, runner, boss_bytes):
    """A model with a block brought in."""
    design = designs.create("Boss")
    start_import(designs, design, "boss.step", boss_bytes, None)
    while (job := runner._claim()) is not None:  # before its own, what another test may have left
        runner._run(job)
    return design


class Client:
    """Flask's client, speaking as the pages do."""

    def __init__(self, app):
        self.client = app.test_client()
        self.client.set_cookie(cookie_name("localhost"), pass_of("key of the tests"))

    def ask(self, method, path, **more):
        headers = {"X-Ravine": "1", **more.pop("headers", {})}
        return self.client.open(path, method=method, headers=headers, **more)


@pytest.fixture
def client(rows, engine, tmp_path):
    return Client(create_app(engine, "key of the tests", tmp_path / "entrance"))
