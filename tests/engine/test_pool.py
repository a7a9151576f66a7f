import os
import signal
import socket
import threading
import time
from pathlib import Path

import pytest

from ravine.core import Cancelled, EditError, RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.engine import child, tasks
from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings
from ravine.engine.wire import Busy, Call, EngineFailure, GaveUp, ProgramFault
from tests import faults
from tests.parts import boss_block, step_file


@pytest.fixture(scope="module")
def engine():
    found = LocalEngine(Settings(hands=2, jobs=1, memory_bytes=3 << 30, extra="tests.faults"))
    yield found
    found.close()


def alive(engine):
    return engine.call("ping", {}, key="m", deadline=30)


class Keep(dict):
    """A store of blobs that counts how often each was asked for."""

    def __init__(self):
        super().__init__()
        self.asked = []

    def __call__(self, address):
        self.asked.append(address)
        return self[address]


@pytest.fixture
def model(engine, tmp_path):
    keep, empty = Keep(), Snapshot()
    keep[empty.key()] = empty.to_json().encode()
    path = step_file(tmp_path / "boss.step", boss_block(), "Boss")
    result = engine.call(
        "edit", {"snapshot": empty.key(), "name": "import", "values": {"path": str(path)}}, key="m", blobs=keep
    )
    keep.update(result.stored.blobs)
    return keep, result


@pytest.mark.parametrize(
    ("kind", "words"),
    [
        ("crash", "crashed"),
        ("hang", "did not finish within 1 s"),
        ("eat", "more memory|crashed"),
        ("kernel", r"the geometry kernel gave up on this edit \(StdFail_NotDone"),
        ("wrong", "Ravine itself is at fault"),
    ],
)
def test_a_fault_costs_that_call_only(engine, model, kind, words):
    keep, result = model
    with pytest.raises(EngineFailure, match=words):
        engine.call("fault", {"kind": kind}, key="m", deadline=1.0 if kind == "hang" else 60)
    began = time.monotonic()
    described = engine.call("study", described_of(result), key="m", blobs=keep)
    assert dict(described["rows"])["Parts"] == "1"
    assert time.monotonic() - began < 30


@pytest.mark.parametrize(("kind", "words"), [("kernel", "the kernel gave up"), ("wrong", "fault in the program")])
def test_both_kinds_of_faults_are_logged_with_their_traceback(kind, words, caplog):
    call = Call("fault", {"kind": kind})
    assert faults.FAULTS[kind]
    answer = child._run(call, tasks.Workshop(), None, tasks, (RavineError,))
    assert type(answer.error) is {"kernel": GaveUp, "wrong": ProgramFault}[kind]
    assert words in caplog.text
    assert f"in _{kind}" in caplog.text


def described_of(result, picked=()):
    return {"snapshot": result.stored.address, "name": "describe", "values": {"picked": list(picked)}}


def test_a_child_killed_between_calls_is_replaced_without_a_word(engine, model):
    keep, result = model
    pid = alive(engine)
    os.kill(pid, signal.SIGKILL)
    time.sleep(0.2)
    body = result.scene["bodies"][0]
    packet = engine.call(
        "study",
        {"snapshot": result.stored.address, "name": "mesh", "values": {"body": body["id"]}},
        key="m",
        blobs=keep,
    )
    assert packet[:4] == b"RVP1"
    assert alive(engine) != pid


def parent_of(pid):
    return int(Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[1])


def test_workers_are_forked_from_one_process_that_has_the_geometry_library_and_a_single_thread(engine):
    parent = parent_of(alive(engine))
    assert parent != os.getpid()
    assert "OCP" in Path(f"/proc/{parent}/maps").read_text()
    assert len(list(Path(f"/proc/{parent}/task").iterdir())) == 1


