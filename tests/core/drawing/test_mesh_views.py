"""Meshes in views: cut as the solids that they were made of, hidden and hiding."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core.drawing.meshes.cuts import clipped, cut_mesh
from ravine.core.drawing.meshes.lines import mesh_lines
from ravine.core.drawing.projection import ViewFrame
from ravine.core.drawing.screen import Screen
from ravine.core.drawing.sections.legs import Strip
from ravine.core.kernel import build
from ravine.core.model.geometry import Solid
from ravine.core.model.trimesh_body import TriangleMesh
from ravine.core.rigid import IDENTITY
from ravine.core.section.rings import skin_of
from tests.core.drawing.test_sections import area, drawn
from tests.parts import boss_block, mesh_model, model_of, step_file


def as_mesh(shape):
    skin = skin_of(Solid(shape))
    return TriangleMesh.from_soup(skin.points[skin.triangles])


def sheet_of(model):
    sheet = model.drawing(size="A2")
    return sheet, sheet.view("top", scale=1, at=(150, 200))


def length(found, layer="visible"):
    rows = [li.curve for li in found.lines if li.layer == layer]
    return sum(float(np.hypot(*np.diff(c.at(c.steps(c.first, c.last)), axis=0).T).sum()) for c in rows)


def holed_plate():
    holes = [build.cylinder(4, 30, spot) for spot in ((15, 10, -1), (45, 30, -1), (45, 10, -1))]
    return build.subtract(build.box(60, 40, 20), *holes)


CUTS = {
    "straight": {},
    "beside": {"line": "-40,12.5 40,12.5"},
    "stepped": {"line": "-40,-10 0,-10 0,10 40,10"},
    "half": {"line": "-15,-10 40,-10", "half": True},
    "bent": {"line": "-40,-10 0,-10 40,13.094"},
    "bent, as it lies": {"line": "-40,-10 0,-10 40,13.094", "slanting": "kept"},
    "upright": {"toward": "left"},
}


@pytest.mark.parametrize("cut", CUTS)
def test_a_mesh_is_cut_as_the_solid_it_was_made_of(tmp_path, cut):
    solid, _ = model_of(tmp_path, holed_plate())
    mesh, _ = mesh_model(tmp_path, as_mesh(holed_plate()), "Mesh")
    pair = []
    for model in (solid, mesh):
        sheet, top = sheet_of(model)
        pair.append(drawn(sheet, top.section(**CUTS[cut])))
    assert area(pair[1]) == pytest.approx(area(pair[0]), rel=2e-3)
    assert pair[1].box == pytest.approx(pair[0].box, abs=0.05)
    assert pair[1].missing == ("Mesh: drawn by its triangles",)
    assert length(pair[1]) == pytest.approx(length(pair[0]), rel=0.06)


def test_a_mesh_that_is_named_stays_whole(tmp_path):
    mesh, _ = mesh_model(tmp_path, as_mesh(holed_plate()), "Mesh")
    sheet, top = sheet_of(mesh)
    found = drawn(sheet, top.section(whole=mesh.nodes()))
    assert not found.areas


def test_a_line_that_runs_back_over_itself_says_so(tmp_path):
    mesh, _ = mesh_model(tmp_path, as_mesh(holed_plate()), "Mesh")
    sheet, top = sheet_of(mesh)
    found = drawn(sheet, top.section(line="-40,0 10,0 0,10 40,10", slanting="kept"))
    assert any("not cut" in words for words in found.missing)


def volume(points, triangles):
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)


@settings(max_examples=40, deadline=None)
@given(
    st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: sum(x * x for x in v) > 0.05),
    st.floats(-12, 12),
)
def test_both_sides_of_a_cut_are_the_whole(way, off):
    """Each filled where it was cut, they are closed, and their volumes add up."""
    mesh = as_mesh(boss_block())
    normal = np.array(way) / np.linalg.norm(way)
    middle = np.array([30.0, 20.0, 8.0]) + off * normal
    along = np.cross(normal, [0.0, 0.0, 1.0] if abs(normal[2]) < 0.9 else [1.0, 0.0, 0.0])
    along /= np.linalg.norm(along)
    sums, corners = 0.0, mesh.points
    for side in (normal, -normal):
        frame = ViewFrame(along, np.cross(side, along), side, middle)
        piece = cut_mesh(corners, mesh.triangles.astype(int), Strip(IDENTITY, -math.inf, math.inf, middle, side), along,
                         frame)  # fmt: skip
        caps = piece.caps.reshape(-1, 3)
        points = np.concatenate([piece.points, caps])
        rows = np.concatenate([piece.triangles, len(piece.points) + np.arange(len(caps)).reshape(-1, 3)])
        if not len(rows):
            continue
        assert ((points[rows.reshape(-1)] - middle) @ side).max() < 1e-5
        sums += volume(points, rows)
    assert sums == pytest.approx(volume(corners, mesh.triangles), rel=1e-6)


def test_neighbours_share_the_places_where_they_are_cut():
    mesh = as_mesh(build.box(10, 10, 10))
    points, triangles = clipped(mesh.points, mesh.triangles.astype(int), np.array([0, 0, 4.0]), np.array([0, 0, 1.0]))
    pairs = np.sort(triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    _, counts = np.unique(pairs, axis=0, return_counts=True)
    open_ones = np.unique(pairs, axis=0)[counts == 1]
    assert np.allclose(points[np.unique(open_ones)][:, 2], 4)
    assert (counts <= 2).all()


def test_solids_behind_a_mesh_are_hidden_as_far_as_it_covers_them(tmp_path):
    model, _ = mesh_model(tmp_path, as_mesh(build.box(20, 2, 40, (10, -10, -10))), "Wall")
    model.do("import", path=str(step_file(tmp_path / "block.step", build.box(40, 10, 20), "Block")))
    sheet = model.drawing(size="A2")
    front = sheet.view("front", scale=1, at=(150, 150), hidden=True)
    found = drawn(sheet, front)
    block = [li for li in found.lines if li.source and li.layer == "visible"]
    seen = sum(float(np.hypot(*li.curve.x)) for li in block)
    assert seen == pytest.approx(2 * 20 + 2 * (40 - 20), abs=0.05)  # both ends, and beside the wall above and below
    behind = [li for li in found.lines if li.source and li.layer == "hidden"]
    assert sum(float(np.hypot(*li.curve.x)) for li in behind) == pytest.approx(2 * 20, abs=0.05)
    back = drawn(sheet, sheet.view("back", scale=1, at=(150, 250)))
    assert sum(float(np.hypot(*li.curve.x)) for li in back.lines if li.source) == pytest.approx(2 * (40 + 20), abs=0.05)


def test_a_skin_with_a_gap_in_the_cut_says_why_it_is_not_hatched(tmp_path):
    mesh = as_mesh(build.box(60, 40, 20))
    corners = mesh.points[mesh.triangles]
    side = (np.abs(corners[:, :, 0] - 60) < 1e-9).all(axis=1)
    model, _ = mesh_model(tmp_path, TriangleMesh.from_soup(corners[~side]), "Torn")
    sheet, top = sheet_of(model)
    found = drawn(sheet, top.section())
    assert not found.areas
    assert any("gaps in the cut" in words for words in found.missing)


def test_noise_on_a_skin_leaves_no_specks():
    """A bowl seen from above, with one point in 250 pressed in by a hair: its rim alone is drawn."""
    x, y = np.meshgrid(np.linspace(-30, 30, 161), np.linspace(-30, 30, 161))
    rng = np.random.default_rng(4)
    z = np.sqrt(60.0**2 - x**2 - y**2) + np.where(rng.random(x.shape) < 0.004, -0.1, 0.0)
    points = np.column_stack([x.ravel(), y.ravel(), z.ravel()])
    at = np.arange(160)[:, None] * 161 + np.arange(160)
    a, b, c, d = (v.ravel() for v in (at, at + 1, at + 162, at + 161))
    triangles = np.concatenate([np.column_stack([a, b, c]), np.column_stack([a, c, d])])
    eye = np.array([math.sin(0.95), 0.0, math.cos(0.95)])  # along the slope, where noise turns facets away
    frame = ViewFrame(np.array([eye[2], 0.0, -eye[0]]), np.array([0.0, 1.0, 0.0]), eye, np.zeros(3))
    lines = mesh_lines(points, triangles, Screen(points[triangles], eye), frame)
    border = points[(np.abs(points[:, :2]) > 30 - 1e-9).any(axis=1)]
    flat = frame.flat(border)
    for curve, _ in lines:
        for place in curve.at(np.array([0.0, 1.0])):
            assert np.hypot(*(flat - place).T).min() < 0.3
