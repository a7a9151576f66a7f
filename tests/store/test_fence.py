"""Strangers at the door of the database: nobody comes in over TCP, and ours reaches nothing but its own schema."""

from __future__ import annotations

import contextlib
import getpass
import itertools
import tempfile
from pathlib import Path

import pymysql
import pytest

from ravine.store.mariadb import PrivateServer

USERS = ("root", "", "mysql", "mariadb.sys", "ravine", "admin", "PUBLIC", "nobody")
PASSWORDS = ("", "root", "mysql", "ravine", "password", "invalid")


def knock(server: PrivateServer, user: str, password: str, **more) -> pymysql.connections.Connection:
    where = {"host": "127.0.0.1", "port": server.port, **more}
    return pymysql.connect(user=user, password=password, ssl_disabled=True, connect_timeout=3, **where)


def strangers(server: PrivateServer) -> list[str]:
    """Who of the usual ones comes in."""
    found = []
    for user, password in itertools.product(USERS, (*PASSWORDS, server.password)):
        if (user, password) == ("ravine", server.password):
            continue
        for more in ({}, {"database": "mysql"}, {"database": "ravine"}):
            with contextlib.suppress(pymysql.MySQLError):
                knock(server, user, password, **more).close()
                found.append(f"{user}:{password}")
    return found


@pytest.fixture(scope="module")
def guarded(tmp_path_factory):
    """A server of its own, since it is started again with doors left open."""
    run = Path(tempfile.mkdtemp(prefix="ravine-f-"))
    server = PrivateServer(tmp_path_factory.mktemp("fence") / "mariadb", run, "a-long-generated-password")
    server.start()
    yield server
    server.stop()


def owner(server: PrivateServer) -> pymysql.connections.Connection:
    """The one account that may do everything, through the socket, where the system checks who it is."""
    return pymysql.connect(unix_socket=str(server.run_folder / "db.sock"), user=getpass.getuser(), autocommit=True)


def test_nobody_comes_in_over_tcp(guarded) -> None:
    assert strangers(guarded) == []
    knock(guarded, "ravine", guarded.password, database="ravine").close()


def test_it_listens_on_loopback_only(guarded) -> None:
    lines = Path("/proc/net/tcp").read_text().splitlines()[1:]
    sockets = [(line.split()[1].split(":"), line.split()[3]) for line in lines]
    listening = {host for (host, port), state in sockets if int(port, 16) == guarded.port and state == "0A"}
    assert listening == {"0100007F"}


@pytest.mark.parametrize(
    "statement",
    [
        "SELECT * FROM mysql.global_priv",
        "CREATE DATABASE other",
        "CREATE USER more@localhost",
        "GRANT ALL ON *.* TO ravine@'127.0.0.1'",
        "SELECT 1 INTO OUTFILE '/tmp/ravine-stranger'",
        "SELECT LOAD_FILE('/etc/passwd') IS NOT NULL AND 1/0",
        "LOAD DATA INFILE '/etc/passwd' INTO TABLE t",
        "LOAD DATA LOCAL INFILE '/etc/passwd' INTO TABLE t",
        "SET GLOBAL general_log = 1",
        "SET GLOBAL local_infile = 1",
        "INSTALL SONAME 'simple_password_check'",
        "SHUTDOWN",
    ],
)
def test_ours_reaches_its_own_schema_only(guarded, statement: str) -> None:
    with (
        knock(guarded, "ravine", guarded.password, database="ravine", local_infile=True) as inside,
        inside.cursor() as ask,
    ):
        ask.execute("CREATE TEMPORARY TABLE t (line TEXT)")
        if "LOAD_FILE" in statement:
            ask.execute("SELECT LOAD_FILE('/etc/passwd')")
            assert ask.fetchone() == (None,)
            return
        with pytest.raises(pymysql.MySQLError):
            ask.execute(statement)
    assert not Path("/tmp/ravine-stranger").exists()


def test_doors_that_were_left_open_are_shut_at_the_next_start(guarded) -> None:
    """Folders from before have a root without a password, and ours with all rights."""
    with owner(guarded) as root, root.cursor() as ask:
        for account in ("root@'127.0.0.1'", "root@'%'", "''@'%'", "helper@'127.0.0.1'"):
            ask.execute(f"CREATE USER {account}")
            ask.execute(f"GRANT ALL ON *.* TO {account} WITH GRANT OPTION")
        ask.execute("GRANT ALL ON *.* TO ravine@'127.0.0.1'")
        ask.execute("CREATE DATABASE IF NOT EXISTS ravine")
        ask.execute("CREATE TABLE IF NOT EXISTS ravine.kept (n INT)")
        ask.execute("INSERT INTO ravine.kept VALUES (7)")
    assert "root:" in strangers(guarded)
    guarded.stop()
    guarded.launch()
    assert strangers(guarded) == []
    with owner(guarded) as root, root.cursor() as ask:
        ask.execute("SELECT CONCAT(User, '@', Host) FROM mysql.global_priv ORDER BY 1")
        assert {row[0] for row in ask.fetchall()} <= {
            "root@localhost",
            "ravine@127.0.0.1",
            "mariadb.sys@localhost",
            "PUBLIC@",
        }
    with knock(guarded, "ravine", guarded.password, database="ravine") as inside, inside.cursor() as ask:
        ask.execute("SELECT n FROM kept")
        assert ask.fetchone() == (7,), "what was stored is there"
        with pytest.raises(pymysql.MySQLError):
            ask.execute("SELECT * FROM mysql.global_priv")


def test_an_installation_that_was_cut_off_is_done_again(tmp_path) -> None:
    folder = tmp_path / "mariadb"
    (tmp_path / "mariadb.new" / "mysql").mkdir(parents=True)
    folder.mkdir()
    (folder / "ibdata1").write_bytes(b"half of it")
    server = PrivateServer(folder, Path(tempfile.mkdtemp(prefix="ravine-f-")), "another-password")
    server.start()
    try:
        knock(server, "ravine", server.password, database="ravine").close()
        assert not (tmp_path / "mariadb.new").exists()
        assert not (server.run_folder / "fence.sql").exists()
    finally:
        server.stop()