def test_when_the_process_they_are_forked_from_dies_another_takes_its_place(engine):
    pid = alive(engine)
    os.kill(parent_of(pid), signal.SIGKILL)
    end = time.monotonic() + 10
    while Path(f"/proc/{pid}").exists() and time.monotonic() < end:
        time.sleep(0.05)
    assert not Path(f"/proc/{pid}").exists(), "workers go with it"
    assert alive(engine) != pid


def test_a_child_killed_at_work_is_told(engine):
    alive(engine)
    pid = alive(engine)
    threading.Timer(0.4, os.kill, (pid, signal.SIGKILL)).start()
    with pytest.raises(EngineFailure, match="crashed"):
        engine.call("slow", {"steps": 200}, key="m")
    assert alive(engine)


def test_cancel_between_steps_keeps_the_child_and_in_the_kernel_kills_it(engine):
    pid = alive(engine)
    seen = []
    threading.Timer(0.4, engine.cancel, ("one",)).start()
    with pytest.raises(Cancelled):
        engine.call("slow", {"steps": 400}, key="m", token="one", progress=lambda f, w: seen.append(w))
    assert len(seen) >= 2
    assert alive(engine) == pid
    threading.Timer(0.4, engine.cancel, ("two",)).start()
    began = time.monotonic()
    with pytest.raises(Cancelled):
        engine.call("fault", {"kind": "hang"}, key="m", token="two")
    assert time.monotonic() - began < 6
    assert alive(engine) != pid


def test_core_refusals_come_through_whole(engine, model):
    keep, result = model
    values = {"faces": ["f999999"], "distance": "1"}
    with pytest.raises(EditError) as told:
        engine.call("edit", {"snapshot": result.stored.address, "name": "push", "values": values}, key="m", blobs=keep)
    assert told.value.field == "faces"


def test_caches_are_warm_for_a_key_and_keys_spread_over_children(engine, model):
    keep, result = model
    keep.asked.clear()
    args = described_of(result)
    engine.call("study", args, key="m", blobs=keep)
    assert keep.asked == []
    engine.call("study", args, key="other", blobs=keep)
    assert len(keep.asked) == len(set(keep.asked)) <= 2
    assert engine.call("ping", {}, key="m") != engine.call("ping", {}, key="other")


def test_a_preview_leaves_nothing_and_equals_the_edit(engine, model):
    keep, result = model
    top = None
    for face in result.scene["bodies"][0]["faces"]:
        pick = [f"f{face}"]
        if (
            dict(engine.call("study", described_of(result, pick), key="m", blobs=keep)["rows"]).get("To opposite")
            == "22 mm"
        ):
            top = face
    args = {"snapshot": result.stored.address, "name": "push", "values": {"faces": [f"f{top}"], "distance": "3"}}
    preview = engine.call("edit", {**args, "mode": "preview"}, key="m", blobs=keep)
    assert preview.stored is None
    assert preview.meshes[0].body["shape"].startswith("draft")
    real = engine.call("edit", args, key="m", blobs=keep)
    assert real.facts == preview.facts
    assert real.meshes[0].packet[-200:] == preview.meshes[0].packet[-200:]
    assert set(real.stored.blobs) == {real.stored.address, real.scene["bodies"][0]["shape"]}


def test_two_children_work_at_once(engine):
    began, done = time.monotonic(), []

    def work(key):
        done.append(engine.call("slow", {"steps": 40}, key=key))

    engine.call("ping", {}, key="a1"), engine.call("ping", {}, key="b1")
    threads = [threading.Thread(target=work, args=(k,)) for k in ("m", "other")]
    began = time.monotonic()
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert done == ["done", "done"]
    assert time.monotonic() - began < 3.8  # one after the other would be 4 s and more


@pytest.fixture
def small():
    """A pool of its own, to be hung and killed."""
    found = LocalEngine(Settings(hands=2, jobs=1, memory_bytes=3 << 30, extra="tests.faults"))
    yield found
    found.close()


