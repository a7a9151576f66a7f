"""Files of every format in and out: volumes, trees, colours and units; bad files are refused in clear words."""

from __future__ import annotations

import base64
import json
import math
import random
import tempfile
import time
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import FormatError, Model
from ravine.core.formats import ReadOptions, reader, sniff
from ravine.core.kernel import build, exchange
from ravine.core.kernel.damage import DAMAGES
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.rigid import IDENTITY
from tests.parts import drilled_block, drilled_volume, model_of

VOLUME = drilled_volume(40, 30, 20, 5)
TRIANGLES = ("stl", "obj", "ply", "3mf", "glb")
EXACT = ("step", "igs", "brep")
BOARD = """.HEADER
BOARD_FILE 3.0 "Sluice" 2026/11/01.10:00:00 1
LOGGER_BOARD MM
.END_HEADER
.BOARD_OUTLINE MCAD
1.6
0 0 0 0
0 60 0 0
0 60 40 0
0 0 40 0
0 0 0 0
1 10 20 0
1 13 20 360
.END_BOARD_OUTLINE
.DRILLED_HOLES
3.2 5 5 NPTH BOARD MTG MCAD
3.2 55 35 NPTH BOARD MTG MCAD
.END_DRILLED_HOLES
.PLACEMENT
"SO14" "LVL-07" U1
30 20 0 90 TOP PLACED
"CAP" "C-100" C4
45 10 0.2 0 BOTTOM PLACED
.END_PLACEMENT
"""
LIBRARY = """.HEADER
LIBRARY_FILE 3.0 "Sluice" 2026/11/01.10:00:00 1
.END_HEADER
.ELECTRICAL
"SO14" "LVL-07" MM 1.75
0 -4.3 -2 0
0 4.3 -2 0
0 4.3 2 0
0 -4.3 2 0
0 -4.3 -2 0
PROP POWER_OPR 0.5
.END_ELECTRICAL
.ELECTRICAL
"CAP" "C-100" THOU 100
0 0 0 0
0 50 0 360
.END_ELECTRICAL
"""


def saved(tmp_path: Path, ending: str, **options: object) -> Path:
    model, _ = model_of(tmp_path, drilled_block(), "Block")
    model.do("set finish colour", parts=model.nodes(), colour="#cc4411")
    kind = {"igs": "iges"}.get(ending, ending)
    (data,) = model.do("export", format=kind, **options).files.values()
    path = tmp_path / f"block.{ending}"
    path.write_bytes(data)
    return path


@pytest.mark.parametrize("ending", EXACT)
def test_exact_formats_come_back_exact(tmp_path, ending: str) -> None:
    model = Model()
    change = model.do("import", path=str(saved(tmp_path, ending)))
    assert len(change.added) == 1
    assert model.body(change.added[0]).kind == "solid"
    assert model.measure(change.added[0]).volume == pytest.approx(VOLUME, rel=1e-9)
    if ending != "brep":
        assert model.body(change.added[0]).finish == "#cc4411"


@pytest.mark.parametrize("ending", TRIANGLES)
def test_triangles_come_back_at_their_size(tmp_path, ending: str) -> None:
    path = saved(tmp_path, ending, tolerance="0.005", units="mm")
    model = Model()
    given_unit = {"units": "mm"} if ending in ("stl", "obj", "ply") else {}
    if given_unit:
        with pytest.raises(FormatError, match="does not say its unit"):
            model.do("import", path=str(path))
    change = model.do("import", path=str(path), **given_unit)
    (body,) = change.added
    assert model.body(body).kind == "mesh"
    assert model.measure(body).volume == pytest.approx(VOLUME, rel=1e-3)
    assert model.body(body).name == "block" or ending in ("3mf", "glb", "obj")
    if ending == "glb":
        assert model.body(body).finish == "#cc4411"


