import json
import socket

import pytest

from ravine.cli import stack
from ravine.cli.folder import DataFolder
from ravine.core import RavineError


def test_a_folder_is_held_by_one_start_only(tmp_path):
    first = DataFolder(tmp_path / "data")
    with pytest.raises(RavineError, match="already running"):
        DataFolder(tmp_path / "data")
    first._lock.close()
    again = DataFolder(tmp_path / "data")
    assert again.secrets == first.secrets
    assert len(again.secrets["database_password"]) >= 24
    assert (tmp_path / "data").stat().st_mode & 0o077 == 0


def test_a_folder_of_another_version_is_refused_in_words(tmp_path):
    DataFolder(tmp_path)._lock.close()
    path = tmp_path / "folder.json"
    path.write_text(json.dumps({**json.loads(path.read_text()), "layout": 7}))
    with pytest.raises(RavineError, match="another version"):
        DataFolder(tmp_path)


def test_a_taken_port_is_told_and_a_free_one_found_when_none_is_asked_for():
    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        port = holder.getsockname()[1]
        with pytest.raises(RavineError, match=f"port {port} is taken"):
            stack._port(port)
        assert stack._port(None) != port
