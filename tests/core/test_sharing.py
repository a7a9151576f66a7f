"""Models as one page: what is read back from it is the model, and what was to stay is not in it."""

from __future__ import annotations

import base64
import json
import re
import struct
import zlib

import numpy as np
import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.sharing.inside import directions
from ravine.core.sharing.shapes import octahedral
from tests.parts import boss_block, mesh_model, model_of, step_file


def read(data: bytes):
    """The head, and of each shape places of its triangles (n, 3, 3) and normals (m, 2), as another reader would."""
    packed = re.search(rb'<script type="text/plain" id="model">([^<]*)</script>', data)[1]
    raw = zlib.decompress(base64.b64decode(packed), -15)
    (long,) = struct.unpack_from("<I", raw)
    head, at = json.loads(raw[4 : 4 + long]), 4 + long

    def take(count):
        nonlocal at
        found = np.frombuffer(raw, np.uint8, count, at)
        at += count
        return found

    def differences(count):
        low, middle, high = (take(count).astype(np.int64) for _ in range(3))
        folded = low | middle << 8 | high << 16
        return (folded >> 1) ^ -(folded & 1)

    shapes = []
    for shape in head["shapes"]:
        steps = differences(3 * shape["points"]).reshape(3, -1)
        points = np.cumsum(steps, axis=1).T * shape["step"] + shape["low"]
        differences(3 * sum(shape["edges"]))
        corners = np.cumsum(differences(3 * shape["triangles"])).reshape(-1, 3)
        normals = np.column_stack([take(shape["points"]).view(np.int8) for _ in range(2)])
        shapes.append((points[corners], normals))
    assert at == len(raw)
    return head, shapes


def volume(corners):
    return float(np.einsum("ij,ij->", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6)


def shared(model, **values):
    files = model.do("share", **values).files
    return next(data for name, data in files.items() if name.endswith(".html"))


def closed_box(tmp_path):
    """A hollow box with a block in it that nobody sees, and a pin beside it."""
    shell = build.subtract(build.box(40, 40, 40), build.box(36, 36, 36, (2, 2, 2)))
    model, _ = model_of(tmp_path, shell, "Case")
    for name, shape in (("Secret", build.box(10, 10, 10, (15, 15, 15))), ("Pin", build.cylinder(3, 20, (60, 20, 0)))):
        model.do("import", path=str(step_file(tmp_path / f"{name}.step", shape, name)))
    model.do("set material", parts=model.nodes(), material="brass")
    return model


def test_what_is_read_back_is_the_model(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    model.do("repeat parts", parts=model.nodes(), count=2, step=90)
    head, ((corners, _),) = read(shared(model))
    assert volume(corners) == pytest.approx(model.measure(body).volume, rel=2e-3)
    assert [len(head["places"]), head["rows"][0]["count"]] == [2, 2]
    assert head["places"][1]["stand"][3] - head["places"][0]["stand"][3] == pytest.approx(90)
    forms = head["shapes"][0]["forms"]
    assert sorted(round(f[7], 6) for f in forms if f[0] == "cylinder") == [4, 10]
    planes = [f for f in forms if f[0] == "plane"]
    assert all(np.linalg.norm(f[4:7]) == pytest.approx(1) for f in planes)
    assert sum(head["shapes"][0]["counts"]) == head["shapes"][0]["triangles"]


def test_nothing_leaves_that_was_to_stay(tmp_path):
    model = closed_box(tmp_path)
    whole, _ = read(shared(model))
    assert [r["name"] for r in whole["rows"]] == ["Case", "Secret", "Pin"]
    assert all(r["more"].endswith("kg") for r in whole["rows"])
    data = shared(model, inside="outside", names="no", figures="no", called="For a customer")
    head, shapes = read(data)
    assert [r["name"] for r in head["rows"]] == ["Part 1", "Part 2"]  # the block within is not there at all
    assert volume(shapes[0][0]) == pytest.approx(40**3)  # nor is the inside of the case
    text = data.decode()
    for word in ("Secret", "Case", "Pin", "brass", " kg"):
        assert word not in json.dumps(head), word
    assert "Secret" not in text
    alone, _ = read(shared(model, parts=model.nodes("Pin")))
    assert [r["name"] for r in alone["rows"]] == ["Pin"]


def test_ways_that_see_faces_are_even_and_a_cup_shows_its_inside(tmp_path):
    ways = directions(160)
    assert np.abs(ways.mean(axis=0)).max() < 0.02
    cup = build.subtract(build.cylinder(20, 40), build.cylinder(17, 40, (0, 0, 3)))
    model, _ = model_of(tmp_path, cup)
    head, _ = read(shared(model, inside="outside"))
    assert len(head["shapes"][0]["forms"]) == 5


def test_normals_fit_in_two_bytes():
    rows = np.random.default_rng(7).normal(size=(500, 3))
    rows /= np.linalg.norm(rows, axis=1)[:, None]
    flat = octahedral(rows).astype(float) / 127
    found = np.column_stack([flat, 1 - np.abs(flat).sum(axis=1)])
    below = found[:, 2] < 0
    found[below, :2] = (1 - np.abs(found[below][:, 1::-1])) * np.where(found[below][:, :2] >= 0, 1, -1)
    found /= np.linalg.norm(found, axis=1)[:, None]
    assert np.degrees(np.arccos(np.clip((rows * found).sum(axis=1), -1, 1))).max() < 1.0


def test_meshes_titles_and_the_same_beside_it(tmp_path):
    from ravine.core.model.trimesh_body import TriangleMesh

    corners = np.array([[[0, 0, 0], [0, 9, 0], [9, 0, 0]], [[0, 0, 0], [9, 0, 0], [0, 0, 9]],
                        [[0, 0, 0], [0, 0, 9], [0, 9, 0]], [[9, 0, 0], [0, 9, 0], [0, 0, 9.0]]])  # fmt: skip
    model, _ = mesh_model(tmp_path, TriangleMesh.from_soup(corners), "Tent")
    files = model.do("share", called="<b>Tent</b> & co", beside="glb").files
    assert sorted(name.rsplit(".", 1)[1] for name in files) == ["glb", "html"]
    data = next(d for n, d in files.items() if n.endswith(".html"))
    assert b"<title>&lt;b&gt;Tent&lt;/b&gt; &amp; co</title>" in data
    _, ((found, _),) = read(data)
    assert volume(found) == pytest.approx(9**3 / 6, rel=1e-3)
    assert model.share(tmp_path / "tent.html").read_bytes().startswith(b"<!doctype html>")
    with pytest.raises(EditError, match="nothing to share"):
        Model().do("share")


def test_kept_views_go_along(tmp_path):
    model, _ = model_of(tmp_path, boss_block())
    row = {"name": "From below", "eye": [0.5, -0.4, 90, [1, 2, 3]]}
    head, _ = read(model.study_named("shared page", {"views": [row]}))
    assert head["views"] == [{"name": "From below", "eye": [0.5, -0.4, 90, [1, 2, 3]]}]
    head, _ = read(model.study_named("shared page", {"views": [row], "names": False}))
    assert head["views"][0]["name"] == "view 1"
    with pytest.raises(EditError, match="a kept view"):
        model.study_named("shared page", {"views": [{"name": "Bad", "eye": "left"}]})
