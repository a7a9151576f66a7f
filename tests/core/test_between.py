"""What lies between two picked things, against formulas."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import Model
from ravine.core.kernel import build
from ravine.core.model.separation import between
from ravine.core.view.describe import describe_pick
from tests.parts import model_of, step_file


@settings(max_examples=12, deadline=None)
@given(st.floats(0.5, 80), st.floats(0.5, 60), st.floats(0, 1.2))
def test_two_boxes_apart_and_turned(tmp_path_factory, gap: float, side: float, turn: float) -> None:
    folder = tmp_path_factory.mktemp("boxes")
    model = Model()
    one = model.do("import", path=str(step_file(folder / "one.step", build.box(10, 10, 10)))).added[0]
    c, s = math.cos(turn), math.sin(turn)
    other_box = build.moved(build.box(side, 10, 10), (c, 0, s, 10 + gap, 0, 1, 0, 0, -s, 0, c, 0))
    other = model.do("import", path=str(step_file(folder / "other.step", other_box))).added[0]
    right = model.faces(one, kind="plane", normal=(1, 0, 0))[0]
    left = model.faces(other, kind="plane", normal=(-c, 0, s))[0]
    found = between(right, left)
    assert found is not None
    assert found.angle == pytest.approx(abs(turn), abs=1e-9)
    assert found.gap == pytest.approx(gap)
    assert found.places[0][0] == pytest.approx(10)
    assert found.places[1][0] == pytest.approx(10 + gap)
    if turn == 0:
        assert found.offset == pytest.approx(gap)


@settings(max_examples=12, deadline=None)
@given(st.floats(0.0, 3.0), st.floats(-0.1, 0.1), st.floats(6.5, 20))
def test_the_mismatch_of_two_bores(tmp_path_factory, apart: float, lean: float, radius: float) -> None:
    folder = tmp_path_factory.mktemp("bores")
    model = Model()
    first = model.do("import", path=str(step_file(folder / "a.step", build.cylinder(5, 20)))).added[0]
    axis = (0.0, math.sin(lean), math.cos(lean))
    tube = build.cylinder(radius, 20, (60 + apart, 0, 0), axis)
    second = model.do("import", path=str(step_file(folder / "b.step", tube))).added[0]
    walls = [model.faces(b, kind="cylinder")[0] for b in (first, second)]
    found = between(*walls)
    assert found is not None
    assert found.lean == pytest.approx(abs(lean), abs=1e-7)
    off = walls[1].centroid[1]  # the second axis leans in the plane square to x
    assert found.apart == pytest.approx(math.hypot(60 + apart, off), rel=1e-6)


def test_corners_edges_and_faces_together_on_the_panel(tmp_path) -> None:
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.cylinder(5, 30, (12, 15, -5))))
    corners = {tuple(round(v) for v in c.point): c.id for c in model.vertices(body)}

    def rows(*ids: str) -> dict[str, str]:
        return dict(describe_pick(model.snapshot, model.geometry, ids).rows)

    assert rows(corners[0, 0, 0], corners[40, 30, 0])["Distance"] == "50 mm"
    assert rows(corners[0, 0, 0], corners[40, 30, 0])["Along X · Y · Z"] == "40 · 30 · 0 mm"
    top = model.faces(body, kind="plane", normal=(0, 0, 1))[0]
    assert rows(top.id, corners[0, 0, 0])["Gap"] == "20 mm"
    wall = model.faces(body, kind="cylinder")[0]
    side = model.faces(body, kind="plane", normal=(1, 0, 0))[0]
    assert rows(side.id, wall.id)["Gap"] == "23 mm"
    assert rows(side.id, wall.id)["Angle"] == "0°"
    assert rows(top.id, wall.id)["Angle"] == "90°"
    assert rows(top.id, side.id)["Gap"] == "touching"
    assert rows(top.id, side.id)["Angle"] == "90°"
    found = describe_pick(model.snapshot, model.geometry, [top.id, corners[0, 0, 0]])
    assert found.subject == "1 face and 1 corner"
    assert found.summary.kind == "mixed"
