"""Gaps and overlaps where one of two parts is a mesh: against boxes and balls, whose distances are known."""

from __future__ import annotations

import math

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import Model
from ravine.core.clearance.meshes import Skin, nearest_on, shared_place, way_between, winding
from ravine.core.formats import stl
from ravine.core.kernel import build
from tests.parts import step_file

places = st.tuples(*[st.floats(-30, 30)] * 3)


def skin(mesh):
    return Skin.of(np.asarray(mesh.vertices, float), np.asarray(mesh.faces))


def box(size, at=(0, 0, 0), turn=0.0):
    mesh = trimesh.creation.box(size)
    mesh.apply_transform(trimesh.transformations.rotation_matrix(turn, (1, 2, 3)))
    mesh.apply_translation(at)
    return mesh


@given(places, st.lists(places, min_size=3, max_size=3))
@settings(max_examples=60, deadline=None)
def test_the_nearest_place_of_a_triangle(place, corners):
    """Against an independent reader, and no farther than a net of its places."""
    p, triangle = np.array(place), np.array(corners)
    found = nearest_on(p, triangle)
    theirs = trimesh.triangles.closest_point(triangle[None], p[None])[0]
    if np.linalg.norm(np.cross(triangle[1] - triangle[0], triangle[2] - triangle[0])) > 1e-3:
        assert np.linalg.norm(found - p) == pytest.approx(np.linalg.norm(theirs - p), abs=1e-6)
    net = [(1 - u - v) * triangle[0] + u * triangle[1] + v * triangle[2]
           for u in np.linspace(0, 1, 9) for v in np.linspace(0, 1, 9) if u + v <= 1]  # fmt: skip
    assert np.linalg.norm(found - p) <= min(np.linalg.norm(n - p) for n in net) + 1e-9


@given(places)
@settings(max_examples=40, deadline=None)
def test_a_closed_skin_winds_once_about_what_is_inside(place):
    mesh = box((20, 14, 8), turn=0.7)
    inner = np.linalg.inv(trimesh.transformations.rotation_matrix(0.7, (1, 2, 3)))[:3, :3] @ np.array(place)
    away = np.abs(np.abs(inner) - (10, 7, 4)).min()
    if away > 1e-3:
        inside = bool((np.abs(inner) < (10, 7, 4)).all())
        assert winding(np.array([place]), mesh.triangles)[0] == pytest.approx(float(inside), abs=1e-9)


def test_a_skin_with_a_hole_still_tells_what_is_deep_inside():
    ball = trimesh.creation.icosphere(3, 10)
    open_ = ball.triangles[ball.triangles_center[:, 2] < 8]
    inside, outside = winding(np.array([[0, 0, 0], [0, 0, 14]]), open_)
    assert inside > 0.8
    assert outside < 0.3


CASES = {
    "far off": ((30, 0, 0), 0.0, False),
    "side by side": ((20, 0, 0), 0.0, False),
    "a corner in": ((19, 13, 7), 0.0, True),
    "wholly inside": ((0, 0, 0), 0.0, True),
    "through one another, with no corner inside": ((0, 0, 0), math.pi / 2, True),
}


@pytest.mark.parametrize("name", CASES)
def test_two_boxes_share_room_or_do_not(name):
    at, turn, shared = CASES[name]
    small = name == "wholly inside"
    if turn:
        one, other = box((40, 6, 6)), box((6, 40, 6.5))
    else:
        one, other = box((20, 14, 8)), box((4, 4, 4) if small else (20, 14, 8), at)
    for a, b in ((one, other), (other, one)):
        found = shared_place(skin(a), skin(b))
        assert (found is not None) is shared
        if found is not None:
            for mesh in (a, b):
                low, high = mesh.bounds
                assert (low <= np.array(found) + 1e-9).all()
                assert (np.array(found) - 1e-9 <= high).all()


@given(st.floats(0.5, 12), st.floats(-9, 9), st.floats(-6, 6))
@settings(max_examples=25, deadline=None)
def test_the_way_between_a_ball_and_a_wall(gap, x, y):
    """From the ball's lowest corner to the middle of a large triangle: not to its corners."""
    ball = trimesh.creation.icosphere(3, 5)
    low = -ball.vertices[:, 2].min()
    ball.apply_translation((x, y, gap + low))
    wall = box((60, 60, 2), (0, 0, -1))
    found, p, q = way_between(skin(ball), skin(wall))
    assert found == pytest.approx(gap, abs=1e-9)
    assert p[2] == pytest.approx(gap, abs=1e-9)
    assert q == pytest.approx((p[0], p[1], 0), abs=1e-9)


@pytest.fixture
def both(tmp_path):
    """A solid block of 20 × 14 × 8 about the origin, and a scanned box of 4 × 4 × 4 where it is asked for."""

    def made(at):
        model = Model()
        path = step_file(tmp_path / "block.step", build.box(20, 14, 8, (-10, -7, -4)), "Block")
        model.do("import", path=str(path))
        scan = tmp_path / "scan.stl"
        scan.write_bytes(stl.write(np.asarray(box((4, 4, 4), at).triangles)))
        model.do("import", path=str(scan), units="mm")
        return model

    return made


@pytest.mark.parametrize(
    ("at", "state", "gap"),
    [((0, 0, 0), "overlap", 0), ((9, 6, 3), "overlap", 0), ((12, 0, 0), "touching", 0), ((15, 0, 0), "clear", 3),
     ((15, 12, 9), "clear", math.sqrt(27))],
)  # fmt: skip
def test_a_scan_beside_a_solid_is_told_as_it_is(both, at, state, gap):
    (pair,) = both(at).study("clearance", within="20 mm")["pairs"]
    assert pair["state"] == state
    assert pair["gap"] == pytest.approx(gap, abs=1e-6)
    assert pair["about"] is True


def test_an_overlap_with_a_scan_stands_among_what_is_wrong(both):
    """It is told, without a volume that nobody knows."""
    found = both((9, 6, 3)).clearances()
    (overlap,) = [f for f in found if f.kind == "overlap"]
    assert overlap.words in ("Block and scan overlap", "scan and Block overlap")
    assert not [f for f in both((0, 0, 20)).clearances() if f.kind == "overlap"]
