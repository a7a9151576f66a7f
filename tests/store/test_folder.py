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
    for none in (0, -1, 65536, 10**9):
        with pytest.raises(RavineError, match="ports go from 1"):
            stack._port(none)


def test_a_folder_of_somebody_else_is_left_alone(tmp_path):
    (tmp_path / "letters.txt").write_text("mine")
    mode = tmp_path.stat().st_mode
    with pytest.raises(RavineError, match=r"holds something else; .*RAVINE_DATA="):
        DataFolder(tmp_path)
    assert tmp_path.stat().st_mode == mode
    assert sorted(p.name for p in tmp_path.iterdir()) == ["letters.txt"]
    with pytest.raises(RavineError, match="cannot be the data folder"):
        DataFolder(tmp_path / "letters.txt")


def test_a_first_start_that_was_cut_off_is_begun_again(tmp_path):
    (tmp_path / "lock").touch()
    (tmp_path / "folder.new").write_text('{"layout":')
    (tmp_path / "mariadb.new").mkdir()
    found = DataFolder(tmp_path)
    assert json.loads((tmp_path / "folder.json").read_text()) == found.secrets
    found._lock.close()
    (tmp_path / "folder.json").write_text('{"layout": 1, "data')
    with pytest.raises(RavineError, match=r"folder\.json cannot be read"):
        DataFolder(tmp_path)


def test_what_a_killed_start_left_is_swept(tmp_path):
    first = DataFolder(tmp_path / "data")
    (first.passing / "ravine-upload.step").write_text("left by a kill")
    left = first.run
    first._lock.close()
    again = DataFolder(tmp_path / "data")
    assert not left.exists()
    assert again.passing.is_dir()
    again._lock.close()
    (tmp_path / "kept").mkdir()
    (tmp_path / "data" / "run").write_text(str(tmp_path / "kept"))  # nothing but one of our own goes
    DataFolder(tmp_path / "data")._lock.close()
    assert (tmp_path / "kept").is_dir()
