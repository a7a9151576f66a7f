"""Connecting, and bringing the schema of a data folder up to this version."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from peewee import BigIntegerField, CharField, IntegerField, MySQLDatabase
from playhouse.migrate import MySQLMigrator, migrate

from ravine.core import RavineError

from .tables import TABLES, Account, Kept, Order, Piece, Result, SchemaVersion, ShareLink, database

LOCAL_OWNER = "local"


@dataclass(frozen=True)
class Address:
    host: str
    port: int
    user: str
    password: str
    name: str


def connect(address: Address) -> MySQLDatabase:
    """Bind the tables to a database.  Plain sockets on loopback: TLS would cost 40 to 80 ms a connection."""
    real = MySQLDatabase(
        address.name,
        host=address.host,
        port=address.port,
        user=address.user,
        password=address.password,
        charset="utf8mb4",
        ssl_disabled=True,
        connect_timeout=10,
    )
    database.initialize(real)
    return real


def _first() -> None:
    database.create_tables(TABLES)
    Account.get_or_create(name=LOCAL_OWNER)


def _kept() -> None:
    database.create_tables([Kept])


def _pieces_and_tokens() -> None:
    """Of folders from before: a new one has all of this from the first step."""
    known = {column.name for column in database.get_columns("revision")}
    if "token" in known:
        return
    database.create_tables([Piece])
    move = MySQLMigrator(database.obj)
    migrate(
        move.add_column("blob", "pieces", IntegerField(default=0)),
        move.alter_column_type("blob", "size", BigIntegerField()),
        move.add_column("revision", "token", CharField(max_length=40, null=True)),
        move.add_index("revision", ("design_id", "token"), True),
    )


def _orders() -> None:
    database.create_tables([Order])


def _results() -> None:
    database.create_tables([Result])


def _links() -> None:
    database.create_tables([ShareLink])


# Steps from version n to n + 1, in order; each runs once per data folder.
STEPS: list[Callable[[], None]] = [_first, _kept, _pieces_and_tokens, _orders, _results, _links]


def upgrade() -> int:
    """Run the steps this database has not seen.  Returns the version.  Raises RavineError for a newer database."""
    with database.connection_context():
        known = SchemaVersion.table_exists()
        version = SchemaVersion.get_or_none() if known else None
        at = version.version if version else 0
        if at > len(STEPS):
            raise RavineError(
                f"this data folder was written by a newer Ravine (schema {at}; this one knows {len(STEPS)}). Use that "
                f"version, or start with another folder: RAVINE_DATA=/some/folder"
            )
        for step in STEPS[at:]:
            step()
            at += 1
            SchemaVersion.delete().execute()
            SchemaVersion.create(version=at)
        return at
