import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, UnknownId
from ravine.core.kernel import build
from tests.parts import boss_block, drilled_block, model_of


def test_a_drilled_block_by_formula(tmp_path):
    model, body = model_of(tmp_path, drilled_block(40, 30, 20, 5))
    faces = model.faces(body)
    assert len(faces) == 7
    (wall,) = model.faces(body, kind="cylinder")
    assert wall.radius == pytest.approx(5)
    assert wall.area == pytest.approx(2 * math.pi * 5 * 20)
    assert abs(wall.axis[1][2]) == pytest.approx(1)
    assert wall.facts.hollow
    top = model.faces(body, normal=(0, 0, 1)).highest()
    assert top.area == pytest.approx(40 * 30 - math.pi * 25)
    assert top.centroid == pytest.approx((20, 15, 20))
    assert len(top.neighbours) == 5
    assert {e.convexity for e in top.edges} == {"convex"}
    measure = model.measure(body)
    assert measure.volume == pytest.approx((1200 - 25 * math.pi) * 20)
    assert measure.size == pytest.approx((40, 30, 20))
    assert measure.mass is None


def test_concave_and_tangent_edges(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    root = [e for e in model.edges(body) if e.kind == "circle" and e.radius == pytest.approx(10) and e.middle[2] < 11]
    assert [e.convexity for e in root] == ["concave"]
    rounded = build.fillet(build.box(30, 20, 10), 3, lambda e: abs(e.middle[0]) < 1e-9 and abs(e.middle[1]) < 1e-9)
    model, body = model_of(tmp_path, rounded, "rounded")
    (round_face,) = model.faces(body, kind="cylinder")
    assert round_face.radius == pytest.approx(3)
    assert not round_face.facts.hollow
    assert len(round_face.tangent_neighbours) == 2
    assert len(round_face.neighbours) == 4


def test_mass_and_inertia_of_a_box(tmp_path):
    model, body = model_of(tmp_path, build.box(30, 20, 10))
    node = model.nodes()[0]
    model.do("set material", parts=[node], material="structural steel")
    measure = model.measure(body)
    assert measure.mass == pytest.approx(30 * 20 * 10 * 1e-9 * 7850)
    assert measure.inertia[2][2] == pytest.approx(measure.mass * (30**2 + 20**2) / 12)
    assert measure.centroid == pytest.approx((15, 10, 5))


@pytest.mark.parametrize("units", ["mm", "cm", "in"])
def test_figures_come_in_model_units(tmp_path, units):
    scale = {"mm": 1, "cm": 10, "in": 25.4}[units]
    model, body = model_of(tmp_path, build.box(30, 20, 10), units=units)
    assert model.measure(body).volume == pytest.approx(6000 / scale**3)
    assert model.faces(body, normal=(0, 0, 1)).highest().centroid[2] == pytest.approx(10 / scale)


@settings(max_examples=15, deadline=None)
@given(st.floats(5, 80), st.floats(5, 80), st.floats(5, 80))
def test_every_box_measures_as_it_should(tmp_path_factory, x, y, z):
    model, body = model_of(tmp_path_factory.mktemp("box"), build.box(x, y, z))
    measure = model.measure(body)
    assert measure.volume == pytest.approx(x * y * z, rel=1e-9)
    assert measure.area == pytest.approx(2 * (x * y + y * z + z * x), rel=1e-9)
    assert all(e.convexity == "convex" for e in model.edges(body))


def test_ids_that_are_wrong_or_ended_say_so(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    for wrong in ("x1", "f", "f-1", "", "f99999", 5):
        with pytest.raises(UnknownId):
            model.face(wrong)
    with pytest.raises(EditError, match="not a face"):
        model.face(body)
    top = model.faces(body, normal=(0, 0, 1)).highest()
    model.do("push", faces=[top.id], distance=-12)  # the boss is gone, and with it its wall
    wall = next(f for f in model._states[0 + 1].bodies.values()).faces
    ended = [f"f{i}" for i in wall if i not in model.body(body).faces]
    assert ended
    with pytest.raises(UnknownId, match="an edit ended it"):
        model.face(ended[0])