def test_what_we_write_as_3mf_and_glb_is_what_the_formats_say(tmp_path) -> None:
    """Read by hand, without the library that wrote it."""
    model, _ = model_of(tmp_path, build.box(10, 20, 30), "Block")
    model.do("repeat parts", parts=[model.nodes()[0]], along="x", step=50, count=3)
    (data,) = model.do("export", format="3mf").files.values()
    (tmp_path / "a.3mf").write_bytes(data)
    with zipfile.ZipFile(tmp_path / "a.3mf") as archive:
        (entry,) = [e for e in archive.namelist() if e.endswith(".model")]
        tree = ElementTree.fromstring(archive.read(entry))
    space = {"m": "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"}
    assert tree.get("unit") == "millimeter"
    assert len(tree.findall(".//m:build/m:item", space)) >= 1
    meshes = tree.findall(".//m:mesh", space)
    assert len(meshes) == 1  # one mesh in three places
    points = np.array([[float(v.get(k)) for k in "xyz"] for v in meshes[0].findall(".//m:vertex", space)])
    assert np.ptp(points, axis=0) == pytest.approx([10, 20, 30])
    (glb,) = model.do("export", format="glb").files.values()
    length = int.from_bytes(glb[12:16], "little")
    scene = json.loads(glb[20 : 20 + length])
    assert len(scene["meshes"]) == 1
    assert sum("mesh" in n for n in scene["nodes"]) == 3
    reach = [a["max"] for a in scene["accessors"] if a["type"] == "VEC3" and "max" in a]
    assert max(max(r) for r in reach) == pytest.approx(0.030)  # metres


def test_a_scene_keeps_copies_and_mirrored_parts(tmp_path) -> None:
    scene = trimesh.Scene()
    box = trimesh.creation.box((0.01, 0.02, 0.03))
    scene.add_geometry(box, geom_name="Block", node_name="One")
    shifted = np.eye(4)
    shifted[:3, 3] = (0.1, 0, 0)
    scene.graph.update(frame_to="Two", matrix=shifted, geometry="Block")
    scaled = np.diag([2.0, -1.0, 1.0, 1.0])
    scaled[:3, 3] = (0.3, 0, 0)
    scene.graph.update(frame_to="Three", matrix=scaled, geometry="Block")
    (tmp_path / "scene.glb").write_bytes(scene.export(file_type="glb"))
    model = Model()
    model.do("import", path=str(tmp_path / "scene.glb"))
    assert len(model.bodies()) == 2  # the scaled and mirrored one is a body of its own
    assert len(model.snapshot.occurrences()) == 3
    assert sorted(round(model.measure(b).volume) for b in model.bodies()) == [6000, 12000]
    assert {round(o.matrix[3]) for o in model.snapshot.occurrences()} == {0, 100, 300}


def test_an_idf_board_with_its_library(tmp_path) -> None:
    path = tmp_path / "board.emn"
    path.write_text(BOARD + LIBRARY)
    model = Model()
    change = model.do("import", path=str(path))
    by_name = {model.body(b).name: b for b in change.added}
    assert set(by_name) == {"Board", "SO14", "CAP"}
    plate = (60 * 40 - 9 * math.pi - 2 * 2.56 * math.pi) * 1.6
    assert model.measure(by_name["Board"]).volume == pytest.approx(plate, rel=1e-9)
    assert model.measure(by_name["SO14"]).volume == pytest.approx(8.6 * 4 * 1.75, rel=1e-9)
    assert model.measure(by_name["CAP"]).volume == pytest.approx(math.pi * 1.27**2 * 2.54, rel=1e-9)
    places = {o.node.name: o for o in model.snapshot.occurrences()}
    chip, cap = places["U1 SO14"], places["C4 CAP"]
    assert chip.node.attributes == {"reference": "U1", "part number": "LVL-07", "package": "SO14"}
    assert model.measure(by_name["SO14"]).centroid == pytest.approx((30, 20, 1.6 + 1.75 / 2))
    assert model.measure(by_name["CAP"]).centroid == pytest.approx((45, 10, -0.2 - 1.27))
    assert cap.matrix[10] == -1  # it hangs below
    again = Model(snapshot=type(model.snapshot).from_json(model.snapshot.to_json()), geometry=model.geometry)
    assert again.snapshot == model.snapshot
    path.write_text(BOARD)
    alone = Model().do("import", path=str(path))
    assert any("2 components left out" in w and "library file" in w for w in alone.warnings)
    path.write_text(LIBRARY)
    with pytest.raises(FormatError, match="library without its board"):
        Model().do("import", path=str(path))


