"""Printing: layers against exact sections, planted faults, the best way up, estimates, files through other readers."""

import inspect
import io
import math
import re
import struct
import zipfile

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from ravine.core import EditError
from ravine.core.edits.registry import find_edit
from ravine.core.kernel import build
from ravine.core.printing import estimate, findings, of_model, orientation
from ravine.core.printing.layers import cut_into_layers
from ravine.core.printing.machines import machine_for, machines
from ravine.core.printing.printed import laid_down, turned_down
from tests.parts import model_of

DESK = machine_for("filament")


def check(folder, shape, **values):
    model, _ = model_of(folder, shape, "Part")
    return model, model.study("print check", part=model.nodes(), **values)


def kinds(found):
    return {f["kind"] for f in found["findings"]}


def soup(shape):
    data = trimesh.creation.box((1, 1, 1)) if shape is None else shape
    return np.asarray(data.triangles, float)


def test_areas_of_layers_are_those_of_sections(tmp_path):
    """Of a hollow cylinder and a pyramid, by their formulas; and posts within a hollow stand."""
    ring = build.subtract(build.cylinder(20, 10), build.cylinder(15, 12, (0, 0, -1)))
    model, _ = model_of(tmp_path, build.unite(build.cylinder(20, 2), ring, build.cylinder(4, 10)), "Cup")
    layer = model.study("print layer", part=model.nodes(), layer=30)
    assert layer["layers"] == 50
    assert layer["area"] == pytest.approx(math.pi * (20**2 - 15**2 + 4**2), rel=5e-3)
    assert layer["height"] == pytest.approx(6)
    mesh = trimesh.creation.cone(10, 20, sections=4)
    layers = cut_into_layers(np.asarray(mesh.triangles), 0.1)
    heights = layers.heights - mesh.bounds[0, 2]
    assert layers.areas == pytest.approx(200 * (1 - heights / 20) ** 2, abs=1e-6)
    assert [layers.shape(k).area for k in (0, 90, 150)] == pytest.approx(layers.areas[[0, 90, 150]].tolist())
    assert layers.outlines[50] == pytest.approx(4 * math.sqrt(200) * (1 - heights[50] / 20))


def below(mesh, height):
    """mm³ of it under a level, by another library's cut: what would close it lies in the origin's plane, adds none."""
    cut = mesh.slice_plane((0, 0, height), (0, 0, -1))
    corners = cut.triangles - (0, 0, height)
    return np.einsum("ij,ij->", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6


@settings(max_examples=25, deadline=None)
@given(st.tuples(*[st.floats(-3, 3)] * 3), st.floats(0.3, 2), st.sampled_from(["torus", "pipe", "ball", "box"]))
def test_layers_of_any_turned_body_are_those_of_another_cutter(turn, thick, form):
    mesh = {
        "torus": lambda: trimesh.creation.torus(10, 3, major_sections=24, minor_sections=12),
        "pipe": lambda: trimesh.creation.annulus(5, 8, 20, sections=24),
        "ball": lambda: trimesh.creation.icosphere(2, 9),
        "box": lambda: trimesh.creation.box((10, 20, 30)),
    }[form]()
    mesh.vertices = mesh.vertices @ Rotation.from_rotvec(turn).as_matrix().T
    layers = cut_into_layers(np.asarray(mesh.triangles), thick)
    assert layers.heights[-1] < mesh.bounds[1, 2] + thick / 2
    middle = slice(len(layers.heights) // 4, None, 5)
    for height, area in zip(layers.heights[middle].tolist(), layers.areas[middle].tolist(), strict=True):
        grown = below(mesh, height + 1e-3) - below(mesh, height - 1e-3)
        assert area == pytest.approx(grown / 2e-3, abs=0.05 + 0.01 * area)
    assert [layers.shape(k).area for k in range(len(layers.areas))] == pytest.approx(layers.areas.tolist(), abs=1e-6)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(-1, 1), min_size=3, max_size=3).filter(lambda v: sum(x * x for x in v) > 0.05))
def test_what_is_to_be_down_is_down_and_the_way_back_is_exact(way):
    turn = turned_down(np.array(way))
    assert np.abs(turn @ turn.T - np.eye(3)).max() < 1e-12
    assert turn @ (np.array(way) / np.linalg.norm(way)) == pytest.approx([0, 0, -1], abs=1e-12)
    part = laid_down(soup(None), np.zeros(12, int), np.array(way))
    assert part.corners[:, :, 2].min() == pytest.approx(0, abs=1e-12)
    assert part.volume == pytest.approx(1)
    assert part.back(part.corners.reshape(-1, 3)) == pytest.approx(soup(None).reshape(-1, 3), abs=1e-12)


