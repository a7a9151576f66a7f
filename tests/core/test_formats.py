import math
import random
import struct
from datetime import datetime

import numpy as np
import pytest
import trimesh

from ravine.core import EditError, FormatError, Model
from ravine.core.formats import sniff, step
from ravine.core.kernel import build
from ravine.core.kernel.exchange import WriteNode, WritePart
from ravine.core.kernel.serial import from_text
from ravine.core.kernel.volumes import volume_properties
from ravine.core.rigid import IDENTITY
from tests.part21 import Part21
from tests.parts import boss_block, drilled_block, model_of, step_file


def test_step_out_read_by_an_independent_reader(tmp_path):
    wedge = build.extrude(build.outline([(0, 0, 0), (40, 0, 0), (30, 0, 20), (10, 0, 20)]), (0, 30, 0))
    model, body = model_of(tmp_path, build.unite(wedge, build.box(5, 5, 40)), "Kante für Ø8")
    model.do("set finish colour", parts=model.nodes(), colour="#3366cc")
    found = Part21(model.save(tmp_path / "out.step").read_bytes())
    assert found.products == ["Kante für Ø8"]
    assert (0x33, 0x66, 0xCC) in found.colours
    assert found.is_millimetres
    assert len(found.all("ADVANCED_FACE")) == len(model.body(body).faces)
    (solid,) = found.all("MANIFOLD_SOLID_BREP")
    assert found.polyhedron_volume(solid) == pytest.approx(model.measure(body).volume, rel=1e-9)


def test_step_assembly_there_and_back(tmp_path, station_file):
    model = Model()
    model.do("import", path=str(station_file))
    names = [model.snapshot.nodes[int(n[1:])].name for n in model.nodes()]
    assert names == ["Station", "Pair", "Clamp", "Clamp", "Bolzen Ø10"]
    again = Model()
    again.do("import", path=str(model.save(tmp_path / "again.step")))
    assert [again.snapshot.nodes[int(n[1:])].name for n in again.nodes()] == names
    assert len(again.bodies()) == 2
    for mine, theirs in zip(model.snapshot.occurrences(), again.snapshot.occurrences(), strict=True):
        assert theirs.matrix == pytest.approx(mine.matrix)
    clamp = again.body(again.bodies()[0])
    assert clamp.finish == "#b8492c"
    assert list(clamp.face_finishes.values()) == ["#00ff00"]
    independent = Part21((tmp_path / "again.step").read_bytes())
    assert sorted(independent.products) == ["Bolzen Ø10", "Clamp", "Pair", "Station"]
    assert len(independent.all("NEXT_ASSEMBLY_USAGE_OCCURRENCE")) == 4


def test_a_part_saved_alone_keeps_its_place(tmp_path, station_file):
    model = Model()
    model.do("import", path=str(station_file))
    one = model.do("export", parts=[model.nodes("Clamp")[1]], format="step")
    (name, data) = next(iter(one.files.items()))
    assert name == "Clamp.step"
    (tmp_path / name).write_bytes(data)
    again = Model()
    again.do("import", path=str(tmp_path / name))
    assert again.measure(again.bodies()[0]).centroid == pytest.approx((55, 5, 20))


def test_inches_in_the_file_are_read_as_inches(tmp_path):
    path = step_file(tmp_path / "inch.step", build.box(1, 2, 3))
    text = path.read_text().replace("( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.) )", "@")
    assert "@" in text
    inch = (
        "( CONVERSION_BASED_UNIT('INCH',#900001) LENGTH_UNIT() NAMED_UNIT(#900003) );\n"
        "#900001 = LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#900002);\n"
        "#900002 = ( LENGTH_UNIT() NAMED_UNIT(*) SI_UNIT(.MILLI.,.METRE.) );\n"
        "#900003 = DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)"
    )
    path.write_text(text.replace("@", inch))
    model = Model()
    body = model.do("import", path=str(path)).added[0]
    assert model.measure(body).volume == pytest.approx(6 * 25.4**3, rel=1e-6)


@pytest.mark.parametrize("units", ["mm", "in"])
def test_stl_out_read_by_trimesh(tmp_path, units):
    model, body = model_of(tmp_path, drilled_block(40, 30, 20, 5))
    path = model.save(tmp_path / "out.stl", units=units, tolerance="0.01 mm")
    found = trimesh.load(path)
    scale = {"mm": 1, "in": 25.4}[units]
    assert found.is_watertight
    assert found.is_winding_consistent
    assert found.volume * scale**3 == pytest.approx(model.measure(body).volume, rel=1e-3)
    assert found.bounds * scale == pytest.approx(np.array([[0, 0, 0], [40, 30, 20]]), abs=1e-4)


