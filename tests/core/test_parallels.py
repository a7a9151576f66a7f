"""Curves set off: wherever a parallel is looked at, it is as far from its chain as was asked (by an independent reader
of distances), on the side that was asked."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon, polygonize, set_precision, unary_union

from ravine.core import EditError, Model
from ravine.core.sketch.plane_curves import plane_curve


def drawn(*shapes):
    """A sketch with these drawn: (shape, places, further values)."""
    model = Model()
    model.do("sketch", plane="xy")
    for shape, places, more in shapes:
        model.do("draw", sketch=[f"s{max(model.snapshot.sketches)}"], shape=shape, places=places, **more)
    return model


def curves(model):
    (sketch,) = model.snapshot.sketches.values()
    return {c.id: plane_curve(sketch, c) for c in sketch.curves.values() if plane_curve(sketch, c) is not None}


def sampled(flat, count=400):
    return flat.at(np.linspace(flat.first, flat.last, count))


def chain(model):
    """All that is drawn, as one geometry of short lines."""
    return unary_union([LineString(sampled(c, 2000)) for c in curves(model).values()])


def set_off(model, distance, **more):
    """The new curves' places (n, 2), and the chain before."""
    before, known = chain(model), set(curves(model))
    model.do("set off", curve=[f"c{min(known)}"], distance=f"{distance!r} mm", **more)
    fresh = [flat for number, flat in curves(model).items() if number not in known]
    return before, fresh


def distances(before, fresh):
    return np.array([before.distance(Point(p)) for flat in fresh for p in sampled(flat, 60)])


zigzags = st.lists(st.tuples(st.floats(8, 20), st.floats(-1.2, 1.2)), min_size=2, max_size=6)


@given(zigzags, st.floats(0.2, 1.5), st.sampled_from([1, -1]))
@settings(max_examples=25, deadline=None)
def test_a_chain_of_lines_with_round_corners(steps, size, side):
    at, heading, places = np.zeros(2), 0.0, [np.zeros(2)]
    for length, turn in steps:
        heading += turn
        at = at + length * np.array([math.cos(heading), math.sin(heading)])
        places.append(at)
    line = LineString(places)
    assume(line.is_simple and line.buffer(2 * size).exterior.is_simple and not line.buffer(2 * size).interiors)
    assume(all(line.distance(Point(p)) < 1e-9 for p in places))
    model = drawn(("line", " ".join(f"{x:.6f},{y:.6f}" for x, y in places), {}))
    before, fresh = set_off(model, side * size, corners="round")
    away = distances(before, fresh)
    assert away.max() < size + 1e-5
    assert away.min() > size - 1e-5
    first = np.array(places[1]) - places[0]
    start = sampled(fresh[0], 2)[0] - places[0]
    assert np.sign(first[0] * start[1] - first[1] * start[0]) == side, "to the left for a positive distance"


@given(st.floats(20, 60), st.floats(0.3, 3))
@settings(max_examples=20, deadline=None)
def test_a_sharp_corner_reaches_where_the_two_lines_meet(degrees, size):
    turn = math.radians(degrees)
    model = drawn(("line", f"0,0 30,0 {30 + 30 * math.cos(turn):.9f},{30 * math.sin(turn):.9f}", {}))
    before, fresh = set_off(model, -size)
    away = distances(before, fresh)
    assert away.min() == pytest.approx(size, abs=1e-6)
    assert away.max() == pytest.approx(size / math.cos(turn / 2), rel=1e-6)


SINGLE = {
    "a circle": (("circle", "3,4", {"size": "10"}), (2.5, -2.5)),
    "an ellipse": (("ellipse", "0,0 20,0 0,9", {}), (2.0, -2.0)),
    "a spline": (("spline", "0,0 10,8 22,3 35,12 50,0", {}), (1.5, -1.5)),
    "an arc": (("arc", "10,0 0,10 7,7", {}), (3.0, -3.0)),
}


@pytest.mark.parametrize("name", SINGLE)
def test_one_curve_alone(name):
    shape, sizes = SINGLE[name]
    for size in sizes:
        model = drawn(shape)
        before, fresh = set_off(model, size)
        away = distances(before, fresh)
        assert away.max() < abs(size) + 2e-3, (name, size)
        assert away.min() > abs(size) - 2e-3


@pytest.mark.parametrize("size", [1.25, -1.25])
def test_an_ellipse_grows_outwards_and_shrinks_inwards(size):
    model = drawn(("ellipse", "0,0 20,0 0,9", {}))
    _, fresh = set_off(model, size)
    area = Polygon(np.vstack([sampled(flat, 4000) for flat in fresh])).area
    whole = Polygon(sampled(next(iter(curves(drawn(("ellipse", "0,0 20,0 0,9", {}))).values())), 8000))
    assert area == pytest.approx(whole.buffer(size, quad_segs=400).area, rel=2e-4)


@pytest.mark.parametrize(("ends", "extra"), [("straight", 0.0), ("round", math.pi)])
def test_both_sides_at_once_make_a_wall(ends, extra):
    """Its area: length × width, and two half rounds where the ends are round."""
    model = drawn(("line", "0,0 40,0", {}))
    _, fresh = set_off(model, 3, sides="both", ends=ends)
    ring = unary_union([LineString(sampled(flat, 800)) for flat in fresh])
    (wall,) = polygonize([set_precision(ring, 1e-5)]).geoms
    assert wall.area == pytest.approx(40 * 6 + extra * 9, rel=1e-5)


def test_a_chain_of_a_line_an_arc_and_a_line_keeps_its_pieces():
    model = drawn(("line", "0,0 20,0", {}))
    (sketch,) = model.snapshot.sketches.values()
    for shape, start, to in (("arc going on", (20, 0), "28,8"), ("line", (28, 8), "28,25")):
        points = model.snapshot.sketch(sketch.id).points
        end = next(n for n, at in points.items() if math.dist(at, start) < 1e-9)
        model.do("draw", sketch=[f"s{sketch.id}"], shape=shape, places=f"p{end} {to}")
    before, fresh = set_off(model, 2)
    assert len(fresh) == 3
    away = distances(before, fresh)
    assert away.min() == pytest.approx(2, abs=1e-5)
    assert away.max() == pytest.approx(2, abs=1e-5)


NONE = [
    (("circle", "0,0", {"size": "5"}), -5, "vanish"),
    (("arc about", "0,0 4,0 0,4", {}), 4.5, "vanish"),
    (("spline", "0,0 10,8 22,3 35,12 50,0", {}), 60, "bends more sharply than that; up to"),
    (("ellipse", "0,0 20,0 0,5", {}), -4, "bends more sharply than that; up to"),
]


@pytest.mark.parametrize(("shape", "size", "words"), NONE, ids=[w + " " + s[0] for s, _, w in NONE])
def test_a_parallel_that_would_fold_over_is_refused_with_the_most_that_works(shape, size, words):
    model = drawn(shape)
    before = model.snapshot
    with pytest.raises(EditError, match=words) as told:
        set_off(model, size)
    assert model.snapshot is before
    if told.value.nearest:
        set_off(model, float(told.value.nearest.split()[0]))
