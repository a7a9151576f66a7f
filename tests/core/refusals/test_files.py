"""Files that are no whole files: refused with what is wrong in them, each by its own reader."""

from __future__ import annotations

import json
import struct

import pytest

from ravine.core.errors import FormatError
from ravine.core.formats import reading, svg
from ravine.core.formats.reading import ReadOptions, sniff
from ravine.core.session import Model

IDF = ".HEADER\nBOARD_FILE 3.0 maker 2026/01/01 1\nboard MM\n.END_HEADER\n"
OUTLINE = ".BOARD_OUTLINE MCAD\n1.6\n0 0 0 0\n0 40 0 0\n0 40 30 0\n0 0 30 0\n0 0 0 0\n.END_BOARD_OUTLINE\n"
FACET = "facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex {} 1 0\nendloop\nendfacet\n"


def glb(scene: object) -> bytes:
    data = json.dumps(scene).encode()
    data += b" " * (-len(data) % 4)
    return struct.pack("<4sIIII", b"glTF", 2, 20 + len(data), len(data), 0x4E4F534A) + data


def ply(head: str) -> bytes:
    return f"ply\nformat ascii 1.0\n{head}".encode()


FILES = [
    ("empty.emn", b"", "is empty"),
    ("numbers.emn", (IDF + OUTLINE.replace("0 40 0 0", "0 nan 0 0")).encode(), "line 8 .* not finite"),
    ("words.emn", (IDF + OUTLINE.replace("0 40 0 0", "0 wide 0 0")).encode(), "line 8 .* number in place 2"),
    ("quote.emn", (IDF + '.NOTES\n1 1 1 1 "half a note\n.END_NOTES\n').encode(), "line 6 .* open quote"),
    ("header.emn", (".HEADER\n# BOARD_FILE 3.0\n.END_HEADER\n" + OUTLINE).encode(), "empty header"),
    ("version.emn", (IDF.replace("3.0", "4.0") + OUTLINE).encode(), "version 4; 2.0 and 3.0 are read"),
    ("unit.emn", (IDF.replace("board MM", "board FURLONG") + OUTLINE).encode(), "MM or THOU, not “FURLONG”"),
    ("outside.emn", (IDF + "40 30 20\n" + OUTLINE).encode(), "line 5 .* outside every section"),
    ("cut.emn", (IDF + OUTLINE[:40]).encode(), "stops inside its section .BOARD_OUTLINE"),
    ("bare.emn", IDF.encode(), "no board outline"),
    ("short.stl", b"solid part\n" + FACET.format("1").encode(), "stops before “endsolid”"),
    ("odd.stl", b"solid part\n" + FACET.format("1e").encode() + b"endsolid part\n", "not a number"),
    ("list.glb", glb([]), "is no scene"),
    ("packed.glb", glb({"extensionsRequired": ["MESH_packing"]}), "needs MESH_packing, which is not read"),
    ("many.glb", glb({"accessors": [{"count": 10**9}]}), "announces more values than it holds"),
    ("less.glb", glb({"accessors": [{"count": -1}]}), "announces more values than it holds"),
    ("apart.glb", glb({"buffers": [{"uri": "other.bin", "byteLength": 4}]}), r"in another file \(other.bin\)"),
    ("length.glb", glb({})[:-2], "announces another length"),
    ("head.ply", ply("element vertex 3\n"), "has no end"),
    ("many.ply", ply("element vertex 99999999\nend_header\n"), "announces 99,999,999 of vertex"),
]


def brought_in(path) -> None:
    Model().do("import", path=str(path), units="mm")


@pytest.mark.parametrize(("name", "data", "words"), FILES, ids=[row[0] for row in FILES])
def test_refused_in_words(tmp_path, name, data, words):
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(FormatError, match=words):
        brought_in(path)


def test_the_board_that_the_rows_spoil_comes_in_whole(tmp_path):
    """Else each row above could fail for another reason."""
    path = tmp_path / "board.emn"
    path.write_text(IDF + OUTLINE)
    model = Model()
    model.do("import", path=str(path))
    assert model.measure(model.bodies()[0]).volume == pytest.approx(40 * 30 * 1.6)
    path = tmp_path / "part.stl"
    path.write_bytes(b"solid part\n" + FACET.format("1").encode() + b"endsolid part\n")
    change = Model().do("import", path=str(path), units="mm")
    assert len(change.added) == 1


def test_too_large_is_told_before_anything_is_read(tmp_path, monkeypatch):
    path = tmp_path / "drawing.svg"
    path.write_text("<svg xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm'><path d='M0 0 9 9'/></svg>")
    monkeypatch.setattr(reading, "LARGEST_FILE", 20)
    with pytest.raises(FormatError, match="files up to 1 GB are read"):
        sniff(str(path))
    monkeypatch.setattr(svg, "LARGEST", 20)
    with pytest.raises(FormatError, match="larger than 50 MB"):
        svg.read(str(path), ReadOptions(), lambda share, words: None)


def test_a_drawing_of_too_many_curves_says_how_many(tmp_path, monkeypatch):
    path = tmp_path / "drawing.svg"
    lines = "".join(f"<path d='M0 {i} 9 {i}'/>" for i in range(8))
    path.write_text(f"<svg xmlns='http://www.w3.org/2000/svg' width='9mm' height='9mm'>{lines}</svg>")
    monkeypatch.setattr(reading, "MOST_CURVES", 5)
    with pytest.raises(FormatError, match="the drawing has 8 curves; up to 5 are read"):
        brought_in(path)
