"""Drawings as files, read by programs that are not ours: PDF, DXF, SVG."""

from __future__ import annotations

import io
import re
import subprocess
from collections import Counter

import ezdxf
import numpy as np
import pytest
import svgelements

from ravine.core.drawing.ink import LAYERS
from ravine.core.drawing.paper import SIZES
from tests.parts import boss_block, model_of


@pytest.fixture(scope="module")
def drawn(tmp_path_factory):
    """Two sheets: a boss on a plate with sizes, and the same on A4."""
    folder = tmp_path_factory.mktemp("drawn")
    model, _ = model_of(folder, boss_block(), "Boss plate")
    model.do(
        "begin sheet", called="First", size="A3", says={"number": "RG-7", "creator": "M. Aksel", "owner": "Gauge works"}
    )
    model.do("propose sizes", sheet="First")
    views = next(iter(model.snapshot.records["drawings"].values())).views
    model.do("cut view", view=min(views), toward="left", sheet="First")
    model.do("begin sheet", called="Second", size="A4", angle="third")
    return model, folder


def saved(drawn, kind, sheet="all"):
    model, folder = drawn
    found = {}
    for name, data in model.do("save drawing", sheet=sheet, format=kind).files.items():
        (folder / name).write_bytes(data)
        found[name] = folder / name
    return found


def run(*command):
    return subprocess.run(command, check=True, capture_output=True).stdout.decode("utf-8", "replace")


def test_the_pdf_is_sound_and_has_its_pages_letters_and_layers(drawn):
    (path,) = saved(drawn, "pdf").values()
    run("qpdf", "--check", str(path))
    told = run("pdfinfo", "-l", "2", str(path))
    assert re.search(r"Title:\s+Boss plate", told)
    assert re.search(r"Author:\s+M\. Aksel", told)
    sizes = [tuple(float(v) for v in row) for row in re.findall(r"Page\s+\d+ size:\s+([\d.]+) x ([\d.]+)", told)]
    assert np.allclose(np.array(sizes) * 25.4 / 72, [SIZES["A3"], SIZES["A4"]], atol=0.01)
    fonts = run("pdffonts", str(path)).splitlines()[2:]
    assert fonts
    assert all(re.search(r"\byes\s+yes\s+yes\b", row) for row in fonts)  # embedded, cut down, with letters
    text = run("pdftotext", "-layout", str(path), "-")
    for words in ("RG-7", "⌀8", "60", "A–A", "Boss plate", "Gauge works"):
        assert words in text
    plain = run("qpdf", "--qdf", "--object-streams=disable", str(path), "-")
    assert {"(visible)", "(dimensions)", "(hatch)", "(title)"} <= set(re.findall(r"/Name (\([a-z ]+\))", plain))
    assert re.findall(r"/Title \((First|Second)\)", plain) == ["First", "Second"]


def test_lines_of_the_pdf_are_those_of_the_sheet(drawn):
    """Widths and lengths on the page, read off its operators."""
    (path,) = saved(drawn, "pdf", "Second").values()
    plain = run("qpdf", "--qdf", "--object-streams=disable", str(path), "-")
    widths = {round(float(w) * 25.4 / 72, 3) for w in re.findall(r"^([\d.]+) w$", plain, re.MULTILINE)}
    assert widths == {0.25, 0.5}
    ends = re.findall(r"^([-\d.]+) ([-\d.]+) m\n([-\d.]+) ([-\d.]+) l\nS$", plain, re.MULTILINE)
    assert len(ends) > 40
    spans = [np.hypot(float(c) - float(a), float(d) - float(b)) * 25.4 / 72 for a, b, c, d in ends]
    assert any(abs(s - (297 - 20)) < 0.01 for s in spans)  # the frame's height


def test_the_same_sheet_gives_the_same_bytes(drawn):
    one, two = (saved(drawn, kind) for kind in ("pdf", "pdf"))
    assert [p.read_bytes() for p in one.values()] == [p.read_bytes() for p in two.values()]
    model, _ = drawn
    svg = [next(iter(model.do("save drawing", which="First", format="svg").files.values())) for _ in range(2)]
    assert svg[0] == svg[1]


def test_the_dxf_has_layers_line_widths_and_real_dimensions(drawn):
    (path,) = saved(drawn, "dxf", "First").values()
    document = ezdxf.readfile(path)
    assert not document.audit().errors
    assert set(LAYERS) <= {layer.dxf.name for layer in document.layers}
    assert document.layers.get("visible").dxf.lineweight == 50
    assert document.layers.get("hidden").dxf.lineweight == 25
    kinds = Counter(e.dxftype() for e in document.modelspace())
    assert kinds["DIMENSION"] >= 3
    assert kinds["CIRCLE"] >= 2
    sizes = {e.dxf.text for e in document.modelspace().query("DIMENSION")}
    assert {"60", "40", "22"} <= sizes
    for entity in document.modelspace().query("DIMENSION"):
        assert {e.dxf.layer for e in document.blocks[entity.dxf.geometry]} <= {"dimensions", "Defpoints"}
        if entity.dxf.text in ("60", "40", "22"):  # what another program measures there is what is written
            assert entity.get_measurement() * entity.override().get("dimlfac") == pytest.approx(float(entity.dxf.text))


def test_each_sheet_is_a_dxf_of_its_own(drawn):
    assert [name.split(" ")[-1] for name in saved(drawn, "dxf")] == ["First.dxf", "Second.dxf"]


def test_the_svg_is_as_large_as_the_paper(drawn):
    (path,) = saved(drawn, "svg", "First").values()
    found = svgelements.SVG.parse(io.BytesIO(path.read_bytes()), ppi=25.4)
    assert (found.width, found.height) == (pytest.approx(420), pytest.approx(297))
    texts = [e.text for e in found.elements() if isinstance(e, svgelements.Text)]
    assert "⌀8" in texts
    box = found.bbox()
    assert box[0] >= -0.5
    assert box[2] <= 420.5
