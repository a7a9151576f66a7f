"""The check that every edit passes, long chains of edits, and the demo's parts."""

import math
import random

import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRep import BRep_Builder
from OCP.TopoDS import TopoDS_Shell, TopoDS_Solid

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.check import fault, is_closed
from ravine.core.kernel.shapes import ShapeIndex, compound, parts_of
from ravine.core.kernel.volumes import volume_properties
from ravine.core.mending.report import check_up
from ravine.core.model.materials import MATERIALS
from ravine.demo import scenario
from ravine.demo.files import write_files
from ravine.demo.logger_board import PACKAGES
from ravine.demo.old_bracket import sound_bracket
from tests.parts import boss_block, model_of


def solid_of(faces):
    builder, shell, whole = BRep_Builder(), TopoDS_Shell(), TopoDS_Solid()
    builder.MakeShell(shell)
    for face in faces:
        builder.Add(shell, face)
    builder.MakeSolid(whole)
    builder.Add(whole, shell)
    return whole


def test_planted_faults_are_found():
    box = build.box(10, 10, 10)
    faces = parts_of(box, "face")
    assert fault(box) is None
    assert is_closed(box)
    assert "open edges" in fault(solid_of(faces[:5]))
    assert not is_closed(solid_of(faces[:5]))
    assert "no solid" in fault(compound(faces))
    assert "2 pieces" in fault(compound([box, build.box(1, 1, 1, (20, 0, 0))]))
    assert fault(solid_of([f.Reversed() for f in faces])) is not None
    stranger = parts_of(build.box(3, 3, 3, (30, 3, 10)), "face")[0]
    assert "open edges" in fault(solid_of([*faces, stranger]))


def test_unchanged_faces_are_not_checked_again_but_new_ones_are():
    box = build.box(10, 10, 10)
    before = ShapeIndex(box)
    other = build.unite(box, build.box(4, 4, 4, (3, 3, 10)))
    assert fault(other, before) is None
    assert "inside out" in fault(other, before, volume=-1.0)


@settings(max_examples=6, deadline=None)
@given(st.integers(0, 10**6))
def test_a_long_chain_of_random_pushes_stays_sound(tmp_path_factory, seed):
    """Every accepted push leaves a sound body whose volume is what the facts said; a refused one changes nothing."""
    choose = random.Random(seed)
    model, body = model_of(tmp_path_factory.mktemp("chain"), boss_block())
    volume = model.measure(body).volume
    for _ in range(10):
        face = choose.choice(model.faces(body, kind="plane"))
        distance = round(choose.uniform(-6, 8), 2) or 1.0
        state = model.snapshot
        try:
            change = model.do("push", faces=[face.id], distance=distance)
        except EditError:
            assert model.snapshot is state
            continue
        volume += change.fact("volume_change")
        shape = model.geometry.solid(model.body(body).shape).shape
        assert fault(shape) is None
        assert model.measure(body).volume == pytest.approx(volume, rel=1e-9)
        ids = model.body(body).ids()
        every = [i for row in ids.values() for i in row]
        assert len(set(every)) == len(every)
        assert max(every) < model.snapshot.next_id


@pytest.fixture(scope="module")
def demo_files(tmp_path_factory):
    return write_files(tmp_path_factory.mktemp("demo"))


def test_the_gland_nut_is_drawn_from_nothing_and_can_be_printed(tmp_path):
    model = Model(units="mm")

    def do(edit, values):
        model.do(edit, **values)
        return model.snapshot

    scenario.DRAWN["Cable gland nut"](do)
    (body,) = model.bodies()
    solid = model.geometry.solid(model.body(body).shape)
    assert fault(solid.shape) is None
    r, b, d = 15.0, 1.4, 15.5  # grip, bite, distance of a bite's middle
    x, y = (d * d + r * r - b * b) / (2 * d), (d * d + b * b - r * r) / (2 * d)
    bite = sum(q * q * math.acos(v / q) - v * math.sqrt(q * q - v * v) for q, v in ((r, x), (b, y)))
    blank = 16 * (math.pi * (15**2 - 9.2**2) - 20 * bite)
    groove = (0.55 + 0.12) * (10.15 - 9.0) - 0.2 * 2 * 0.51  # the tooth, less what stands in the bore
    thread = groove * 2 * math.pi * 9.55 * 16 / 1.5
    assert solid.volume_mm3 == pytest.approx(blank - thread, rel=0.01)
    path = tmp_path / "nut.stl"
    path.write_bytes(*model.do("export", format="stl").files.values())
    mesh = trimesh.load(path)
    assert mesh.is_watertight
    assert mesh.volume == pytest.approx(solid.volume_mm3, rel=0.01)


def test_the_rough_demo_parts_come_in_and_can_be_mended(tmp_path):
    write_files(tmp_path)
    model = Model()
    (bracket,) = model.do("import", path=str(tmp_path / "old-bracket.igs")).added
    assert model.body(bracket).kind == "surface"
    found = {f.code for f in check_up(model.snapshot, model.geometry)}
    assert found >= {"missing face", "duplicate face", "sliver"}
    model.do("mend", parts=model.nodes())
    assert model.measure(bracket).volume == pytest.approx(volume_properties(sound_bracket()).amount, rel=1e-4)
    (handle,) = model.do("import", path=str(tmp_path / "paddle-handle.stl"), units="mm").added
    assert [f.code for f in check_up(model.snapshot, model.geometry, {int(handle[1:])})] == ["hole", "hole"]
    model.do("mend", parts=[model.nodes()[-1]])
    assert model.geometry.get(model.body(handle).shape).is_closed
    board = model.do("import", path=str(tmp_path / "logger-board.emn")).added
    assert {model.body(b).name for b in board} == {"Board", *(p for p, _ in PACKAGES)}
    assert not [f for f in check_up(model.snapshot, model.geometry) if f.code == "overlap" and f.body in board]


@pytest.mark.parametrize("number", range(len(scenario.MODELS)))
def test_the_demo_parts_are_sound_solids_with_known_materials(demo_files, number):
    declared = scenario.MODELS[number]
    model = Model()
    model.do("import", path=str(demo_files[number]))
    for body in model.bodies():
        held = model.body(body)
        assert held.kind == "solid"
        assert fault(model.geometry.solid(held.shape).shape) is None, held.name
        assert len(held.faces) > 2
        assert held.finish
    assert {model.body(b).name for b in model.bodies()} == set(declared.materials)
    assert set(declared.materials.values()) <= set(MATERIALS)
    for name, material in declared.materials.items():
        model.do("set material", parts=model.nodes(name)[:1], material=material)
    assert all(0.001 < model.measure(b).mass < 10 for b in model.bodies())
