"""Several at work on one model, over HTTP."""

import threading

import pytest

from ravine.cli.stack import engine_of
from tests.parts import boss_block, grid_plate, step_file


@pytest.fixture(scope="module")
def boss_file(tmp_path_factory):
    return step_file(tmp_path_factory.mktemp("files") / "boss.step", boss_block(), "Boss")


def test_an_import_lands_on_top_of_edits_made_meanwhile(page, boss_file, tmp_path):
    ident, scene = page.model_with(boss_file, "Busy")
    node, base = scene["nodes"][0]["id"], scene["revision"]
    big = step_file(tmp_path / "grid.step", grid_plate(10, 10), "Grid")
    page.upload(f"/m/{ident}/import", big.name, big.read_bytes())
    moved = refused = 0
    for _ in range(6):
        answer = page.edit(ident, base, "move body", parts=[node], along="x", distance="1")
        if answer.status == 200:
            moved, base = moved + 1, answer.head["revision"]
        else:
            assert answer.status == 409
            refused += 1
            base = page.scene(ident)["revision"]
    assert moved + refused == 6
    assert moved
    assert 'data-state="failed"' not in page.wait_for_jobs(ident, 90)
    scene = page.scene(ident)
    assert {b["name"] for b in scene["bodies"]} == {"Boss", "Grid"}
    boss = next(n for n in scene["nodes"] if n["id"] == node)
    assert boss["matrix"][3] == pytest.approx(moved)


def test_many_writers_lose_nothing(page, boss_file):
    """Each writer tries again on the newest state when told; in the end every accepted edit is there."""
    ident, scene = page.model_with(boss_file, "Writers")
    node = scene["nodes"][0]["id"]
    conflicts, lock = [0], threading.Lock()

    def write():
        for _ in range(4):
            while True:
                base = page.scene(ident)["revision"]
                answer = page.edit(ident, base, "move body", parts=[node], along="y", distance="1")
                if answer.status == 200:
                    break
                assert answer.status == 409, answer.body
                with lock:
                    conflicts[0] += 1

    writers = [threading.Thread(target=write) for _ in range(3)]
    for writer in writers:
        writer.start()
    for writer in writers:
        writer.join()
    assert page.scene(ident)["nodes"][0]["matrix"][7] == pytest.approx(12)
    assert page.get(f"/m/{ident}/panels").text.count("Moved Boss") == 12


def test_an_instance_is_changed_everywhere_and_a_group_moves_as_one(page, station_file):
    ident, scene = page.model_with(station_file, "Instances")
    clamps = [n for n in scene["nodes"] if n["name"] == "Clamp"]
    group = clamps[0]["path"][-1]
    done = page.edit(ident, scene["revision"], "move body", parts=[group], along="z", distance="10")
    moved = {n["id"]: n["matrix"][11] for n in done.head["scene"]["nodes"]}
    assert [moved[c["id"]] for c in clamps] == [15, 15]
    body = next(b for b in scene["bodies"] if b["name"] == "Clamp")
    ends = [
        f"f{f}" for f in body["faces"] if "100 mm²" in page.form(f"/m/{ident}/pick", picked=f"f{f}", stage="Shape").text
    ]
    assert len(ends) == 2
    done = page.edit(ident, done.head["revision"], "push", faces=ends[:1], distance="2", touching="keeping apart")
    assert done.status == 200
    assert [b["name"] for b in done.head["bodies"]] == ["Clamp"]
    assert "+200 mm³" in done.head["factsHtml"]
    renamed = page.edit(ident, done.head["revision"], "rename", part=[clamps[1]["id"]], to="Jaw")
    assert [n["name"] for n in renamed.head["scene"]["nodes"]].count("Jaw") == 2


def test_workers_of_the_running_engine_see_none_of_the_keys(stack):
    engine = engine_of(stack)
    found = engine.call("look_around", {"port": stack.port}, key="look", deadline=30)
    secrets = [stack.database.password, *(v for v in stack.folder.secrets.values() if isinstance(v, str))]
    told = " ".join(f"{k}={v}" for k, v in found["environment"].items())
    assert not any(secret in told for secret in secrets)
    assert not {name for name in found["environment"] if name.startswith("RAVINE_")} - {"RAVINE_ENGINE_EXTRA"}
    assert found["reached"] is False