def test_an_idf_outline_with_arcs_has_the_area_of_its_formula(tmp_path) -> None:
    """A slot: two straight sides and two half circles, of version 2 and in thousandths of an inch."""
    rows = "0 0 0 0\n0 1000 0 0\n0 1000 400 180\n0 0 400 0\n0 0 0 180"
    path = tmp_path / "slot.emn"
    path.write_text(f".HEADER\nBOARD_FILE 2.0 X 1 1\nB THOU\n.END_HEADER\n.BOARD_OUTLINE\n62\n{rows}\n"
                    f".END_BOARD_OUTLINE\n.PLACEMENT\n.END_PLACEMENT\n")  # fmt: skip
    model = Model()
    (body,) = model.do("import", path=str(path)).added
    area = (1000 * 400 + math.pi * 200**2) * 0.0254**2
    assert model.measure(body).volume == pytest.approx(area * 62 * 0.0254, rel=1e-9)


def test_choices_at_import(tmp_path) -> None:
    hurt = DAMAGES["drop a face"](drilled_block(), random.Random(3))
    source, _ = model_of(tmp_path, hurt.shape, "Hurt")
    path = str(tmp_path / "Hurt.step")
    model = Model()
    (body,) = model.do("import", path=path, heal="mend").added
    assert model.body(body).kind == "solid"
    assert model.measure(body).volume == pytest.approx(VOLUME, rel=1e-9)
    (locked,) = model.do("import", path=path, what="locked").added
    assert model.body(locked).locked
    (light,) = model.do("import", path=path, what="light").added
    assert (model.body(light).kind, model.body(light).locked) == ("mesh", True)
    two = source.do("repeat parts", parts=[source.nodes()[0]], along="x", step=100, count=2)
    assert two
    (data,) = source.do("export", format="step").files.values()
    (tmp_path / "two.step").write_bytes(data)
    assert len(Model().do("import", path=str(tmp_path / "two.step"), tree="one").added) == 1


def test_loose_iges_faces_come_in_as_a_solid(tmp_path) -> None:
    loose = DAMAGES["loosen"](drilled_block(), random.Random(1)).shape
    path = tmp_path / "loose.igs"
    exchange.write_iges(str(path), [WriteNode("P", IDENTITY, 0, [])], [WritePart("P", loose, None, {})], "P")
    model = Model()
    (body,) = model.do("import", path=str(path)).added
    assert model.body(body).kind == "solid"
    assert model.measure(body).volume == pytest.approx(VOLUME, rel=1e-6)
    model = Model()
    added = model.do("import", path=str(path), heal="leave").added
    assert {model.body(b).kind for b in added} == {"surface"}


# --- bad files -----------------------------------------------------------------------------------------------------


class Files(dict[str, bytes]):
    def __repr__(self) -> str:  # or every failing example prints them all
        return "Files"


@pytest.fixture(scope="module")
def good_files(tmp_path_factory) -> Files:
    folder = tmp_path_factory.mktemp("good")
    found = Files()
    for ending in (*EXACT, *TRIANGLES):
        (folder / ending).mkdir()
        found[ending] = saved(folder / ending, ending).read_bytes()
    found["emn"] = (BOARD + LIBRARY).encode()
    mesh = trimesh.creation.box((1, 1, 1))
    found["gltf"] = _one_gltf(mesh)
    return found


def _one_gltf(mesh: trimesh.Trimesh) -> bytes:
    glb = mesh.export(file_type="glb")
    length = int.from_bytes(glb[12:16], "little")
    scene = json.loads(glb[20 : 20 + length])
    scene["buffers"][0]["uri"] = "data:application/octet-stream;base64," + base64.b64encode(glb[28 + length :]).decode()
    return json.dumps(scene).encode()


def read_bytes(path: Path, data: bytes) -> object:
    path.write_bytes(data)
    kind = sniff(str(path), path.name)
    return reader(kind)(str(path), ReadOptions("mm"), lambda share, words: None)


def refusal(path: Path, data: bytes) -> str | None:
    """What reading says against a file; None where it is read.  Anything but a FormatError is a fault."""
    try:
        read_bytes(path, data)
    except FormatError as error:
        return str(error)
    return None


ENDINGS = (*EXACT, *TRIANGLES, "emn", "gltf")


@pytest.mark.parametrize("ending", ENDINGS)
def test_cut_short_and_empty_files_are_refused(tmp_path, good_files, ending: str) -> None:
    whole = good_files[ending]
    path = tmp_path / f"file.{ending}"
    assert read_bytes(path, whole)
    with pytest.raises(FormatError, match="empty"):
        read_bytes(path, b"")
    for share in (0.3, 0.6, 0.9):
        told = refusal(path, whole[: int(len(whole) * share)])
        # what is there is read of OBJ, which tells no end, and of a board cut between two sections
        assert ending in ("obj", "emn") if told is None else len(told) > 20


