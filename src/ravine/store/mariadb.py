"""A private MariaDB server on loopback: own data folder, own password, free port."""

from __future__ import annotations

import ctypes
import getpass
import os
import shutil
import signal
import socket
import subprocess
import time
from pathlib import Path

import pymysql

from ravine.core import RavineError

from .schema import Address

SIDE_PATHS = "/usr/sbin:/sbin:/usr/local/sbin"


_PR_SET_PDEATHSIG = 1
_LIBC = ctypes.CDLL(None)


def end_with_starter() -> None:
    """For preexec_fn: be asked to end (SIGTERM) when the starting thread is gone, however it went."""
    _LIBC.prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def _tool(name: str) -> str:
    found = shutil.which(name, path=f"{os.environ.get('PATH', '')}:{SIDE_PATHS}")
    if found is None:
        raise RavineError(f"{name} is not installed; on Debian: apt-get install mariadb-server")
    return found


class PrivateServer:
    def __init__(self, folder: Path, run_folder: Path, password: str) -> None:
        self.folder, self.run_folder, self.password = folder, run_folder, password
        self.port = 0
        self.process: subprocess.Popen | None = None

    @property
    def address(self) -> Address:
        return Address("127.0.0.1", self.port, "ravine", self.password, "ravine")

    @property
    def log(self) -> Path:
        return self.folder.parent / "mariadb.log"

    def start(self) -> None:
        if not (self.folder / "mysql").exists():
            self._install()
        self.port = self.port or free_port()
        self.launch()

    def _install(self) -> None:
        """Beside its place, and moved there once it is whole: an installation that was interrupted leaves nothing."""
        beside = self.folder.with_name(f"{self.folder.name}.new")
        shutil.rmtree(beside, ignore_errors=True)
        beside.mkdir(parents=True)
        done = subprocess.run(
            [_tool("mariadb-install-db"), "--no-defaults", f"--datadir={beside}", f"--user={getpass.getuser()}",
             # a server clears its passing files away as it starts, those of others in the same folder as well
             f"--tmpdir={self.run_folder}",
             "--auth-root-authentication-method=socket", "--skip-test-db", "--skip-name-resolve"],
            capture_output=True, text=True, check=False,
        )  # fmt: skip
        if done.returncode:
            shutil.rmtree(beside, ignore_errors=True)
            raise RavineError(f"the database could not be set up in {self.folder}:\n{done.stderr[-800:]}")
        shutil.rmtree(self.folder, ignore_errors=True)  # what an interrupted one of before left
        beside.rename(self.folder)

    def _fence(self) -> Path:
        """What the server does before it takes connections, at every start, since old folders have open doors:
        every account goes but the server's locked one; the user who runs the server may do all through its
        socket, where the system checks who it is; ours is made anew with a password, for our schema only.
        MariaDB, "Authentication Plugin - Unix Socket"."""
        runs = f"`{getpass.getuser()}`@localhost"
        path = self.run_folder / "fence.sql"
        path.touch(0o600)
        path.write_text(
            "DELETE FROM mysql.global_priv WHERE User NOT IN ('mariadb.sys', 'PUBLIC');\n"
            "DELETE FROM mysql.db;\n"
            "FLUSH PRIVILEGES;\n"
            f"CREATE USER {runs} IDENTIFIED VIA unix_socket;\n"
            f"GRANT ALL ON *.* TO {runs} WITH GRANT OPTION;\n"
            "CREATE DATABASE IF NOT EXISTS ravine CHARACTER SET utf8mb4;\n"
            f"CREATE USER ravine@'127.0.0.1' IDENTIFIED BY '{self.password}';\n"
            "GRANT ALL ON ravine.* TO ravine@'127.0.0.1';\n"
        )
        return path

    def launch(self) -> None:
        """Start the server on the known port and wait until it answers."""
        fence = self._fence()
        nowhere = self.run_folder / "no-files"  # the one folder the server may write results to or read them from
        nowhere.mkdir(mode=0o700, exist_ok=True)
        try:
            self._launch(fence, nowhere)
        finally:
            fence.unlink(missing_ok=True)

    def _launch(self, fence: Path, nowhere: Path) -> None:
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(
                [_tool("mariadbd"), "--no-defaults", f"--datadir={self.folder}", f"--user={getpass.getuser()}",
                 "--bind-address=127.0.0.1", f"--port={self.port}", f"--socket={self.run_folder / 'db.sock'}",
                 f"--pid-file={self.run_folder / 'db.pid'}", f"--tmpdir={self.run_folder}",
                 "--max-allowed-packet=256M", "--skip-name-resolve",
                 "--innodb-log-file-size=256M", "--innodb-buffer-pool-size=256M", "--skip-log-bin",
                 # buffers of engines that hold none of our tables
                 "--aria-pagecache-buffer-size=8M", "--key-buffer-size=1M",
                 f"--init-file={fence}", f"--secure-file-priv={nowhere}", "--local-infile=0", "--symbolic-links=0"],
                stdout=log, stderr=log, start_new_session=True, preexec_fn=end_with_starter,
            )  # fmt: skip
        end = time.monotonic() + 60
        while time.monotonic() < end:
            if self.process.poll() is not None:
                raise RavineError(
                    f"the database did not start; the end of {self.log}:\n{self.log.read_text(errors='replace')[-800:]}"
                )
            try:
                self._knock()
                return
            except pymysql.MySQLError:
                time.sleep(0.05)
        raise RavineError(f"the database did not answer within a minute; see {self.log}")

    def _knock(self) -> None:
        where = self.address
        pymysql.connect(
            host=where.host, port=where.port, user=where.user, password=where.password, database=where.name,
            ssl_disabled=True, connect_timeout=2,
        ).close()  # fmt: skip

    def stop(self) -> None:
        if self.process and self.process.poll() is None:
            self.process.terminate()
            try:
                self.process.wait(30)
            except subprocess.TimeoutExpired:
                self.process.kill()
