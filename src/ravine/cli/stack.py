"""The running stack: private database, engine process and web server, each started again when it dies."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from pathlib import Path

from ravine.core import RavineError
from ravine.demo.scenario import BroughtIn
from ravine.engine.client import RemoteEngine
from ravine.store import schema
from ravine.store.mariadb import PrivateServer, end_with_starter, free_port
from ravine.web.entrance import TOKEN, new_token

from .folder import DataFolder


def _port(wanted: int | None) -> int:
    if wanted is None:
        for port in range(8471, 8481):
            if _free(port):
                return port
        return free_port()
    if not 0 < wanted < 65536:
        raise RavineError(f"port {wanted} is none; ports go from 1 to 65535, or leave it out and a free one is found")
    if not _free(wanted):
        raise RavineError(
            f"port {wanted} is taken by another program; choose another with --port, or leave it out and a free one "
            f"is found"
        )
    return wanted


def _free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


PLAIN = ("PATH", "PYTHONPATH", "VIRTUAL_ENV", "HOME", "LANG", "LC_ALL", "LC_CTYPE", "TZ")


class Stack:
    """`start` returns when the page answers; `stop` ends everything.  `extra`: a module of planted faults (tests)."""

    def __init__(self, folder: DataFolder, port: int | None = None, extra: str = "") -> None:
        self.folder = folder
        self.port = _port(port)
        self.extra = extra
        self.database = PrivateServer(folder.path / "mariadb", folder.run, folder.secrets["database_password"])
        self.engine: subprocess.Popen | None = None
        self.web: subprocess.Popen | None = None
        self.supplier: subprocess.Popen | None = None
        self.printshop: subprocess.Popen | None = None
        self._stopping = threading.Event()
        self._keeper = threading.Thread(target=self._keep, daemon=True)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def entrance(self) -> Path:
        return self.folder.run / "entrance"

    def entering(self) -> str:
        """The address that lets one window in, once."""
        return f"{self.address}/?{TOKEN}={new_token(self.entrance)}"

    def prepare(self) -> None:
        """Database up and on the newest schema, engine up."""
        self._start_engine()
        self._start_supplier()
        self._start_printshop()
        self.database.start()
        schema.connect(self.database.address)
        schema.upgrade()

    def engine_socket(self) -> Path:
        """Waits for it: the first start on a machine reads the geometry library from its disk."""
        path = self.folder.run / "engine.sock"
        end = time.monotonic() + 60
        while not path.exists() and time.monotonic() < end:
            time.sleep(0.05)
        return path

    def bring_in_demo(self, ended: threading.Event | None = None) -> None:
        """Beside us, and stopped where `ended` is set meanwhile.  Raises RavineError."""
        if not any(BroughtIn(self.folder.path).missing()):
            return
        self.engine_socket()
        process = subprocess.Popen(
            [sys.executable, "-m", "ravine.cli.bringing_in", str(self.folder.path)],
            env=self._for_web(), preexec_fn=end_with_starter,
        )  # fmt: skip
        while process.poll() is None:
            if ended and ended.is_set():
                process.terminate()
                process.wait()
                return
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(0.2)
        if process.returncode:
            raise RavineError("the demo could not be brought in; what stopped it stands above")

    def start(self) -> None:
        self._start_web()
        self._wait_for_page()
        self._keeper.start()

    def _plain(self) -> dict[str, str]:
        """Of our own environment what any program needs; nothing that happens to lie in it."""
        own = {name: os.environ[name] for name in PLAIN if name in os.environ}
        return {**own, "TMPDIR": str(self.folder.passing)}

    def _for_engine(self) -> dict[str, str]:
        """No key of the database or of the pages: it reads files of strangers."""
        return {
            **self._plain(),
            "RAVINE_ENGINE_KEY": self.folder.secrets["engine_key"],
            "RAVINE_ENGINE_EXTRA": self.extra,
        }

    def _for_web(self) -> dict[str, str]:
        where = self.database.address
        return {
            **self._for_engine(),
            "RAVINE_ENGINE": str(self.folder.run / "engine.sock"),
            "RAVINE_DB": f"{where.host}:{where.port}",
            "RAVINE_DB_PASSWORD": where.password,
            "RAVINE_ENTRANCE": str(self.entrance),
            "RAVINE_SESSION_KEY": self.folder.secrets["session_key"],
            "RAVINE_SUPPLIER": f"unix:{self._supplier_socket}",
            "RAVINE_PRINTSHOP": f"unix:{self.folder.run / 'printshop.sock'}",
        }

    def _popen(self, arguments: list[str], environment: dict[str, str], log: str) -> subprocess.Popen:
        with (self.folder.path / log).open("ab") as out:
            return subprocess.Popen(
                [sys.executable, "-m", *arguments], env=environment, stdout=out, stderr=out,
                start_new_session=True, preexec_fn=end_with_starter,
            )  # fmt: skip

    def _start_engine(self) -> None:
        self.engine = self._popen(
            ["ravine.engine", str(self.folder.run / "engine.sock")], self._for_engine(), "engine.log"
        )

    @property
    def _supplier_socket(self) -> Path:
        return self.folder.run / "supplier.sock"

    def _start_printshop(self) -> None:
        """The stand-in; a real one goes into RAVINE_PRINTSHOP."""
        self.printshop = self._popen(
            ["ravine.printshop", str(self.folder.run / "printshop.sock"), str(self.folder.path / "printshop")],
            self._plain(), "printshop.log",
        )  # fmt: skip

    def _start_supplier(self) -> None:
        """The stand-in; where a real supplier is to be asked, its address goes into RAVINE_SUPPLIER instead."""
        self.supplier = self._popen(
            ["ravine.supplier", str(self._supplier_socket), str(self.folder.path / "supplier")], self._plain(),
            "supplier.log",
        )  # fmt: skip

    def _start_web(self) -> None:
        self.web = self._popen(
            ["gunicorn", "--config", "python:ravine.web.workers", "--worker-class", "gthread", "--workers", "2",
             "--threads", "12", "--timeout", "120", "--graceful-timeout", "3", "--keep-alive", "75",
             "--bind", f"127.0.0.1:{self.port}", "--worker-tmp-dir", str(self.folder.run), "--no-control-socket",
             "ravine.web.serve:application"],
            self._for_web(),
            "web.log",
        )  # fmt: skip

    def _wait_for_page(self) -> None:
        end = time.monotonic() + 90
        while time.monotonic() < end:
            with contextlib.suppress(OSError), urllib.request.urlopen(f"{self.address}/alive", timeout=2):
                return
            if self.web and self.web.poll() is not None:
                log = (self.folder.path / "web.log").read_text(errors="replace")[-800:]
                raise RavineError(f"the web server did not start; the end of its log:\n{log}")
            time.sleep(0.05)
        raise RavineError(f"the page did not answer within 90 s; see {self.folder.path / 'web.log'}")

    def _keep(self) -> None:
        """Start again what dies; a few seconds later everything is as before."""
        while not self._stopping.wait(0.3):
            if self.database.process and self.database.process.poll() is not None:
                with contextlib.suppress(RavineError):
                    self.database.launch()
            if self.engine and self.engine.poll() is not None:
                self._start_engine()
            if self.supplier and self.supplier.poll() is not None:
                self._start_supplier()
            if self.printshop and self.printshop.poll() is not None:
                self._start_printshop()
            if self.web and self.web.poll() is not None:
                _end_group(self.web)
                self._start_web()

    def stop(self) -> None:
        self._stopping.set()
        if self._keeper.is_alive():
            self._keeper.join(5)
        for process in (self.web, self.engine, self.supplier, self.printshop):
            if process and process.poll() is None:
                process.terminate()
        for process in (self.web, self.engine, self.supplier, self.printshop):
            if process:
                with contextlib.suppress(subprocess.TimeoutExpired):
                    process.wait(6)
                _end_group(process)
        self.database.stop()
        shutil.rmtree(self.folder.run, ignore_errors=True)


def engine_of(stack: Stack) -> RemoteEngine:
    """Waits for its socket."""
    return RemoteEngine(str(stack.engine_socket()), bytes.fromhex(stack.folder.secrets["engine_key"]))


def _end_group(process: subprocess.Popen) -> None:
    with contextlib.suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, signal.SIGKILL)
