"""The supplier's package: what is in it, read by others; what is missing; the same bytes twice."""

from __future__ import annotations

import csv
import hashlib
import io
import zipfile

import ezdxf
import openpyxl
import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from tests.parts import drilled_block, model_of, step_file


@pytest.fixture(scope="module")
def station(tmp_path_factory):
    """A block, a sheet part, a printed part and a screw from the shelf, on one sheet of paper."""
    folder = tmp_path_factory.mktemp("station")
    model, _ = model_of(folder, drilled_block(), "Block")
    parts = {"Plate": build.box(60, 40, 1.5, (80, 0, 0)), "Knob": build.cylinder(8, 15, (30, 80, 0))}
    for name, shape in parts.items():
        model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    model.do("set material", parts=model.nodes(), material="structural steel")
    model.do("make sheet", on=model.nodes("Plate"))
    model.do("set print", parts=model.nodes("Knob"), machine="Resin printer")
    model.do("set part data", parts=model.nodes("Block"), what="part_number", value="RG-1")
    model.do("begin sheet", size="A3", called="All")
    return model


def packed(model, **values):
    (data,) = model.do("package", **values).files.values()
    return data, zipfile.ZipFile(io.BytesIO(data))


def test_every_part_has_its_files(station):
    _, archive = packed(station, revision="B", notes="Deburr all edges.\nCall before shipping.")
    names = set(archive.namelist())
    assert names == {
        "index.html", "SHA256SUMS", "list.xlsx", "schedule.csv", "notes.txt", "all parts.step", "parts/RG-1 Block.step",
        "parts/Plate.step", "parts/Knob.step", "flats/Plate flat.dxf", "prints/Knob.3mf", *(
            n for n in names if n.startswith("drawings/")),
    }  # fmt: skip
    assert {n.rsplit(".", 1)[1] for n in names if n.startswith("drawings/")} == {"pdf", "dxf"}
    with archive.open("parts/RG-1 Block.step") as file:
        path = io.BytesIO(file.read())
    assert path.getvalue().startswith(b"ISO-10303-21")
    sums = dict(line.split("  ")[::-1] for line in archive.read("SHA256SUMS").decode().splitlines())
    assert sums == {n: hashlib.sha256(archive.read(n)).hexdigest() for n in names - {"SHA256SUMS"}}
    index = archive.read("index.html").decode()
    assert all(f'href="{n}"' in index for n in names - {"SHA256SUMS", "index.html"})
    assert "Call before shipping." in index
    flat = ezdxf.read(io.StringIO(archive.read("flats/Plate flat.dxf").decode()))
    assert not flat.audit().errors
    rows = list(csv.reader(io.StringIO(archive.read("schedule.csv").decode("utf-8-sig"))))
    assert [r[0] for r in rows[1:]] == ["Block", "Plate", "Knob"]
    assert {r[3] for r in rows[1:]} == {"structural steel"}
    book = openpyxl.load_workbook(io.BytesIO(archive.read("list.xlsx")))
    assert [c.value for c in book.active["B"]][1:4] == ["Block", "Plate", "Knob"]


def test_a_step_of_the_package_is_the_part(station, tmp_path):
    _, archive = packed(station)
    path = tmp_path / "block.step"
    path.write_bytes(archive.read("parts/RG-1 Block.step"))
    model = Model()
    body = model.do("import", path=str(path)).added[0]
    assert model.measure(body).volume == pytest.approx(station.measure(station.bodies()[0]).volume)


def test_twice_is_the_same_bytes(station):
    assert packed(station, revision="B")[0] == packed(station, revision="B")[0]
    assert packed(station, revision="B")[0] != packed(station, revision="C")[0]


def test_what_is_missing_is_listed_before(tmp_path):
    model, _ = model_of(tmp_path, drilled_block(), "Block")
    model.do("import", path=str(step_file(tmp_path / "pin.step", build.cylinder(6, 30, (20, 15, -5)), "Pin")))
    kinds = {(m["kind"], m["part"]) for m in model.study_named("package missing", {})}
    assert {("material", "Block"), ("material", "Pin"), ("drawing", "Block"), ("drawing", "Pin")} <= kinds
    assert any(kind == "clash" for kind, _ in kinds)
    with pytest.raises(EditError, match="no material"):
        model.do("package", despite="refused")
    change = model.do("package")
    assert any("no material" in w for w in change.warnings)
    (data,) = change.files.values()
    assert "Open: Block: no material is said" in zipfile.ZipFile(io.BytesIO(data)).read("index.html").decode()


def test_names_go_by_a_pattern(station):
    _, archive = packed(station, parts=station.nodes("Block"), revision="C", pattern="{item}_{name}_{revision}")
    assert "parts/1_Block_C.step" in archive.namelist()
    with pytest.raises(EditError, match="no word of a file's name"):
        station.do("package", pattern="{weight}")
    with pytest.raises(EditError, match="would have one name"):
        station.do("package", pattern="part {revision}")
