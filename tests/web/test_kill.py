"""kill -9 for every process in turn while edits go on: what was answered is there afterwards, nothing else is."""

import contextlib
import http.client
import os
import signal
import threading
import time
from pathlib import Path

import pytest

from ravine.engine.client import RemoteEngine
from tests.parts import boss_block, grid_plate, step_file


def kill(pid):
    with contextlib.suppress(ProcessLookupError):
        os.kill(pid, signal.SIGKILL)


def web_workers(stack):
    with open(f"/proc/{stack.web.pid}/task/{stack.web.pid}/children") as file:
        return [int(p) for p in file.read().split()]


def engine_children(stack):
    engine = RemoteEngine(str(stack.folder.run / "engine.sock"), bytes.fromhex(stack.folder.secrets["engine_key"]))
    return [c["pid"] for c in engine.status()["children"]]


VICTIMS = {
    "one web worker": lambda stack: kill(web_workers(stack)[0]),
    "web workers": lambda stack: [kill(p) for p in web_workers(stack)],
    "web server": lambda stack: kill(stack.web.pid),
    "engine child": lambda stack: [kill(p) for p in engine_children(stack)],
    "engine": lambda stack: kill(stack.engine.pid),
    "database": lambda stack: kill(stack.database.process.pid),
}


@pytest.mark.parametrize("victim", list(VICTIMS))
def test_at_most_the_edit_in_flight_is_lost(stack, page, tmp_path, victim):
    page.until_alive()
    path = step_file(tmp_path / "boss.step", boss_block(), "Boss")
    ident, scene = page.model_with(path, victim)
    node = scene["nodes"][0]["id"]
    accepted, stop = [], threading.Event()

    def work():
        base = scene["revision"]
        number = 0
        while not stop.is_set():
            number += 1
            try:
                answer = page.edit(ident, base, "move body", parts=[node], along="x", distance=f"{number}")
            except (OSError, http.client.HTTPException):
                time.sleep(0.1)
                continue
            if answer.status == 200:
                base = answer.head["revision"]
                accepted.append((base, number))
            elif answer.status == 409:  # saved, but the answer was lost: the one edit in flight
                base = page.scene(ident)["revision"]
            else:
                time.sleep(0.1)

    worker = threading.Thread(target=work)
    worker.start()
    try:
        while len(accepted) < 5:
            time.sleep(0.02)
        VICTIMS[victim](stack)
        held = len(accepted)
        end = time.monotonic() + 45
        while len(accepted) < held + 5 and time.monotonic() < end:
            time.sleep(0.05)
    finally:
        stop.set()
        worker.join()
    assert len(accepted) >= held + 5, "edits did not go on after the restart"
    page.until_alive()
    told = page.get(f"/m/{ident}/panels").text
    for revision, number in accepted:
        assert f'data-go="{revision}"' in told, f"an accepted edit is lost: {number}"
    entries = told.count("Moved Boss")
    assert len(accepted) <= entries <= len(accepted) + 1
    x = page.scene(ident)["nodes"][0]["matrix"][3]
    kept = sum(n for _, n in accepted)
    lost_answer = entries - len(accepted)
    assert x == pytest.approx(kept) if not lost_answer else x > kept - 1e-6


def test_an_import_goes_on_after_the_server_was_killed(stack, page, tmp_path):
    path = step_file(tmp_path / "grid.step", grid_plate(14, 12), "Grid")
    ident = page.new("Resume")
    page.upload(f"/m/{ident}/import", path.name, path.read_bytes())
    time.sleep(0.5)
    for pid in web_workers(stack):
        kill(pid)
    page.until_alive()
    assert 'data-state="done"' in page.wait_for_jobs(ident, 90)
    scene = page.scene(ident)
    assert len(scene["bodies"]) == 1
    assert len(scene["bodies"][0]["faces"]) == 14 * 12 * 3 + 6


def test_no_child_outlives_its_engine(stack, page):
    page.until_alive()
    children = engine_children(stack)
    assert children
    kill(stack.engine.pid)
    end = time.monotonic() + 10
    while any(os.path.exists(f"/proc/{p}") for p in children) and time.monotonic() < end:
        time.sleep(0.1)
    left = [p for p in children if Path(f"/proc/{p}").exists()]
    assert [p for p in left if " Z " not in Path(f"/proc/{p}/stat").read_text()] == []
    page.until_alive()
