"""The demo scenario comes into a data folder once, and what is stopped half way is taken back and tried again."""

import json

import pytest

from ravine.cli.bringing_in import load_demo
from ravine.core import RavineError
from ravine.demo import scenario
from ravine.store.tables import Design


@pytest.fixture
def small(monkeypatch, rows):
    """A scenario of one part and one thing drawn."""
    Design.delete().execute()
    block = scenario.DemoModel("Block", "block.step", {"Boss": "acetal"})
    drawn = {"Sketch": lambda do: do("sketch", {"plane": "xy"})}
    monkeypatch.setattr(scenario, "MODELS", [block])
    monkeypatch.setattr(scenario, "ROUGH", [])
    monkeypatch.setattr(scenario, "DRAWN", drawn)
    return drawn


@pytest.fixture
def build(boss_bytes):
    def write(folder):
        write.times += 1
        folder.mkdir(exist_ok=True)
        (folder / "block.step").write_bytes(boss_bytes)
        (folder / "block.edits.json").write_text(json.dumps([["rename", {"part": ["Boss"], "to": "Block"}]]))

    write.times = 0
    return write


def names():
    return sorted(d.name for d in Design.select())


def test_it_is_brought_in_once_with_materials_and_further_edits(designs, small, build, tmp_path):
    load_demo(designs, tmp_path, build)
    assert names() == ["Block", "Sketch"]
    block = Design.get(Design.name == "Block")
    snapshot = designs.snapshot(designs.head(block))
    assert [n.name for n in snapshot.nodes.values() if n.body is not None] == ["Block"]
    assert "acetal" in json.dumps(snapshot.to_json())
    block.delete_instance(recursive=True)
    load_demo(designs, tmp_path, build)
    assert names() == ["Sketch"], "what the user deleted stays so"
    assert build.times == 1


@pytest.mark.parametrize(
    "stop", [RavineError("no room"), SystemExit(1), KeyboardInterrupt()], ids=lambda e: type(e).__name__
)
def test_what_is_stopped_half_way_is_taken_back_and_tried_again(designs, small, build, tmp_path, stop):
    whole = small["Sketch"]

    def half(do):
        whole(do)
        raise stop

    small["Sketch"] = half
    with pytest.raises(type(stop)):
        load_demo(designs, tmp_path, build)
    assert names() == ["Block"]
    assert json.loads((tmp_path / "demo-brought-in.json").read_text()) == ["block.step"]
    small["Sketch"] = whole
    load_demo(designs, tmp_path, build)
    assert names() == ["Block", "Sketch"]


def test_a_part_that_does_not_come_in_leaves_no_empty_model(designs, small, tmp_path):
    def spoiled(folder):
        folder.mkdir()
        (folder / "block.step").write_bytes(b"ISO-10303-21; and no more")

    with pytest.raises(RavineError):
        load_demo(designs, tmp_path, spoiled)
    assert names() == []
    assert not (tmp_path / "demo-brought-in.json").exists()
