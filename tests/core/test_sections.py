"""Sections of bodies and meshes as curves, fitted within a deviation."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.mending.sections import mesh_chains
from ravine.core.model.sketch_regions import regions_of_sketch
from ravine.core.model.trimesh_body import TriangleMesh
from ravine.core.sketch.entities import Plane
from ravine.core.sketch.fitting import Wanted, fit
from tests.core.test_sketch_edits import Desk
from tests.parts import boss_block, model_of


def slot(length: float, radius: float, count: int) -> np.ndarray:
    """The outline of a slot as many short segments, straight ones as well."""
    turn = np.linspace(-np.pi / 2, np.pi / 2, count)
    right = np.column_stack([length / 2 + radius * np.cos(turn), radius * np.sin(turn)])
    left = -right
    sides = np.linspace(0, 1, 40)[1:-1, None]
    ring = np.vstack([right, right[-1] + sides * (left[0] - right[-1]), left, left[-1] + sides * (right[0] - left[-1])])
    return np.vstack([ring, ring[:1]])


@settings(max_examples=40, deadline=None)
@given(st.floats(5, 80), st.floats(1, 20), st.integers(24, 400))
def test_a_slot_of_many_segments_becomes_two_lines_and_two_arcs(length: float, radius: float, count: int) -> None:
    found = fit([slot(length, radius, count)], Wanted(1e-4))
    assert sorted(s.kind for s in found.strokes) == ["arc", "arc", "line", "line"]
    assert [s.size for s in found.strokes if s.kind == "arc"] == pytest.approx([radius, radius], rel=1e-6)
    assert found.off <= 1e-4


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10**6), st.sampled_from([1e-3, 1e-2, 0.1]), st.booleans())
def test_no_place_lies_further_off_than_is_told_and_asked(seed: int, deviation: float, splines: bool) -> None:
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 2 * np.pi, 400)
    radius = 20 + sum(rng.normal(0, 1.5 / k) * np.cos(k * t + rng.uniform(0, 6)) for k in range(1, 6))
    ring = np.column_stack([radius * np.cos(t), radius * np.sin(t)])
    ring[-1] = ring[0]
    found = fit([ring], Wanted(deviation, splines=splines))
    assert found.off <= deviation
    assert len(found.strokes) < 400
    more = fit([ring], Wanted(deviation / 8, splines=splines))
    if not splines:
        assert len(more.strokes) >= len(found.strokes)


def test_a_ring_becomes_one_circle_and_noise_is_smoothed() -> None:
    t = np.linspace(0, 2 * np.pi, 200)
    noise = np.random.default_rng(1).uniform(-0.01, 0.01, 200)
    ring = np.column_stack([(7 + noise) * np.cos(t), (7 + noise) * np.sin(t)])
    ring[-1] = ring[0]
    (circle,) = fit([ring], Wanted(0.02)).strokes
    assert (circle.kind, circle.size) == ("circle", pytest.approx(7, abs=2e-3))
    assert len(fit([ring], Wanted(0.001)).strokes) > 10


@settings(max_examples=25, deadline=None)
@given(st.floats(-9.5, 9.5), st.floats(-1, 1), st.floats(-1, 1))
def test_sections_of_a_mesh_have_the_area_of_the_formula(height: float, a: float, b: float) -> None:
    ball = trimesh.creation.icosphere(4, 10)
    mesh = TriangleMesh(np.array(ball.vertices), np.array(ball.faces, np.int32))
    normal = np.array([a, b, 1.5])
    normal /= np.linalg.norm(normal)
    x = np.cross(normal, [1.0, 0, 0])
    x /= np.linalg.norm(x)
    plane = Plane(tuple(height * normal), tuple(x), tuple(np.cross(normal, x)))
    (ring,) = mesh_chains(mesh, plane)
    assert np.array_equal(ring[0], ring[-1])
    u, v = ring.T
    area = abs(float(u[:-1] @ v[1:] - u[1:] @ v[:-1])) / 2
    assert area == pytest.approx(math.pi * (100 - height**2), abs=4.0)


def test_a_body_is_cut_with_a_sketch_and_the_areas_pull_back_to_its_volume(tmp_path) -> None:
    model, body = model_of(tmp_path, boss_block())
    desk = Desk(model)
    sketch = desk.begin(plane="xy", offset=5)
    change = model.do("section curves", sketches=[sketch], parts=[model.nodes()[0]])
    assert sorted(c.kind for c in desk.of(sketch).curves.values()) == ["circle", "line", "line", "line", "line"]
    assert change.fact("off") < 1e-6
    area = max(a.amount for a in regions_of_sketch(desk.of(sketch)))
    assert area == pytest.approx(60 * 40 - 16 * math.pi, rel=1e-9)
    with pytest.raises(EditError, match="no part lies in the plane"):
        model.do("section curves", sketches=[desk.begin(plane="xy", offset=500)])
    assert body


def test_a_mesh_is_rebuilt_from_sections(tmp_path) -> None:
    """Cone frustum from a mesh: three sections, three circles, a loft of the right volume."""
    cone = trimesh.creation.revolve(np.array([[0, 0], [20, 0], [10, 60], [0, 60]]), sections=180)
    (tmp_path / "c.stl").write_bytes(cone.export(file_type="stl"))
    model = Model()
    model.do("import", path=str(tmp_path / "c.stl"), units="mm")
    desk = Desk(model)
    areas = []
    for height in (0.5, 30, 59.5):
        sketch = desk.begin(plane="xy", offset=height)
        change = model.do("section curves", sketches=[sketch], deviation="0.05")
        assert (change.fact("curves"), change.fact("segments")) == (1, pytest.approx(180, abs=185))
        areas.append(desk.area(sketch))
    body = model.do("loft", areas=areas, way="apart").added[0]
    r, q = 20 - 0.5 / 6, 20 - 59.5 / 6
    assert model.measure(body).volume == pytest.approx(math.pi * 59 / 3 * (r * r + q * q + r * q), rel=2e-3)


def test_short_lines_in_a_sketch_are_simplified() -> None:
    desk = Desk()
    sketch = desk.begin()
    ring = slot(40, 10, 60)
    desk.draw(sketch, "line", " ".join(f"{x:.9g},{y:.9g}" for x, y in ring[:90]))
    lines = [f"c{n}" for n, c in desk.of(sketch).curves.items() if c.kind == "line"]
    change = desk.model.do("simplify curves", curves=lines, deviation="0.001")
    assert change.fact("curves") == 2
    assert change.fact("off") <= 0.001
    assert sorted(c.kind for c in desk.of(sketch).curves.values()) == ["arc", "line"]
    with pytest.raises(EditError, match="is no straight line"):
        desk.model.do("simplify curves", curves=[f"c{n}" for n in desk.of(sketch).curves])