@pytest.mark.parametrize(
    ("shape", "process", "kind", "has"),
    [
        (build.unite(build.box(30, 30, 5), build.box(30, 0.5, 20, (0, 10, 5))), "filament", "wall", 0.5),
        (build.unite(build.box(30, 30, 5), build.box(30, 2, 20, (0, 10, 5)), build.box(30, 2, 20, (0, 12.25, 5))),
         "filament", "gap", 0.25),
        (build.subtract(build.box(30, 30, 5), build.cylinder(0.7, 9, (15, 15, -2))), "filament", "hole", 1.4),
        (build.box(300, 30, 5), "filament", "size", 300),
        (build.subtract(build.box(30, 30, 30), build.box(10, 10, 10, (10, 10, 10))), "resin", "trapped", 1000),
        (build.unite(build.cylinder(5, 40), build.cylinder(16, 3, (0, 0, 37))), "filament", "bridge", 32),
        (build.unite(build.box(20, 20, 40), build.moved(build.box(8, 20, 40), [0.5, 0, 0.866, 12, 0, 1, 0, 0,
                                                                               -0.866, 0, 0.5, 22])),
         "filament", "overhang", 60),
        (build.unite(build.cylinder(4, 90), build.sphere(8, (0, 0, 90))), "filament", "tips", None),
        (build.sphere(20), "filament", "foot", None),
        (build.unite(build.box(30, 30, 5), build.box(30, 1.4, 20, (0, 10, 5))), "filament", "nozzle", 1.4),
    ],
)  # fmt: skip
def test_planted_faults_are_found_with_their_figure(tmp_path, shape, process, kind, has):
    model, found = check(tmp_path, shape, process=process)
    rows = [f for f in found["findings"] if f["kind"] == kind]
    assert rows, found["findings"]
    if has is not None:
        assert min(abs(f["has"] - has) for f in rows) < max(0.02 * has, 0.02), [f["has"] for f in rows]
    box = model.measure(model.bodies()[0]).box
    assert all(lo - 1e-6 <= v <= hi + 1e-6 for v, lo, hi in zip(rows[0]["place"], *box, strict=True)), "in the model"


def test_a_sound_part_has_nothing_to_look_at(tmp_path):
    plate = build.subtract(build.box(60, 40, 8), build.cylinder(3, 12, (20, 20, -2)))
    model, found = check(tmp_path, plate)
    assert kinds(found) == set()
    model.do("set print", parts=model.nodes(), machine="Resin printer")
    again = model.study("print check", part=model.nodes())
    assert again["machine"] == "Resin printer"
    assert again["layers"] == 160


def test_the_best_way_up_lies_flat_and_is_kept(tmp_path):
    """A bracket: down goes its largest side, and nothing hangs over."""
    shape = build.unite(build.box(60, 6, 40), build.box(6, 30, 40))
    model, body = model_of(tmp_path, build.moved(shape, [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0]), "Bracket")
    best = model.study("orientations", part=model.nodes(), count=3)
    assert [o["score"] for o in best] == sorted(o["score"] for o in best)
    assert best[0]["support"] == pytest.approx(0, abs=1e-6)
    assert best[0]["height"] == pytest.approx(30), "on its larger wall, the other upright"
    model.do("set print", parts=model.nodes(), best="1")
    assert model.study("print check", part=model.nodes())["size"][2] == pytest.approx(30)
    side = model.faces(body, kind="plane", normal=(1, 0, 0)).highest((1, 0, 0))
    model.do("set print", parts=model.nodes(), down=[side.id])
    assert model.study("print check", part=model.nodes())["size"][2] == pytest.approx(60)


def test_room_below_is_that_of_the_part_itself(tmp_path):
    """A bridge of two posts: the room below its span, and nothing where it stands."""
    posts = [build.box(4, 10, 21, (x, 0, 0)) for x in (0, 26)]
    model, _ = model_of(tmp_path, build.unite(build.box(30, 10, 4, (0, 0, 20)), *posts), "Bridge")
    body = model.snapshot.body(int(model.bodies()[0][1:]))
    part = of_model.job_of(model.snapshot, model.geometry, body).part
    room = orientation.room_below(part.corners, part.normals[:, 2], math.sin(math.radians(45)), 300)
    assert room == pytest.approx(22 * 10 * 20, rel=0.02)


def test_parts_are_packed_and_the_files_read_elsewhere(tmp_path):
    model, _ = model_of(tmp_path, build.box(60, 40, 10), "Block")
    model.do("repeat parts", parts=model.nodes(), count=7, along="x", step=80)
    change = model.do("save print", parts=model.nodes())
    ((name, data),) = change.files.items()
    assert change.fact("beds") == 1
    scene = trimesh.load_scene(io.BytesIO(data), file_type="3mf")
    assert len(scene.geometry) == 1, "each part once"
    assert all(g.is_watertight for g in scene.geometry.values())
    boxes = [np.array(g.bounds) for g in scene.dump()]
    assert len(boxes) == 7
    for k, a in enumerate(boxes):
        assert a[0].min() >= -1e-6
        assert (a[1][:2] <= [220, 220]).all()
        assert all((a[1][:2] <= b[0][:2] + 1e-6).any() or (b[1][:2] <= a[0][:2] + 1e-6).any() for b in boxes[k + 1 :])
    text = zipfile.ZipFile(io.BytesIO(data)).read("3D/3dmodel.model").decode()
    assert 'unit="millimeter"' in text
    assert "<m:color color=" in text
    assert model.do("save print", parts=model.nodes()).files[name] == data, "the same parts give the same bytes"
    (stl,) = model.do("save print", parts=model.nodes(), format="stl").files.values()
    assert struct.unpack("<I", stl[80:84])[0] == 7 * 12
    model.do("set print", parts=model.nodes()[:1], machine="Desk printer with a fine nozzle")
    assert len(estimate.packed([(150, 150)] * 3, DESK)) == 3
    assert {bed for bed, _, _ in estimate.packed([(150, 150)] * 3, DESK)} == {0, 1, 2}
    assert estimate.packed([(300, 10)], DESK)[0][0] == -1


