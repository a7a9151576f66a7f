from pathlib import Path

import pytest
from hypothesis import settings

from ravine.core import Model
from ravine.core.edits import value_bounds as limits
from ravine.core.formats import step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.operations import ladder
from ravine.core.rigid import IDENTITY, Rigid

# the same examples in every run; others are tried with `--hypothesis-profile=other`
settings.register_profile("same", derandomize=True)
settings.register_profile("other")
settings.load_profile("same")

pytest_plugins = ["tests.database", "tests.running"]


@pytest.fixture(autouse=True)
def no_hurry(monkeypatch):
    """Searches for the largest value that works go to their end, however slow the machine is."""
    monkeypatch.setattr(ladder, "SEARCH_SECONDS", 600.0)
    monkeypatch.setattr(limits, "SECONDS", 600.0)


@pytest.fixture(scope="module")
def bases(tmp_path_factory):
    """Copies of the models that samples are tried on: what is done to one leaves the others alone."""
    from tests.samples import BASES

    made: dict[str, Model] = {}

    def copy_of(name: str) -> Model:
        if name not in made:
            made[name] = BASES[name](tmp_path_factory.mktemp(name))
        return Model(snapshot=made[name].snapshot, geometry=made[name].geometry)

    return copy_of


@pytest.fixture(scope="session")
def station_file(tmp_path_factory) -> Path:
    """An assembly: a group with one part twice, and a pin; names with letters beyond ASCII, colours."""
    clamp = WritePart("Clamp", build.box(10, 10, 30), "#b8492c", {0: "#00ff00"})
    pin = WritePart("Bolzen Ø10", build.cylinder(5, 10), None, {})
    group = WriteNode("Pair", Rigid.slide((0, 0, 5)), None, [
        WriteNode("Clamp", IDENTITY, 0, []), WriteNode("Clamp", Rigid.slide((50, 0, 0)), 0, []),
    ])  # fmt: skip
    root = WriteNode("Station", IDENTITY, None, [group, WriteNode("Bolzen Ø10", Rigid.slide((0, 40, 0)), 1, [])])
    path = tmp_path_factory.mktemp("station") / "station.step"
    path.write_bytes(step.write([root], [clamp, pin], "Station"))
    return path