@pytest.mark.parametrize("text", [False, True])
@pytest.mark.parametrize("units", ["mm", "in"])
def test_stl_in_as_a_mesh_body(tmp_path, units, text):
    ball = trimesh.creation.icosphere(subdivisions=3, radius=10)
    path = tmp_path / "ball.stl"
    path.write_bytes(
        ball.export(file_type="stl_ascii" if text else "stl").encode() if text else ball.export(file_type="stl")
    )
    model = Model()
    change = model.do("import", path=str(path), units=units)
    scale = {"mm": 1, "in": 25.4}[units]
    assert model.measure(change.added[0]).volume == pytest.approx(ball.volume * scale**3, rel=1e-5)
    assert change.warnings == ()
    out = trimesh.load(model.save(tmp_path / "back.stl"))
    assert len(out.faces) == len(ball.faces)
    assert out.is_watertight
    with pytest.raises(EditError, match="mesh"):
        model.save(tmp_path / "no.step")
    assert not (tmp_path / "no.step").exists()
    with pytest.raises(EditError, match="mesh"):
        model.do("push", faces=[f"f{model.body(change.added[0]).faces[0]}"], distance=1)


def test_stl_without_a_unit_is_asked_for(tmp_path):
    path = tmp_path / "box.stl"
    trimesh.creation.box().export(path)
    model = Model()
    with pytest.raises(FormatError, match="does not say its unit") as told:
        model.do("import", path=str(path))
    assert told.value.field == "units"


def test_an_open_mesh_is_told(tmp_path):
    box = trimesh.creation.box()
    box.update_faces(np.arange(len(box.faces)) > 1)
    box.export(tmp_path / "open.stl")
    assert "open or doubled edges" in Model().do("import", path=str(tmp_path / "open.stl"), units="mm").warnings[0]


def test_kernel_text_form_is_exact(tmp_path):
    model, _ = model_of(tmp_path, boss_block())
    shape = from_text(model.save(tmp_path / "out.brep").read_bytes())
    assert volume_properties(shape).amount == pytest.approx(60 * 40 * 10 + math.pi * (100 * 12 - 16 * 22), rel=1e-12)


def facet(*corners: str) -> bytes:
    lines = "".join(f"vertex {c}\n" for c in corners)
    return f"solid x\nfacet normal 0 0 1\nouter loop\n{lines}endloop\nendfacet\nendsolid".encode()


NOISE = random.Random(7).randbytes(5000)
P21 = b"ISO-10303-21;\n%sEND-ISO-10303-21;"
BAD = {
    "empty.step": (b"", "empty"),
    "cut.step": ("cut", "cut short"),
    "picture.step": (b"\x89PNG\r\n\x1a\n" + b"\0" * 500, "picture cannot be read"),
    "letter.step": (b"Dear customer, the part is attached.", "plain text"),
    "page.step": (b"<!doctype html><html></html>", "web page"),
    "archive.stp": (b"PK\x03\x04" + bytes(300), "zip archive"),
    "rubbish.stl": (NOISE[:64] + b"\0" * 36 + NOISE[64:4064], "announces|cut short"),
    "counts.stl": (b"\0" * 80 + struct.pack("<I", 4_000_000_000) + bytes(100), "announces 4,000,000,000"),
    "head-only.step": (P21 % b"HEADER;\nENDSEC;\nDATA;\nENDSEC;\n", "holds no shapes|cannot be read"),
    "rubbish.step": (P21 % NOISE, "cannot be read|holds no|no data section|damaged"),
    "text.stl": (facet("0 0 0", "a b c", "0 1 0"), "not a number|whole triangles"),
    "nan.stl": (facet("0 0 0", "nan 0 0", "0 1 0"), "not numbers"),
    "flat.stl": (facet("0 0 0", "0 0 0", "0 1 0"), "no triangle"),
    "short.stl": (facet("0 0 0")[:40], "cut short"),
}