def test_estimates_follow_volume_and_refusals_name_what_there_is(tmp_path):
    _, small = check(tmp_path, build.box(20, 20, 20))
    _, large = check(tmp_path, build.box(40, 40, 40))
    assert large["estimate"]["grams"] > 4 * small["estimate"]["grams"]
    assert large["estimate"]["seconds"] > 3 * small["estimate"]["seconds"]
    solid = 20**3 * 1.24 / 1000
    assert 0.2 * solid < small["estimate"]["grams"] < solid
    with pytest.raises(EditError, match="there is Desk printer"):
        machine_for(name="Wishing well")
    assert {m.process for m in machines().values()} == {"filament", "resin", "powder"}


def test_a_roof_over_a_level_hole_prints(tmp_path):
    block = build.subtract(build.box(30, 20, 30), build.cylinder(6, 24, (15, -2, 15), (0, 1, 0)))
    model, found = check(tmp_path, block)
    (row,) = [f for f in found["findings"] if f["kind"] == "overhang"]
    assert row["fix"] == "teardrop"
    before = model.measure(model.bodies()[0]).volume
    model.do("teardrop", holes=row["faces"])
    roof = 6**2 * (1 - math.pi / 4) * 20  # a square on its corner less the quarter of the round
    assert before - model.measure(model.bodies()[0]).volume == pytest.approx(roof, rel=1e-9)
    assert "overhang" not in kinds(model.study("print check", part=model.nodes()))
    model.undo()
    model.do("teardrop", holes=row["faces"], flat=1)
    cut = (6 * math.sqrt(2) - 7) ** 2 * 20
    assert before - model.measure(model.bodies()[0]).volume == pytest.approx(roof - cut, rel=1e-9)


def test_scripts_ask_by_body_and_in_their_units(tmp_path):
    model, body = model_of(
        tmp_path, build.subtract(build.box(30, 30, 5), build.cylinder(0.7, 9, (15, 15, -2))), "Plate"
    )
    (found,) = model.print_check(body, process="filament", nozzle="0.4 mm")
    assert (found.kind, found.fix) == ("hole", "resize")
    assert found.size == pytest.approx(1.4)
    assert found.place[:2] == pytest.approx((15, 15))
    assert not model.print_check(body, nozzle="0.25 mm"), "the fine nozzle leaves it open"
    best = model.orientations(body, count=2)
    assert len(best) == 2
    assert abs(best[0].down[2]) == pytest.approx(1)


def test_an_open_mesh_is_told():
    box = np.asarray(trimesh.creation.box((1, 1, 1)).triangles)
    assert findings.open_edges(box) == 0
    assert findings.open_edges(box[1:]) == 3
    assert len(findings.shells(np.concatenate([box, box + 5]))) == 2


def test_what_hangs_of_one_face_is_one_finding(tmp_path):
    """An upright ring hangs over outside below and inside above."""
    model, _ = model_of(tmp_path, build.torus(20, 5, (0, 0, 25), (0, 1, 0)))
    found = model.study("print check", part=model.nodes())
    assert [len(f["faces"]) for f in found["findings"] if f["kind"] == "overhang"] == [1]


@pytest.mark.parametrize("way", ["raised", "cut"])
@pytest.mark.parametrize(("high", "fine"), [("4 mm", True), ("40 mm", False)])
def test_letters_that_are_too_fine_are_one_finding(tmp_path, way, high, fine):
    """Small ones have strokes, or gaps between them, below what the nozzle lays; large ones have not."""
    model, body = model_of(tmp_path, build.box(160, 60, 6))
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest()
    model.do("letter", face=[top.id], words="Ravine", height=high, depth="1 mm", way=way)
    rows = [f for f in model.print_check(body) if f.kind in ("wall", "gap", "lettering")]
    if not fine:
        assert [f.kind for f in rows if f.kind == "lettering"] == []
        return
    assert [f.kind for f in rows] == ["lettering"]
    (found,) = rows
    assert 0 < found.size < found.least
    assert "letters or marks are too fine" in found.words
    marked = {f for row in model.features(body) if row.kind == "cluster" for f in row.faces}
    assert set(found.faces) == marked


def test_what_helps_is_an_edit_that_there_is():
    source = inspect.getsource(findings)
    named = set(re.findall(r'fix="([^"]+)"', source)) | {"drill", "thicken"}
    assert len(named) > 2
    for name in named:
        assert find_edit(name) is not None
