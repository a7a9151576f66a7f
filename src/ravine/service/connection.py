"""The database of a request or a thread, for whoever does not touch tables."""

from __future__ import annotations

import re
from contextlib import AbstractContextManager

from peewee import InterfaceError, OperationalError

from ravine.store import schema
from ravine.store.tables import database

AWAY = (OperationalError, InterfaceError)  # what is raised while the database does not answer

# MariaDB's numbers (and the system's, where it passes those on) for what the person has to mend
_FULL = {28, 1021, 1114}
_READ_ONLY = {30, 1036, 1290, 1836}


def words_of(error: Exception) -> str:
    """What a failure of the database means for the person."""
    number, told = ([*error.args, 0, ""])[:2]
    passed_on = re.search(r"(?:Errcode:|error) (\d+)", str(told))
    numbers = {number, int(passed_on[1])} if passed_on else {number}
    if numbers & _FULL:
        return "the disk with the data folder is full, so nothing was saved; make room and try again"
    if numbers & _READ_ONLY:
        return "the data folder can only be read, so nothing was saved; make it writable and start Ravine again"
    return "the database is not answering; it restarts by itself. Nothing was lost; try again"


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