def behind(work):
    """What a call does in a thread of its own; joined, it gives its answer or its error."""
    told = []

    def run():
        try:
            told.append(work())
        except RavineError as error:
            told.append(error)

    thread = threading.Thread(target=run)
    thread.start()
    return lambda: (thread.join(), told[0])[1]


def test_a_hanging_edit_holds_up_nobody_else(small):
    """Not other models, and its own for a second; what more comes than a few can wait is told at once."""
    small.call("ping", {}, key="m")
    hung = behind(lambda: small.call("fault", {"kind": "hang"}, key="m", token="stop", deadline=40))
    time.sleep(0.3)
    began = time.monotonic()
    assert small.call("ping", {}, key="other")
    started = time.monotonic() - began
    began = time.monotonic()
    clicks = [behind(lambda: small.call("ping", {}, key="m")) for _ in range(5)]
    assert all(isinstance(click(), int) for click in clicks)
    assert time.monotonic() - began < 3
    assert started < 20
    second = behind(lambda: small.call("slow", {"steps": 60}, key="other"))
    time.sleep(0.2)
    crowd = [behind(lambda k=k: small.call("slow", {"steps": 1}, key=k, deadline=30)) for k in "abcdefghijkl"]
    answers = [ask() for ask in crowd]
    told = [a for a in answers if isinstance(a, Busy)]
    assert 6 <= len(told) <= 11
    assert "busy with" in str(told[0])
    assert [a for a in answers if not isinstance(a, Busy)] == ["done"] * (12 - len(told))
    small.cancel("stop")
    assert isinstance(hung(), Cancelled)
    assert second() == "done"
    assert len([c for c in small.status()["children"] if c["lane"] == "hand"]) <= 3


def test_the_deadline_counts_from_when_the_call_came(small):
    works = [behind(lambda k=k: small.call("slow", {"steps": 100}, key=k)) for k in ("a", "b")]
    time.sleep(4)
    fresh = [behind(lambda k=k: small.call("slow", {"steps": 100}, key=k)) for k in ("c", "d")]  # takes what may grow
    time.sleep(0.1)
    began = time.monotonic()
    with pytest.raises(Busy):
        small.call("ping", {}, key="a", deadline=0.8)
    assert time.monotonic() - began < 2
    assert [w() for w in (*works, *fresh)] == ["done"] * 4


def test_a_call_that_gets_no_further_is_stopped_before_its_deadline(small):
    began = time.monotonic()
    with pytest.raises(EngineFailure, match="got no further for 1 s"):
        small.call("fault", {"kind": "hang"}, key="m", deadline=60, still=1.0)
    assert time.monotonic() - began < 25
    assert small.call("slow", {"steps": 40}, key="m", still=1.0) == "done"  # it tells its steps


def test_a_worker_that_dies_while_starting_is_replaced(small, monkeypatch):
    spare = small.pool._spare
    spare.process.kill()
    spare._ready = False
    monkeypatch.setattr(type(spare), "alive", property(lambda self: True))  # nobody has noticed yet
    with pytest.raises(EngineFailure, match="ended while starting"):
        small.call("ping", {}, key="m")
    monkeypatch.undo()
    assert small.call("ping", {}, key="m")
    assert small.status()["deaths"] == 1


def test_workers_outlive_the_thread_that_called_first(small):
    first = behind(lambda: small.call("ping", {}, key="m"))()
    time.sleep(0.5)
    assert small.call("ping", {}, key="m") == first


def test_pictures_wait_for_no_edit_and_edits_for_no_picture(small):
    hands = [behind(lambda k=k: small.call("slow", {"steps": 60}, key=k)) for k in ("a", "b")]
    time.sleep(0.2)
    assert small.call("ping", {}, key="card", lane="picture")
    assert [h() for h in hands] == ["done", "done"]


def test_a_worker_has_no_network_and_gains_no_privileges(engine):
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", 0))
        listener.listen()
        found = engine.call("look_around", {"port": listener.getsockname()[1]}, key="look", deadline=30)
    assert found["privileges"] == "1"
    assert found["reached"] is False
