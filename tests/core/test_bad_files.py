"""Files that mean harm, are damaged, or are in an old code: read, or refused in our own words, and in time."""

import io
import random
import re
import time
import zipfile

import numpy as np
import pytest
from PIL import Image

from ravine.core import formats
from ravine.core.errors import FormatError
from ravine.core.formats.reading import Budget, ReadOptions
from tests.damage import CUBE, FACES, HEAD, damaged, light_samples, nested_blocks, nested_uses

LIBRARY_WORDS = re.compile(
    r"Error|object has no|out of range|unhashable|NoneType|cannot be read: '|Traceback|module|\bOCP\b|Standard_|"
    r"0x[0-9a-f]+|invalid literal|could not convert|expected|codec"
)


def read(path, units="mm"):
    return formats.reader(formats.sniff(str(path)))(str(path), ReadOptions(units), lambda *_: None)


def written(tmp_path, name, data):
    path = tmp_path / name
    path.write_bytes(data if isinstance(data, bytes) else data.encode())
    return path


def picture(width, height):
    out = io.BytesIO()
    Image.new("1", (width, height)).save(out, "PNG")
    return out.getvalue()


def archive():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("[Content_Types].xml", "")
        made.writestr("3D/3dmodel.model", bytes(600 << 20))
    return out.getvalue()


HARMFUL = {
    "nested uses": ("a.svg", lambda: nested_uses(8), "unfolds to more than"),
    "uses of themselves": (
        "a.svg", lambda: f'{HEAD}<g id="a"><use xlink:href="#a"/><use xlink:href="#a"/></g></svg>',
        "no curves|cannot be",
    ),
    "deep groups": ("a.svg", lambda: HEAD + "<g>" * 500 + "</g>" * 500 + "</svg>", "nests its elements"),
    "style sheets": (
        "a.svg", lambda: HEAD + "<style>" + ".a{fill:red}" * 20_000 + '</style><rect width="1" height="1"/></svg>',
        "kB of style sheets",
    ),
    "one long path": ("a.svg", lambda: f'{HEAD}<path d="M0 0{"L1 2" * 900_000}"/></svg>', "kB of paths"),
    "nested blocks": ("a.dxf", lambda: nested_blocks(8), "unfolds to more than"),
    "a wide picture": ("a.png", lambda: picture(40_000, 10), "a side are read"),
    "an archive": ("a.3mf", archive, "512 MB"),
}  # fmt: skip


@pytest.mark.parametrize("name", HARMFUL)
def test_what_would_keep_a_reader_busy_is_told_at_once(tmp_path, name):
    file, make, words = HARMFUL[name]
    path = written(tmp_path, file, make())
    began = time.monotonic()
    with pytest.raises(FormatError, match=words):
        read(path)
    assert time.monotonic() - began < 20


def test_what_repeats_within_reason_is_read(tmp_path):
    assert len(read(written(tmp_path, "a.svg", nested_uses(2))).strokes) == 400
    assert len(read(written(tmp_path, "a.dxf", nested_blocks(2))).strokes) == 100


def test_a_budget_counts_elements_and_time(monkeypatch):
    with pytest.raises(FormatError, match="more than 2 elements"):
        [Budget("file", 2).spend(k) for k in (1, 1, 3)]
    with pytest.raises(FormatError, match="longer than"):
        Budget("file", 9, seconds=-1).spend()


def test_letters_of_an_older_code_in_names_and_comments(tmp_path):
    obj = "# Gehäuse\no Gehäuse\n" + "".join("v {} {} {}\n".format(*p) for p in CUBE)
    obj += "".join("f {} {} {}\n".format(*(i + 1 for i in f)) for f in FACES)
    ply = "ply\nformat ascii 1.0\ncomment Gehäuse\nelement vertex 4\nproperty float x\nproperty float y\n"
    ply += "property float z\nelement face 4\nproperty list uchar int vertex_indices\nend_header\n"
    ply += "".join("{} {} {}\n".format(*p) for p in CUBE) + "".join("3 {} {} {}\n".format(*f) for f in FACES)
    binary = ply.split("end_header\n")[0].replace("ascii", "binary_little_endian") + "end_header\n"
    rows = CUBE.astype("<f4").tobytes() + b"".join(b"\x03" + np.array(f, "<i4").tobytes() for f in FACES)
    for name, data in (("a.obj", obj.encode("latin-1")), ("a.obj", obj.encode()), ("a.ply", ply.encode("latin-1")),
                       ("b.ply", binary.encode("latin-1") + rows)):  # fmt: skip
        ((_, mesh),) = read(written(tmp_path, name, data)).parts
        assert len(mesh.triangles) == 4
        assert mesh.is_closed


@pytest.mark.parametrize("seed", range(4))
def test_no_reader_lets_a_librarys_words_through(tmp_path, seed):
    """What the kernel reads goes through the engine instead, since it may crash (tests/engine/test_fuzz.py)."""
    draw = random.Random(seed)
    refused = []
    for name, whole in light_samples():
        for _ in range(12):
            path = written(tmp_path, name, damaged(whole, draw))
            try:
                read(path)
            except FormatError as told:
                refused.append(told.reason)
    assert len(refused) > 20
    assert [reason for reason in refused if LIBRARY_WORDS.search(reason) or len(reason.split()) < 5] == []
