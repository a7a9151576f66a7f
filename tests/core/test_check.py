"""What passes as a sound body, and that nothing is looked at twice on the way to it."""

import random

import pytest
from OCP.BRep import BRep_Builder
from OCP.TopoDS import TopoDS_Solid

from ravine.core.kernel import build, check, damage
from ravine.core.kernel.boolean import combine
from ravine.core.kernel.shapes import ShapeIndex, parts_of
from tests.parts import boss_block, grid_plate, model_of, step_file


@pytest.fixture
def looks(monkeypatch):
    """How many faces the kernel's check was asked about, each time."""
    seen, kernels = [], check.BRepCheck_Analyzer

    def counted(shape, *how):
        seen.append(len(parts_of(shape, "face")))
        return kernels(shape, *how)

    monkeypatch.setattr(check, "BRepCheck_Analyzer", counted)
    return seen


@pytest.fixture(scope="module")
def plate():
    return grid_plate(10, 8)  # more faces than are looked at as a whole


def drilled(plate):
    return ShapeIndex(combine("subtract", plate, [build.cylinder(1, 12, (12, 12, -1))])[0])


def test_what_the_check_looked_at_is_not_looked_at_again(plate, looks):
    before, after = ShapeIndex(plate), drilled(plate)
    assert after.count("face") > check.WHOLE
    assert check.fault(after, before) is None
    assert looks == [3]  # top, bottom and the new wall
    assert check.fault_of_change(after, before) is None
    assert looks == [3]
    assert check.fault_of_change(after, ShapeIndex(plate)) is None  # beside another one: what holds there is not known
    assert looks == [3, 3]
    assert check.fault_of_change(after) is None
    assert looks == [3, 3, after.count("face")]
    assert check.fault_of_change(after, before) is None
    assert len(looks) == 3


def test_a_small_part_is_looked_at_whole_and_once(looks):
    before = ShapeIndex(boss_block())
    after = drilled(before.shape)
    assert check.fault(after, before) is None
    assert looks == [after.count("face")]
    assert check.fault_of_change(after) is None
    assert len(looks) == 1


def test_an_edit_looks_once(tmp_path, plate, looks):
    model, _ = model_of(tmp_path, plate)
    model.do("import", path=str(step_file(tmp_path / "pin.step", build.cylinder(1, 12, (12, 12, -1)), "Pin")))
    looks.clear()
    part, pin = model.nodes()
    model.do("combine", part=[part], tools=[pin], way="cut")
    assert looks == [3]


@pytest.mark.parametrize("harm", ["drop a face", "flip a face", "cross an outline", "duplicate a face"])
@pytest.mark.parametrize("part", [boss_block, lambda: grid_plate(10, 8)], ids=["small", "large"])
def test_an_unsound_body_does_not_pass_however_often_it_is_looked_at(part, harm):
    whole = part()
    hurt = TopoDS_Solid()
    BRep_Builder().MakeSolid(hurt)
    for shell in parts_of(damage.DAMAGES[harm](whole, random.Random(1)).shape, "shell"):
        BRep_Builder().Add(hurt, shell)
    before, index = ShapeIndex(whole), ShapeIndex(hurt)
    for _ in range(2):
        assert check.fault(index, before) or check.fault_of_change(index, before)
