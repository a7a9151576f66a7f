"""The data folder: where the database, its password and the logs live."""

from __future__ import annotations

import fcntl
import json
import os
import secrets
import tempfile
from pathlib import Path
from typing import IO

from ravine.core import RavineError

LAYOUT = 1
ROOT = Path(__file__).resolve().parents[3]


class DataFolder:
    """Opens or makes the folder, and holds it against a second start.

    run: a short-named folder for sockets, whose paths must stay below about 100 letters
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or Path(os.environ.get("RAVINE_DATA") or ROOT / ".ravine")
        self.path.mkdir(parents=True, exist_ok=True)
        os.chmod(self.path, 0o700)
        self._lock = self._hold()
        self.secrets = self._secrets()
        self.run = Path(tempfile.mkdtemp(prefix="ravine-"))

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

    def _secrets(self) -> dict[str, str]:
        path = self.path / "folder.json"
        if not path.exists():
            found = {
                "layout": LAYOUT,
                "database_password": secrets.token_urlsafe(24),
                "session_key": secrets.token_hex(32),
                "engine_key": secrets.token_hex(32),
            }
            path.touch(0o600)
            path.write_text(json.dumps(found, indent=1))
        found = json.loads(path.read_text())
        if found.get("layout") != LAYOUT:
            raise RavineError(
                f"{self.path} is the data folder of another version of Ravine (layout {found.get('layout')}; this one "
                f"knows {LAYOUT}). Use that version, or start with another folder: RAVINE_DATA=/some/folder"
            )
        return found
