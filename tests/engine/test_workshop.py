"""What a worker keeps between calls is bounded by its size, and never loses what it works on."""

from ravine.core.address import digest
from ravine.core.kernel import build, serial
from ravine.core.model.geometry import UNFOLDED
from ravine.core.model.snapshot import Body, Snapshot
from ravine.engine import tasks


def stored(size):
    blob = serial.to_bytes(build.box(size, 2, 3))
    return digest(blob), blob


def test_shapes_that_were_used_longest_ago_go_first(monkeypatch):
    workshop = tasks.Workshop()
    rows = [stored(10 + k) for k in range(40)]
    room = 6 * UNFOLDED * len(rows[0][1])
    monkeypatch.setattr(tasks, "MOST_BYTES", room)
    for address, blob in rows:
        with workshop.drafts():
            workshop.geometry.add_blob(address, blob)
    held = [address for address, _ in rows if workshop.geometry.has(address)]
    assert 4 <= len(held) <= 7
    assert held == [address for address, _ in rows][-len(held) :]


def test_the_parts_of_the_state_at_hand_stay_however_many_they_are(monkeypatch):
    workshop = tasks.Workshop()
    monkeypatch.setattr(tasks, "MOST_BYTES", 1)
    rows = [stored(10 + k) for k in range(12)]
    bodies = {k: Body(k, f"Part {k}", "solid", address, (), (), ()) for k, (address, _) in enumerate(rows[:8], 1)}
    state = Snapshot(bodies=bodies)
    workshop.keep("state", state)
    with workshop.drafts():
        workshop.snapshot("state")
        for address, blob in rows:
            workshop.geometry.add_blob(address, blob)
    assert [workshop.geometry.has(address) for address, _ in rows] == [True] * 8 + [False] * 4


def test_results_of_studies_are_kept_as_long_as_there_is_room(monkeypatch):
    monkeypatch.setattr(tasks, "MOST_STUDIED_BYTES", 1000)
    workshop = tasks.Workshop()
    for k in range(30):
        workshop.keep_study(str(k), bytes(300))
    assert list(workshop.studied) == ["27", "28", "29"]
    workshop.keep_study("large", bytes(5000))
    assert list(workshop.studied) == ["large"]
