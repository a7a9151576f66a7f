"""The gauging station of the demo: everything in it is held, nothing overlaps, its float arm swings."""

import json

import pytest

from ravine.core import Model
from ravine.core.formats import step
from ravine.demo import station
from ravine.demo.logger_board import board_text


@pytest.fixture(scope="module")
def whole(tmp_path_factory):
    folder = tmp_path_factory.mktemp("station")
    path = folder / "gauging-station.step"
    path.write_bytes(step.write(*station.tree(), "Gauging station"))
    (folder / "logger-board.emn").write_text(board_text())
    model = Model()
    model.do("import", path=str(path))
    for name, values in json.loads(json.dumps(station.edits(path))):
        model.do(name, **values)
    return model


def test_nothing_overlaps_and_every_screw_is_held(whole):
    found = whole.clearances()
    assert {f.kind for f in found} == {"gap"}, [f.words for f in found]
    assert {f.words for f in found} >= {"0.1 mm between Mast tube and Gauge clamp"}
    counts = {r.name: r.quantity for r in whole.bill(level="flat")}
    assert {k: v for k, v in counts.items() if k.startswith(("ISO", "Hex", "Cable"))} == {
        "ISO 4017 M10 × 80": 6, "ISO 4032 M10": 6, "ISO 7089 M10": 12, "ISO 4762 M4 × 10": 4, "ISO 4762 M3 × 6": 4,
        "ISO 4762 M5 × 12": 4, "Hexagon standoff M3 × 16": 4, "Cable gland M16": 3,
    }  # fmt: skip


def test_the_float_arm_swings_and_what_is_joined_holds(whole):
    assert all(j.state == "holds" for j in whole.joints())
    (motion,) = whole.freedoms(whole.nodes("Float arm")[0])
    assert motion.kind == "turn"
