"""The data folder: where the database, its password and the logs live."""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import shutil
import tempfile
from pathlib import Path
from typing import IO

from ravine.core import RavineError

LAYOUT = 1
PREFIX = "ravine-"
OURS = {
    "lock", "folder.json", "folder.new", "run", "mariadb", "mariadb.new", "mariadb.log", "engine.log", "web.log",
    "supplier", "supplier.log",
}  # fmt: skip
ROOT = Path(__file__).resolve().parents[3]


class DataFolder:
    """Opens or makes the folder, and holds it against a second start.

    run: a short-named folder for sockets, whose paths must stay below about 100 letters
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or Path(os.environ.get("RAVINE_DATA") or ROOT / ".ravine")
        self._make()
        self._lock = self._hold()
        self.secrets = self._secrets()
        self.run = self._fresh_run()

    def _make(self) -> None:
        """Ours, or empty: nothing of anybody else is touched.  Raises RavineError."""
        try:
            self.path.mkdir(parents=True, exist_ok=True)
            foreign = not (self.path / "folder.json").exists() and any(
                entry.name not in OURS for entry in self.path.iterdir()
            )
        except OSError as error:
            raise RavineError(f"{self.path} cannot be the data folder: {error.strerror or error}") from error
        if foreign:
            raise RavineError(
                f"{self.path} holds something else; a data folder is empty or one of Ravine's own. Start with another: "
                f"RAVINE_DATA={self.path / 'ravine'}"
            )
        if self.path.stat().st_uid != os.getuid():
            raise RavineError(
                f"{self.path} belongs to somebody else; start with another folder: RAVINE_DATA=/some/folder"
            )
        os.chmod(self.path, 0o700)

    def _hold(self) -> IO[str]:
        lock = (self.path / "lock").open("w")
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise RavineError(
                f"Ravine is already running on {self.path}; stop it first, or start with another folder: "
                f"RAVINE_DATA=/some/folder"
            ) from error
        return lock

    def _fresh_run(self) -> Path:
        """With a folder in it for what is only passing.  The one of a start that was killed goes first, with all it
        left: we hold the lock, so nobody uses it."""
        note = self.path / "run"
        left = Path(note.read_text().strip()) if note.exists() else None
        if left is not None and left.name.startswith(PREFIX) and left.parent == Path(tempfile.gettempdir()):
            shutil.rmtree(left, ignore_errors=True)
        run = Path(tempfile.mkdtemp(prefix=PREFIX))
        (run / "passing").mkdir()
        note.write_text(str(run))
        return run

    @property
    def passing(self) -> Path:
        """For files that no one looks for after the process that made them."""
        return self.run / "passing"

    def _secrets(self) -> dict[str, str]:
        path = self.path / "folder.json"
        if not path.exists():
            found = {
                "layout": LAYOUT,
                "database_password": secrets.token_urlsafe(24),
                "session_key": secrets.token_hex(32),
                "engine_key": secrets.token_hex(32),
            }
            fresh = path.with_suffix(".new")
            fresh.touch(0o600)
            fresh.write_text(json.dumps(found, indent=1))
            fresh.replace(path)  # whole, or not there
        try:
            found = json.loads(path.read_text())
        except ValueError as error:
            raise RavineError(
                f"{path} cannot be read: {error}. It holds the keys of the database; bring it back from a backup"
            ) from error
        if found.get("layout") != LAYOUT:
            raise RavineError(
                f"{self.path} is the data folder of another version of Ravine (layout {found.get('layout')}; this one "
                f"knows {LAYOUT}). Use that version, or start with another folder: RAVINE_DATA=/some/folder"
            )
        return found
