"""Drawings and pictures from files, sketches saved as files: the same areas come back."""

from __future__ import annotations

import contextlib
import math

import ezdxf
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from ravine.core import EditError, FormatError, Model
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.snapshot import Snapshot
from tests.core.test_sketch_edits import Desk


def amounts(desk: Desk, sketch: str) -> list[float]:
    return sorted(a.amount for a in regions_of_sketch(desk.of(sketch)))


def brought(desk: Desk, path) -> str:
    desk.model.do("import", path=str(path))
    return f"s{max(desk.model.snapshot.sketches)}"


@pytest.mark.parametrize("kind", ["dxf", "svg"])
def test_a_sketch_saved_and_brought_back_has_the_same_areas(tmp_path, kind) -> None:
    desk = Desk()
    sketch = desk.begin()
    desk.draw(sketch, "rectangle", "0,0 60,40")
    desk.draw(sketch, "circle", "30,20", size="8")
    desk.draw(sketch, "ellipse", "100,0 120,10 95,20")
    desk.draw(sketch, "spline", "0,100 10,130 40,120 30,95 0,100")
    desk.draw(sketch, "arc", "200,0 220,0 210,5")
    desk.draw(sketch, "line", "200,0 220,0")
    desk.draw(sketch, "text", "0,-50", words="8&g", size="10")
    desk.draw(sketch, "line", "-5,-90 5,-90", role="helper")
    data = desk.model.do("save sketch", sketch=[sketch], format=kind).files[f"Sketch 1.{kind}"]
    (tmp_path / f"back.{kind}").write_bytes(data)
    back = brought(desk, tmp_path / f"back.{kind}")
    assert amounts(desk, back) == pytest.approx(amounts(desk, sketch), rel=2e-6)
    assert Snapshot.from_json(desk.model.snapshot.to_json()) == desk.model.snapshot


def test_a_drawing_made_elsewhere(tmp_path) -> None:
    """Units in the header, a block put in turned and mirrored, a polyline with a bulge, a rational spline, a text."""
    drawing = ezdxf.new("R2000", units=1)
    block = drawing.blocks.new("PAD")
    block.add_lwpolyline([(0, 0, 0), (2, 0, 1), (2, 1, 0), (0, 1, 0)], format="xyb", close=True)
    space = drawing.modelspace()
    space.add_blockref("PAD", (10, 0), dxfattribs={"rotation": 30})
    space.add_blockref("PAD", (20, 0), dxfattribs={"xscale": -1})
    space.add_circle((0, 0), 0.5)
    space.add_text("note")
    drawing.saveas(tmp_path / "pads.dxf")
    desk = Desk()
    change = desk.model.do("import", path=str(tmp_path / "pads.dxf"))
    assert change.warnings == ("1 × text left out: it is no curve",)
    pad = (2 + math.pi / 8) * 25.4**2
    assert amounts(desk, "s1") == pytest.approx([math.pi / 4 * 25.4**2, pad, pad], rel=1e-9)


def test_an_svg_with_transforms_and_bent_paths(tmp_path) -> None:
    (tmp_path / "plate.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 200 100">'
        '<g transform="translate(20 10) rotate(90)"><rect width="20" height="40"/></g>'
        '<path d="M100 50 h20 v-20 a20 20 0 0 0 -20 20z"/><circle cx="50" cy="80" r="10"/>'
        '<path d="M150 50 Q160 30 170 50z"/><text x="3" y="9">left out</text></svg>'
    )
    desk = Desk()
    change = desk.model.do("import", path=str(tmp_path / "plate.svg"))
    assert change.warnings == ("1 × text left out: it is no curve",)
    quarter = math.pi * 400 / 4 / 4  # half size: the area is a quarter
    bent = 2 / 3 * 20 * 10 / 4  # below a parabola
    assert amounts(desk, "s1") == pytest.approx(sorted([200.0, quarter, math.pi * 25, bent]), rel=1e-6)


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("empty.dxf", b"0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n", "no curves"),
        ("cut.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0", "cannot be read"),
        ("bare.svg", b"<svg xmlns='http://www.w3.org/2000/svg'></svg>", "no curves"),
        ("bomb.svg", b"<?xml version='1.0'?><!DOCTYPE svg [<!ENTITY a 'aaaa'>]><svg>&a;</svg>", "entities"),
        ("far.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0L1e30 5'/></svg>", "beyond a kilometre"),
        ("nan.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><circle r='nan'/></svg>", "no curves|cannot be read"),
        ("cut.png", b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR", "picture cannot be read"),
    ],
)
def test_bad_drawings_are_told_and_change_nothing(tmp_path, name, data, words) -> None:
    (tmp_path / name).write_bytes(data)
    model = Model()
    before = model.snapshot
    with pytest.raises(FormatError, match=words):
        model.do("import", path=str(tmp_path / name))
    assert model.snapshot is before


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 2000), st.binary(min_size=1, max_size=3), st.booleans())
def test_damaged_drawings_are_read_or_told(tmp_path_factory, at, noise, vector) -> None:
    folder = tmp_path_factory.getbasetemp()
    path = folder / ("noise.svg" if vector else "noise.dxf")
    whole = folder / ("whole.svg" if vector else "whole.dxf")
    if not whole.exists():
        desk = Desk()
        sketch = desk.begin()
        desk.draw(sketch, "slot", "0,0 20,0", size="4")
        desk.draw(sketch, "spline", "0,0 10,20 20,5")
        files = desk.model.do("save sketch", sketch=[sketch], format=whole.suffix[1:]).files
        whole.write_bytes(next(iter(files.values())))
    data = whole.read_bytes()
    at = at % len(data) if vector else len(data) - 1 - at % min(len(data), 4000)  # the curves stand at the end
    path.write_bytes(data[:at] + noise + data[at + len(noise) :])
    model = Model()
    with contextlib.suppress(FormatError):
        model.do("import", path=str(path))
    for sketch in model.snapshot.sketches.values():
        assert all(np.isfinite(p).all() for p in sketch.points.values())


def test_a_picture_is_scaled_by_a_known_length_about_its_first_place(tmp_path) -> None:
    Image.new("RGB", (400, 200), "#7788aa").save(tmp_path / "photo.jpg")
    desk = Desk()
    sketch = brought(desk, tmp_path / "photo.jpg")
    picture = desk.of(sketch).picture
    assert (picture.corner, picture.wide, picture.tall) == ((-50.0, -25.0), 100.0, 50.0)
    desk.model.do("picture", sketch=[sketch], places="-50,0 30,0", length="200 mm", strength="30 %")
    picture = desk.of(sketch).picture
    assert (picture.corner, picture.wide, picture.strength) == ((-50.0, -62.5), 250.0, 0.3)
    with pytest.raises(EditError, match="length between"):
        desk.model.do("picture", sketch=[sketch], places="0,0 1,0")
    assert desk.model.geometry.blob(picture.address).startswith(b"\x89PNG")
    assert picture.address in desk.model.snapshot.addresses()
    desk.model.do("picture", sketch=[sketch], what="drop")
    assert desk.of(sketch).picture is None
    with pytest.raises(EditError, match="has no picture"):
        desk.model.do("picture", sketch=[sketch], what="fade")
