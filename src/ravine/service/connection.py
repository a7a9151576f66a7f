"""The database of a request or a thread, for whoever does not touch tables."""

from __future__ import annotations

from contextlib import AbstractContextManager

from peewee import InterfaceError, OperationalError

from ravine.store import schema
from ravine.store.tables import database

AWAY = (OperationalError, InterfaceError)  # what is raised while the database does not answer


def connect(where: str, password: str) -> None:
    """where: host:port, as the starter gives it."""
    host, _, port = where.partition(":")
    schema.connect(schema.Address(host, int(port), "ravine", password, "ravine"))


def open_for_request() -> None:
    database.connect(reuse_if_open=True)


def close_after_request() -> None:
    if not database.obj.is_closed():
        database.close()


def in_this_thread() -> AbstractContextManager[None]:
    return database.connection_context()