@settings(max_examples=60, deadline=None)
@given(st.sampled_from(ENDINGS), st.integers(0, 10**9), st.integers(1, 12))
def test_bytes_changed_anywhere_raise_nothing_but_a_clear_error(good_files, ending: str, seed: int, count: int) -> None:
    if ending in EXACT:
        return  # the kernel's readers may crash on these; that is what workers are for, and tested there
    chance = random.Random(seed)
    data = bytearray(good_files[ending])
    for _ in range(count):
        data[chance.randrange(len(data))] = chance.randrange(256)
    began = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        assert refusal(Path(folder) / f"file.{ending}", bytes(data)) != ""
        assert [p.name for p in Path(folder).iterdir()] == [f"file.{ending}"]
    assert time.monotonic() - began < 60


def test_hostile_files_are_refused(tmp_path, good_files) -> None:
    path = tmp_path / "bomb.3mf"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("[Content_Types].xml", "<Types/>")
        archive.writestr("3D/3dmodel.model", '<!DOCTYPE x [<!ENTITY a "b">]><model>&a;</model>')
    with pytest.raises(FormatError, match="declares XML entities"):
        Model().do("import", path=str(path))
    with zipfile.ZipFile(path, "w") as archive:
        for number in range(6000):
            archive.writestr(f"3D/{number}.model", "")
    with pytest.raises(FormatError, match="thousands of entries"):
        Model().do("import", path=str(path))
    scene = json.loads(good_files["gltf"])
    scene["buffers"][0]["uri"] = "../../etc/passwd"
    path = tmp_path / "away.gltf"
    path.write_text(json.dumps(scene))
    with pytest.raises(FormatError, match="in another file"):
        Model().do("import", path=str(path))
    path = tmp_path / "many.ply"
    path.write_bytes(b"ply\nformat ascii 1.0\nelement vertex 99999999999\nproperty float x\nend_header\n")
    with pytest.raises(FormatError, match="announces 99,999,999,999"):
        Model().do("import", path=str(path), units="mm")
    path = tmp_path / "nan.obj"
    path.write_text("v 0 0 nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")
    with pytest.raises(FormatError, match="not numbers"):
        Model().do("import", path=str(path), units="mm")
    path = tmp_path / "flat.obj"
    path.write_text("v 0 0 0\nv 0 0 0\nv 0 0 0\nf 1 2 3\n")
    with pytest.raises(FormatError, match="no triangle with an area"):
        Model().do("import", path=str(path), units="mm")
    path = tmp_path / "board.emn"
    for text, words in (
        (BOARD.replace("LOGGER_BOARD MM", "LOGGER_BOARD FURLONG"), "should name the unit"),
        (BOARD.replace("0 60 40 0", "0 60 forty 0"), "line 9 of the IDF file should have a number"),
        (BOARD.replace("3.0", "9.0"), "of version 9"),
        (BOARD.replace(".END_PLACEMENT", ""), "stops inside its section .PLACEMENT"),
    ):
        path.write_text(text)
        with pytest.raises(FormatError, match=words):
            Model().do("import", path=str(path))


def test_the_groups_of_a_scene_are_kept(tmp_path) -> None:
    scene = trimesh.Scene()
    box = trimesh.creation.box((10, 10, 10))
    scene.graph.update("pair", "world")
    for name, x in (("left", -20.0), ("right", 20.0)):
        matrix = np.eye(4)
        matrix[0, 3] = x
        scene.add_geometry(box, node_name=name, geom_name=name, parent_node_name="pair", transform=matrix)
    scene.add_geometry(trimesh.creation.icosphere(1, 5.0), node_name="ball", geom_name="ball")
    path = tmp_path / "scene.glb"
    path.write_bytes(scene.export(file_type="glb"))
    model = Model()
    model.do("import", path=str(path))
    (group,) = model.nodes("pair")
    below = {model.snapshot.nodes[n].name for n in model.snapshot.leaves_below(int(group[1:]))}
    assert below == {"left", "right"}
    assert {o.node.name for o in model.snapshot.occurrences()} == {"left", "right", "ball"}
    right = next(o for o in model.snapshot.occurrences() if o.node.name == "right")
    assert right.matrix[3] == pytest.approx(20000)  # glTF counts in metres