@pytest.mark.parametrize("name", list(BAD))
def test_bad_files_get_words_and_leave_nothing(tmp_path, name):
    data, words = BAD[name]
    path = tmp_path / name
    if data == "cut":
        whole = step_file(tmp_path / "whole.step", drilled_block()).read_bytes()
        data = whole[: len(whole) * 2 // 3]
    path.write_bytes(data)
    model = Model()
    with pytest.raises(FormatError, match=words):
        model.do("import", path=str(path), units="mm")
    assert (model.bodies(), model.journal) == ([], [])


def test_a_step_file_with_broken_references_does_not_crash(tmp_path):
    text = step_file(tmp_path / "good.step", drilled_block()).read_text()
    for number, (old, new) in enumerate(
        [("#1", "#99991"), ("CARTESIAN_POINT", "CARTESIAN_PINT"), ("(5.,", "(nan,"), ("EDGE_CURVE", "EDGE_LOOP")]
    ):
        path = tmp_path / f"{number}.step"
        path.write_text(text.replace(old, new))
        model = Model()
        told = None
        try:
            model.do("import", path=str(path))
        except EditError as error:
            told = str(error)
        assert model.bodies() if told is None else len(told) > 20
        assert bool(model.bodies()) == bool(model.journal)


def test_files_are_known_by_content_not_by_name(tmp_path):
    path = step_file(tmp_path / "really-step.stl", build.box(1, 1, 1))
    assert sniff(str(path)) == "step"
    with pytest.raises(FormatError, match="cannot be opened"):
        sniff(str(tmp_path / "absent.step"))


def test_named_sets_become_groups_of_an_obj_file(tmp_path):
    model, body = model_of(tmp_path, boss_block(), "Plate")
    end = model.faces(body, normal=(0, 0, 1)).highest()
    wall = next(f for f in model.faces(body, kind="cylinder") if abs(f.radius - 10) < 1e-9)
    model.do("name set", things=[end.id, wall.id], called="Seat")
    model.do("push", faces=[end.id], distance=2)  # the set stays
    model.save(tmp_path / "plate.obj")
    points, groups = [], {}
    for line in (tmp_path / "plate.obj").read_text().splitlines():
        word, _, rest = line.partition(" ")
        if word == "v":
            points.append([float(v) for v in rest.split()[:3]])
        elif word == "o":
            rows = groups.setdefault(rest, [])
        elif word == "f":
            rows.append([int(corner.split("/")[0]) - 1 for corner in rest.split()])
    assert sorted(groups) == ["Plate", "Plate Seat"]
    seat = trimesh.Trimesh(points, groups["Plate Seat"], process=False)
    assert seat.area == pytest.approx(math.pi * (2 * 10 * 14 + 10**2 - 4**2), rel=2e-3)
    whole = trimesh.Trimesh(points, groups["Plate"] + groups["Plate Seat"], process=False)
    assert whole.volume == pytest.approx(model.measure(body).volume, rel=2e-3)


@pytest.mark.parametrize(
    ("given", "called"),
    [("Open CASCADE STEP translator 7.9 1", "swivel arm"), ("Part", "swivel arm"), ("COMPOUND_1", "swivel arm"),
     ("", "swivel arm"), ("Body 2", "swivel arm"), ("Part feeder", "Part feeder"), ("Shaft", "Shaft")],
)  # fmt: skip
def test_a_part_that_nobody_named_is_called_after_its_file(tmp_path, given, called):
    path = step_file(tmp_path / "swivel arm.step", build.box(3, 4, 5), given)
    model = Model()
    model.do("import", path=str(path))
    assert [p.name for p in model.parts()] == [called]
    assert [b.name for b in model.snapshot.bodies.values()] == [called]


@pytest.mark.parametrize("title", ["Bracket", "Größe 5' Ø10", "Деталь"])
def test_the_header_of_a_step_file_says_what_it_holds_and_what_wrote_it(title: str) -> None:
    read = Part21(step.write([WriteNode("P", IDENTITY, 0, [])], [WritePart("P", build.box(1, 2, 3), None, {})], title))
    name, stamp, author, organisation, writer, system, authorisation = read.header["FILE_NAME"]
    assert read.words(name) == title
    assert read.words(read.header["FILE_DESCRIPTION"][0]).startswith(title)
    assert abs((datetime.now() - datetime.fromisoformat(stamp.strip("'"))).total_seconds()) < 120
    assert [read.words(t) for t in (author, organisation, authorisation)] == ["", "", ""]
    assert [read.words(t).split(" ")[0] for t in (writer, system)] == ["Ravine", "Ravine"]
    assert read.header["FILE_SCHEMA"][0].startswith("('AUTOMOTIVE_DESIGN")


def test_names_from_strangers_come_in_plain_and_short(tmp_path) -> None:
    """Controls, letters that run backwards, and a name as long as a page."""
    names = ["Plate\u202egnp.exe", "tab\there\nand there", "x" * 3_000, "  "]
    nodes = [WriteNode(name, IDENTITY, k, []) for k, name in enumerate(names)]
    parts = [WritePart(name, build.box(1, 1, 1 + k), None, {}) for k, name in enumerate(names)]
    path = tmp_path / "Strange\u202e file.step"
    path.write_bytes(step.write(nodes, parts, "All"))
    model = Model()
    model.do("import", path=str(path))
    found = [n.name for n in model.snapshot.nodes.values()] + [b.name for b in model.snapshot.bodies.values()]
    assert all(name.isprintable() and 0 < len(name) <= 120 for name in found)
    assert {"Plate gnp.exe", "tab here and there", "x" * 119 + "…"} <= set(found)
    node = next(f"n{n.id}" for n in model.snapshot.nodes.values() if n.name.startswith("xxx"))
    change = model.do("move body", parts=[node], along="x", distance="3")
    assert len(change.sentence) < 200
