"""The command that starts everything: it prints the way in once the page answers, refuses a second start, and stops
with all it started."""

from __future__ import annotations

import os
import re
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]


class Started:
    def __init__(self, data: Path, *more: str) -> None:
        environment = {**os.environ, "RAVINE_DATA": str(data), "PYTHONPATH": str(ROOT / "src")}
        command = [sys.executable, "-m", "ravine.cli", "start", *more]
        pipe = subprocess.PIPE
        self.process = subprocess.Popen(command, env=environment, text=True, stdout=pipe, stderr=pipe)

    def address(self) -> str:
        line = self.process.stdout.readline()
        found = re.match(
            r"Ravine is ready at (http://127\.0\.0\.1:\d+/\?enter=\S+)  \(\d+\.\d s; Ctrl-C stops it\)", line
        )
        assert found, line or self.process.stderr.read()
        return found[1]

    def children(self) -> list[int]:
        """Of all processes below it."""
        found, ahead = [], [self.process.pid]
        while ahead:
            told = subprocess.run(["pgrep", "-P", str(ahead.pop())], capture_output=True, text=True, check=False)
            below = [int(n) for n in told.stdout.split()]
            found, ahead = [*found, *below], [*ahead, *below]
        return found

    def end(self, number: int) -> int:
        self.process.send_signal(number)
        return self.process.wait(30)


def alive(pid: int) -> bool:
    try:
        return "Z" not in Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
    except OSError:
        return False


@pytest.mark.parametrize("number", [signal.SIGINT, signal.SIGTERM], ids=["Ctrl-C", "asked to end"])
def test_it_starts_once_and_stops_with_all_it_started(tmp_path, number):
    first = Started(tmp_path / "data")
    try:
        way_in = first.address()
        with urllib.request.urlopen(way_in.split("/?")[0] + "/alive", timeout=5) as answer:
            assert answer.read() == b"alive"
        window = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())
        with window.open(way_in, timeout=20) as page:
            assert b"Ravine" in page.read()
        with pytest.raises(urllib.error.HTTPError, match="403"):
            urllib.request.urlopen(way_in, timeout=20)  # it is good once
        second = Started(tmp_path / "data")
        assert second.process.wait(60) == 1
        assert "ravine: " in second.process.stderr.read()
        below = first.children()
        assert len(below) >= 6, "database, engine, pages, and the two stand-ins"
    finally:
        code = first.end(number)
    assert code == 0
    deadline = time.monotonic() + 10
    while any(map(alive, below)) and time.monotonic() < deadline:
        time.sleep(0.1)
    assert not [pid for pid in below if alive(pid)]


def test_a_port_that_is_taken_or_none_is_told(tmp_path):
    for port, words in (("99999", "ports go from 1 to 65535"), ("x", "invalid int value")):
        started = Started(tmp_path / "data", "--port", port)
        assert started.process.wait(60) in (1, 2)
        assert words in started.process.stderr.read()
