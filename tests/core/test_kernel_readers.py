"""What is read of shapes, at places and sizes drawn at random: areas, axes, insides, distances and sections, against
the formulas of the solids they are."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ravine.core.kernel import build
from ravine.core.kernel.classify import edge_box, holds, inner_place
from ravine.core.kernel.nearest import nearest
from ravine.core.kernel.properties import area_properties, bounding_box, edge_length
from ravine.core.kernel.queries import convexity, edge_facts, face_facts, place_on, vertex_point
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.kernel.slices import slice_faces
from ravine.core.kernel.volumes import volume_properties
from ravine.core.rigid import Rigid

unit = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: 0.2 < math.hypot(*v) < 2)
place = st.tuples(*[st.floats(-50, 50)] * 3)
size = st.floats(2, 20)
some = settings(max_examples=12, deadline=None)


@st.composite
def poses(draw):
    axis = np.array(draw(unit))
    return Rigid.slide(draw(place)) @ Rigid.about((0, 0, 0), axis / np.linalg.norm(axis), draw(st.floats(-3, 3)))


def moved(shape, pose):
    return build.moved(shape, pose)


def faces(shape):
    return [face_facts(f) for f in ShapeIndex(shape).all("face")]


def one(shape, kind):
    return next(f for f in faces(shape) if f.kind == kind)


def straight(a, b):
    """Whether two directions run alike or against one another."""
    return abs(float(np.dot(a, b))) == pytest.approx(1, abs=1e-9)


def off_line(point, origin, way):
    arm = np.subtract(point, origin)
    return float(np.linalg.norm(arm - (arm @ way) * np.asarray(way)))


# --- faces and edges ---------------------------------------------------------------------------------------------


@given(poses(), size, size)
@some
def test_a_cylinder(pose, r, h):
    wall = one(moved(build.cylinder(r, h), pose), "cylinder")
    assert wall.area == pytest.approx(2 * math.pi * r * h, rel=1e-9)
    assert wall.radius == pytest.approx(r, rel=1e-9)
    assert straight(wall.axis[1], pose.direction((0, 0, 1)))
    assert off_line(wall.axis[0], pose.point((0, 0, 0)), pose.direction((0, 0, 1))) < 1e-7
    assert np.allclose(wall.centroid, pose.point((0, 0, h / 2)), atol=1e-7)


@given(poses(), size, size, size)
@some
def test_a_cone(pose, r, q, h):
    assume(abs(r - q) > 0.5)
    shape = moved(build.cone(r, q, h), pose)
    wall = one(shape, "cone")
    assert wall.area == pytest.approx(math.pi * (r + q) * math.hypot(h, r - q), rel=1e-7)
    assert straight(wall.axis[1], pose.direction((0, 0, 1)))
    assert volume_properties(shape).amount == pytest.approx(math.pi * h / 3 * (r * r + r * q + q * q), rel=1e-9)


@given(poses(), st.floats(6, 20), st.floats(0.5, 5))
@some
def test_a_torus_and_a_ball(pose, major, minor):
    shape = moved(build.torus(major, minor), pose)
    assert one(shape, "torus").area == pytest.approx(4 * math.pi**2 * major * minor, rel=1e-7)
    assert volume_properties(shape).amount == pytest.approx(2 * math.pi**2 * major * minor**2, rel=1e-7)
    ball = moved(build.sphere(minor), pose)
    assert one(ball, "sphere").radius == pytest.approx(minor, rel=1e-9)
    found = volume_properties(ball)
    assert found.amount == pytest.approx(4 / 3 * math.pi * minor**3, rel=1e-9)
    assert np.allclose(found.centroid, pose.point((0, 0, 0)), atol=1e-7)
    assert np.allclose(found.inertia, np.eye(3) * 0.4 * found.amount * minor**2, rtol=1e-6, atol=1e-6)


@given(poses(), size, size, size)
@some
def test_a_box_and_its_moments(pose, a, b, c):
    shape = moved(build.box(a, b, c, (-a / 2, -b / 2, -c / 2)), pose)
    rows = faces(shape)
    assert sorted(f.area for f in rows) == pytest.approx(sorted([a * b, a * b, b * c, b * c, a * c, a * c]), rel=1e-9)
    for f in rows:
        out = np.subtract(f.centroid, pose.point((0, 0, 0)))
        assert float(out @ np.asarray(f.normal)) == pytest.approx(np.linalg.norm(out), rel=1e-9), (
            "normals look outwards"
        )
    found = volume_properties(shape)
    own = found.amount / 12 * np.diag([b * b + c * c, a * a + c * c, a * a + b * b])
    assert np.allclose(found.inertia, pose.turn @ own @ pose.turn.T, rtol=1e-6, atol=1e-6 * found.amount)
    index = ShapeIndex(shape)
    assert {convexity(index, k) for k in range(index.count("edge"))} == {"convex"}
    assert sum(edge_length(e) for e in index.all("edge")) == pytest.approx(4 * (a + b + c), rel=1e-9)
    assert area_properties(shape).amount == pytest.approx(2 * (a * b + b * c + c * a), rel=1e-9)


@given(poses(), size, st.floats(0, 1))
@some
def test_a_place_at_a_share_of_an_edge(pose, r, share):
    """On a circle it is turned by that share, on a line it lies between the ends; the direction there is that of the
    edge."""
    shape = moved(build.cylinder(r, 10), pose)
    for edge in ShapeIndex(shape).all("edge"):
        facts = edge_facts(edge)
        at, way = place_on(edge, share)
        assert math.hypot(*way) == pytest.approx(1, abs=1e-9)
        if facts.kind == "circle":
            assert math.dist(at, facts.axis[0]) == pytest.approx(r, rel=1e-7)
            assert abs(float(np.dot(way, facts.axis[1]))) < 1e-9
        else:
            a, b = facts.ends
            assert math.dist(a, at) + math.dist(at, b) == pytest.approx(math.dist(a, b), rel=1e-9)
        low, high = edge_box(edge)[:3], edge_box(edge)[3:]
        assert (np.array(at) >= low - 1e-6).all()
        assert (np.array(at) <= high + 1e-6).all()


# --- insides and boxes -------------------------------------------------------------------------------------------


@given(poses(), size, size, st.lists(place, min_size=6, max_size=6))
@some
def test_what_lies_inside(pose, r, h, tried):
    shape, back = moved(build.cylinder(r, h), pose), pose.inverse
    for p in tried:
        at = pose.point(np.array(p) * 0.4)  # near it
        x, y, z = back.point(at)
        away = min(abs(math.hypot(x, y) - r), abs(z), abs(z - h))
        if away > 1e-4:
            assert holds(shape, at) is (math.hypot(x, y) < r and 0 < z < h)


@given(poses(), size)
@some
def test_a_place_within_a_face_lies_on_it_and_off_its_border(pose, r):
    shape = moved(build.subtract(build.box(50, 50, 8, (-25, -25, 0)), build.cylinder(r, 10, (0, 0, -1))), pose)
    for face in ShapeIndex(shape).all("face"):
        at = inner_place(face)
        assert at is not None
        x, y, z = pose.inverse.point(at)
        assert min(abs(z), abs(z - 8), abs(abs(x) - 25), abs(abs(y) - 25), abs(math.hypot(x, y) - r)) < 1e-6
        assert math.hypot(x, y) > r - 1e-6


@given(poses(), size, size, size)
@some
def test_a_bounding_box_is_that_of_the_corners(pose, a, b, c):
    shape = moved(build.box(a, b, c), pose)
    corners = np.array([vertex_point(v) for v in ShapeIndex(shape).all("vertex")])
    box = bounding_box(shape)
    assert np.allclose(box.low, corners.min(axis=0), atol=1e-6)
    assert np.allclose(box.high, corners.max(axis=0), atol=1e-6)


# --- distances and sections --------------------------------------------------------------------------------------


@given(place, place, st.floats(1, 8), st.floats(1, 8))
@some
def test_the_way_between_two_balls(p, q, r, s):
    far = math.dist(p, q)
    assume(far > r + s + 0.1)
    gap, a, b = nearest(build.sphere(r, p), build.sphere(s, q))
    assert gap == pytest.approx(far - r - s, abs=1e-6)
    assert math.dist(a, p) == pytest.approx(r, abs=1e-5)
    assert math.dist(b, q) == pytest.approx(s, abs=1e-5)


@given(poses(), size, st.floats(0.5, 30))
@some
def test_the_way_from_a_cylinder_to_a_plate_over_it(pose, r, gap):
    wall, plate = build.cylinder(r, 12), build.box(80, 80, 4, (-40, -40, 12 + gap))
    found, a, b = nearest(moved(wall, pose), moved(plate, pose))
    assert found == pytest.approx(gap, abs=1e-7)
    assert math.dist(a, b) == pytest.approx(gap, abs=1e-7)


@given(poses(), size, st.floats(-0.95, 0.95))
@some
def test_a_section_of_a_ball_with_a_bore(pose, r, share):
    """A ring: π (r² − z²) without the bore's circle."""
    bore, z = r / 4, share * r
    assume(r * r - z * z > 1.2 * bore * bore)
    shape = moved(build.subtract(build.sphere(r), build.cylinder(bore, 2 * r + 2, (0, 0, -r - 1))), pose)
    cut = slice_faces(shape, pose.point((0, 0, z)), pose.direction((1, 0, 0)), pose.direction((0, 0, 1)))
    area = sum(area_properties(f).amount for f in cut)
    assert area == pytest.approx(math.pi * (r * r - z * z - bore * bore), rel=1e-6)
