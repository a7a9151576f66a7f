"""Damaged files through the engine: whatever they do inside the kernel, the engine answers and goes on."""

import random

import pytest

from ravine.core import RavineError
from ravine.core.model.snapshot import Snapshot
from ravine.engine.client import LocalEngine
from ravine.engine.pool import Settings
from tests.parts import boss_block, step_file


@pytest.fixture(scope="module")
def engine():
    found = LocalEngine(Settings(hands=1, jobs=1, memory_bytes=3 << 30))
    yield found
    found.close()


def damage(data, choose):
    """One of several kinds of damage, seeded."""
    data = bytearray(data)
    kind = choose.randrange(5)
    if kind == 0:  # flipped bytes
        for _ in range(choose.randrange(1, 40)):
            data[choose.randrange(len(data))] = choose.randrange(256)
    elif kind == 1:  # a piece cut out
        start = choose.randrange(len(data))
        del data[start : start + choose.randrange(2000)]
    elif kind == 2:  # a piece doubled
        start = choose.randrange(len(data))
        data[start:start] = data[start : start + choose.randrange(2000)]
    elif kind == 3:  # references crossed
        text = bytes(data).replace(f"#{choose.randrange(20, 200)}".encode(), f"#{choose.randrange(20, 200)}".encode())
        data = bytearray(text)
    else:  # absurd numbers
        text = bytes(data).replace(b"10.", choose.choice([b"1E308", b"-1E-300", b"nan", b"99999999999999999999."]))
        data = bytearray(text)
    return bytes(data)


@pytest.mark.parametrize("seed", range(12))
def test_damaged_step_files_cost_nothing_but_themselves(engine, tmp_path, seed):
    choose = random.Random(seed)
    whole = step_file(tmp_path / "whole.step", boss_block()).read_bytes()
    path = tmp_path / "damaged.step"
    path.write_bytes(damage(whole, choose))
    empty = Snapshot()
    args = {"snapshot": empty.key(), "name": "import", "values": {"path": str(path)}, "meshes": True}
    told, result = None, None
    try:
        result = engine.call("edit", args, key="f", deadline=30, blobs={empty.key(): empty.to_json().encode()}.get)
    except RavineError as error:
        told = str(error)
    assert result.scene["bodies"] if told is None else len(told) > 20
    assert engine.call("ping", {}, key="f", deadline=30)
