"""Maps against what formulas say."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import Cancelled, EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.tessellate import view_deflection
from ravine.core.maps.body_map import map_of
from ravine.core.maps.figures import Deviation, Thickness, curvature, draft
from ravine.core.maps.patches import FINE, fine_patches, view_triangles
from ravine.core.maps.plane_cells import fan
from ravine.core.maps.refined import ROUNDS, refined
from ravine.core.maps.tree import TriangleTree, to_triangle
from ravine.core.model.geometry import Solid
from tests.parts import model_of, step_file


@settings(max_examples=20, deadline=None)
@given(st.integers(1, 200), st.integers(0, 10_000))
def test_the_tree_finds_what_trying_every_triangle_finds(count: int, seed: int) -> None:
    chance = np.random.default_rng(seed)
    corners = chance.uniform(-10, 10, (count, 1, 3)) + chance.uniform(-2, 2, (count, 3, 3))
    places = chance.uniform(-12, 12, (40, 3))
    tree = TriangleTree(corners)
    away, which = tree.nearest(places)
    tried = np.array([to_triangle(np.repeat(p[None], count, axis=0), corners).min() for p in places])
    assert away == pytest.approx(tried)
    assert to_triangle(places, corners[which]) == pytest.approx(tried)
    ways = chance.normal(size=(40, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    start = np.full(40, 1e-9)
    met = tree.first_hits(places, ways, start)
    alone = np.min([TriangleTree(corners[k : k + 1]).first_hits(places, ways, start) for k in range(count)], axis=0)
    assert np.array_equal(np.isfinite(met), np.isfinite(alone))
    assert met[np.isfinite(met)] == pytest.approx(alone[np.isfinite(met)])


@settings(max_examples=4, deadline=None)
@given(st.floats(1, 4), st.floats(0.5, 3))
def test_walls_of_a_box_and_a_tube(wall: float, bottom: float) -> None:
    tray = Solid(
        build.subtract(build.box(40, 30, 20), build.box(40 - 2 * wall, 30 - 2 * wall, 30, (wall, wall, bottom)))
    )
    patches = fine_patches(tray)
    found = Thickness(tray)(patches)
    inner = patches.middles
    sides = (
        (np.abs(patches.normals[:, 0]) > 0.9)
        & (inner[:, 2] > bottom + 0.01)
        & (inner[:, 1] > wall)
        & (inner[:, 1] < 30 - wall)
    )
    assert np.abs(found[sides] - wall).max() < 1e-9
    floor = (patches.normals[:, 2] > 0.9) & (inner[:, 2] < bottom + 0.01)
    assert np.abs(found[floor] - bottom).max() < 1e-9
    tube = Solid(build.subtract(build.cylinder(20, 30), build.cylinder(20 - wall, 40, (0, 0, -5))))
    patches = fine_patches(tube)
    round_ = np.abs(patches.normals[:, 2]) < 0.5
    off = float(np.abs(Thickness(tube)(patches)[round_] - wall).max())
    assert off < 0.1


@settings(max_examples=4, deadline=None)
@given(st.floats(0.5, 20))
def test_draft_of_a_cone_and_curvature_of_round_things(degrees: float) -> None:
    height = 30.0
    cone = Solid(build.cone(20, 20 - height * np.tan(np.radians(degrees)) * 0.5, height))
    patches = fine_patches(cone)
    lean = np.degrees(np.arctan(0.5 * np.tan(np.radians(degrees))))
    wall = np.abs(patches.normals[:, 2]) < 0.9
    assert np.abs(draft(patches, np.array([0.0, 0, 1]))[wall] - lean).max() < 1e-6
    for shape, radius in ((build.sphere(degrees), degrees), (build.cylinder(degrees, 50), degrees)):
        solid = Solid(shape)
        patches = fine_patches(solid)
        found = curvature(solid, patches)
        assert np.abs(np.abs(found[np.abs(found) > 1e-9]) * radius - 1).max() < 1e-4
    ring = Solid(build.torus(20, 5))
    patches = fine_patches(ring)
    assert np.abs(curvature(ring, patches)).max() == pytest.approx(1 / 5, rel=1e-4)


def test_deviation_between_a_ball_and_a_larger_one() -> None:
    small, large = Solid(build.sphere(10)), Solid(build.sphere(10.5))
    found = Deviation(view_triangles(large)[0])(fine_patches(small))
    off = float(np.abs(found + 0.5).max())
    assert off < 2 * view_deflection(large.shape)


def test_a_map_of_a_part_where_it_stands(tmp_path) -> None:
    model, _ = model_of(tmp_path, build.box(10, 10, 2))
    node = model.nodes("Part")[0]
    model.do("move body", parts=[node], along="x", distance=50, angle="90 deg")
    packed = map_of(model.snapshot, model.geometry, "walls", [node]).packed()
    size = int.from_bytes(packed[4:8], "little")
    head = json.loads(packed[8 : 8 + size])
    assert head["low"] == pytest.approx(2)
    corners = np.frombuffer(packed, "<f4", 9 * head["count"], 8 + size).reshape(-1, 3)
    assert corners[:, 0].min() == pytest.approx(50, abs=1e-4)
    assert np.ptp(corners[:, 1]) == pytest.approx(2, abs=1e-4)
    with pytest.raises(EditError, match="two parts"):
        map_of(model.snapshot, model.geometry, "deviation", [node])
    model.do("import", path=str(step_file(tmp_path / "other.step", build.box(10, 10, 2))))
    (other,) = model.nodes("other")
    found = map_of(model.snapshot, model.geometry, "deviation", [other, node])
    assert np.abs(found.values).max() > 30
    with pytest.raises(EditError, match="no map"):
        map_of(model.snapshot, model.geometry, "heat", [node])
    inch = Model(units="in")
    inch.do("import", path=str(step_file(tmp_path / "inch.step", build.box(25.4, 25.4, 12.7))))
    assert map_of(inch.snapshot, inch.geometry, "walls", inch.nodes()).packed()
    assert np.nanmin(map_of(inch.snapshot, inch.geometry, "walls", inch.nodes()).values) == pytest.approx(0.5)


def test_stripes_have_the_exact_normals_where_the_part_stands(tmp_path) -> None:
    model, _ = model_of(tmp_path, build.cylinder(8, 20))
    (node,) = model.nodes()
    model.do("move body", parts=[node], along="x", distance=50, angle="90 deg")  # its axis comes to lie along Y
    found = map_of(model.snapshot, model.geometry, "stripes", [node])
    assert found.normals is not None
    rows = (np.abs(found.normals[..., 1]) < 0.5).all(axis=1)  # of the round wall
    out = found.corners[rows] - np.array([50.0, 0.0, 10.0])
    out[..., 1] = 0
    out /= np.linalg.norm(out, axis=2, keepdims=True)
    assert np.abs(found.normals[rows] - out).max() < 1e-6
    head = json.loads(found.packed()[8 : 8 + int.from_bytes(found.packed()[4:8], "little")])
    assert head["normals"] is True
    assert len(found.packed()) == 8 + int.from_bytes(found.packed()[4:8], "little") + head["count"] * (36 + 4 + 36)


def test_a_map_tells_how_far_it_is_and_stops_when_told(tmp_path) -> None:
    model, _ = model_of(tmp_path, build.fillet(build.box(60, 50, 40), 8, lambda e: True))
    (node,) = model.nodes()
    said: list[float] = []
    map_of(model.snapshot, model.geometry, "walls", [node], progress=lambda share, words: said.append(share))
    assert said == sorted(said)
    assert len(said) > 3
    assert said[-1] < 1

    def stop(share: float, words: str) -> None:
        if share > 0.3:
            raise Cancelled("stopped; nothing changed")

    with pytest.raises(Cancelled):
        map_of(model.snapshot, model.geometry, "walls", [node], progress=stop)


def test_where_the_wall_jumps_the_border_is_drawn_fine() -> None:
    """A plate over a pocket that ends at x = 23: patches that lie on both sides of it are what looks torn."""
    plate = Solid(build.subtract(build.box(60, 40, 10), build.box(23, 60, 6, (0, -10, 0))))
    measure = Thickness(plate)
    rough = fine_patches(plate)
    fine, values = refined(plate, rough, measure(rough), measure)

    shares = [(i / 12, j / 12, (12 - i - j) / 12) for i in range(1, 12) for j in range(1, 12 - i)]

    def torn(patches, values) -> float:
        """mm² of the top that are shown with the wall of the other side."""
        top = (patches.normals[:, 2] > 0.9) & (patches.middles[:, 2] > 9.9)
        corners = fan(patches.corners[top])
        area = np.linalg.norm(np.cross(*(corners[:, :, k] - corners[:, :, 0] for k in (1, 2))), axis=2) / 2
        places = np.einsum("sk,nfk->nfs", np.array(shares), corners[..., 0])
        wrong = (places < 23) != (values[top] < 7)[:, None, None]
        return float((wrong.mean(axis=2) * area).sum())

    finest = 60 / FINE / 2**ROUNDS
    assert torn(fine, values) <= 40 * finest / 2 < torn(rough, measure(rough)) / 2
    assert len(values) < 3 * len(rough.faces)
    top = (fine.normals[:, 2] > 0.9) & (fine.middles[:, 2] > 9.9)
    assert values[top] == pytest.approx(np.where(fine.middles[top][:, 0] < 23, 4.0, 10.0))
    corners = fan(fine.corners).reshape(-1, 3, 3)
    areas = np.linalg.norm(np.cross(*(corners[:, k] - corners[:, 0] for k in (1, 2))), axis=1) / 2
    assert areas.sum() == pytest.approx(2 * 60 * 40 + 2 * 40 * 10 + 2 * (60 * 10 - 23 * 6), rel=1e-9)


def test_an_even_wall_is_not_cut_finer() -> None:
    box = Solid(build.box(30, 30, 30))
    measure = Thickness(box)
    rough = fine_patches(box)
    fine, values = refined(box, rough, measure(rough), measure)
    assert len(fine.faces) == len(rough.faces) == len(values)
