"""A private database of the tests' own, one a session."""

from __future__ import annotations

import tempfile
from pathlib import Path

import pytest

from ravine.store import schema
from ravine.store.mariadb import PrivateServer
from ravine.store.tables import database as bound


@pytest.fixture(scope="session")
def database_server(tmp_path_factory):
    server = PrivateServer(
        tmp_path_factory.mktemp("db") / "mariadb", Path(tempfile.mkdtemp(prefix="ravine-t-")), "secret"
    )
    server.start()
    yield server
    server.stop()


@pytest.fixture(scope="session")
def database(database_server):
    schema.connect(database_server.address)
    schema.upgrade()
    bound.connect(reuse_if_open=True)
    yield bound
    bound.close()
