"""Damaged files through the engine: whatever they do inside the kernel, the engine answers and goes on."""

import random

import pytest

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings
from tests.damage import damaged
from tests.parts import boss_block, step_file


@pytest.fixture(scope="module")
def engine():
    found = LocalEngine(Settings(hands=1, jobs=1, memory_bytes=3 << 30))
    yield found
    found.close()


@pytest.mark.parametrize("seed", range(12))
def test_damaged_step_files_cost_nothing_but_themselves(engine, tmp_path, seed):
    choose = random.Random(seed)
    whole = step_file(tmp_path / "whole.step", boss_block()).read_bytes()
    path = tmp_path / "damaged.step"
    path.write_bytes(damaged(whole, choose))
    empty = Snapshot()
    args = {"snapshot": empty.key(), "name": "import", "values": {"path": str(path)}, "meshes": True}
    told, result = None, None
    try:
        result = engine.call("edit", args, key="f", deadline=30, blobs={empty.key(): empty.to_json().encode()}.get)
    except RavineError as error:
        told = str(error)
    assert result.scene["bodies"] if told is None else len(told) > 20
    assert engine.call("ping", {}, key="f", deadline=30)
