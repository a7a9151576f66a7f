"""Lines of views against exact projections: of simple solids, and of boxes one before the other, by plane polygons."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from shapely import unary_union
from shapely.geometry import box as rectangle

from ravine.core.drawing.meshes.lines import mesh_lines
from ravine.core.drawing.projection import ViewFrame
from ravine.core.drawing.screen import Screen
from ravine.core.drawing.view_lines import ViewLine, lines_of
from ravine.core.kernel import build
from ravine.core.kernel.queries import edge_facts
from ravine.core.kernel.shapes import ShapeIndex
from ravine.core.sketch.loops import polygon

FRONT, TOP = ((0, -1, 0), (1, 0, 0)), ((0, 0, 1), (1, 0, 0))
CORNER = (tuple(np.array([1, -1, 1]) / math.sqrt(3)), tuple(np.array([1, 1, 0]) / math.sqrt(2)))


def frame(eye, right, about=(0, 0, 0)):
    return ViewFrame(np.array(right, float), np.cross(eye, right), np.array(eye, float), np.array(about, float))


def seen(shapes, way, **more):
    return lines_of(shapes if isinstance(shapes, list) else [shapes], frame(*way), **more)


def length(line: ViewLine) -> float:
    c = line.curve
    if c.kind == "line":
        return c.radius
    t = np.linspace(c.first, c.last, 4001)
    return float(np.hypot(*np.diff(c.at(t), axis=0).T).sum())


def total(lines, visible=True):
    return sum(length(line) for line in lines if line.visible == visible)


def test_a_box_from_the_front_is_its_rectangle_and_from_a_corner_nine_edges():
    block = build.box(40, 30, 20)
    front = seen(block, FRONT, hidden=True)
    assert total(front) == pytest.approx(2 * (40 + 20))
    assert total(front, visible=False) == 0  # all else lies beneath
    corner = seen(block, CORNER, hidden=True)
    shrunk = math.sqrt(2 / 3)  # of every edge along an axis
    assert total(corner) == pytest.approx(3 * (40 + 30 + 20) * shrunk)
    assert total(corner, visible=False) == pytest.approx((40 + 30 + 20) * shrunk)


def test_every_line_lies_on_the_edge_it_names():
    part = build.subtract(
        build.box(40, 30, 20), build.cylinder(6, 60, (15, 12, -9)), build.cylinder(4, 60, (30, -5, 8), (0, 1, 0))
    )
    index = ShapeIndex(part)
    lines = seen(part, CORNER, hidden=True)
    view = frame(*CORNER)
    assert {line.number for line in lines if line.edge} == {
        n
        for n, e in enumerate(index.all("edge"))
        if len(set(index.faces_of_edges[n])) == 2 and edge_facts(e).length > 0
    }
    for line in lines:
        if line.edge:
            curve_ends = line.curve.at(np.array([line.curve.first, line.curve.last]))
            facts = edge_facts(index.get("edge", line.number))
            if facts.kind == "line":
                a, b = view.flat(np.array(facts.ends))
                off = curve_ends - a
                way = (b - a) / np.hypot(*(b - a))
                assert np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]).max() < 1e-9
            else:
                centre = view.flat(np.array(facts.axis[0]))[0]
                assert np.allclose(line.curve.centre, centre, atol=1e-9)
                assert np.hypot(*line.curve.x) == pytest.approx(facts.radius, abs=1e-9)


def test_round_things_keep_their_form():
    (rim,) = seen(build.cylinder(10, 30), TOP)
    assert (rim.curve.kind, rim.curve.radius) == ("round", pytest.approx(10))
    assert rim.curve.closed
    side = seen(build.cylinder(10, 30), FRONT)
    assert all(line.curve.kind == "line" for line in side)
    assert total(side) == pytest.approx(2 * (20 + 30), abs=1e-3)
    (ball,) = seen(build.sphere(7), CORNER)
    assert ball.curve.radius == pytest.approx(7, abs=1e-6)
    assert not ball.edge
    ring = seen(build.torus(20, 5), TOP)
    assert sorted(round(length(line) / (2 * math.pi), 3) for line in ring) == [15, 25]
    askew = [line.curve for line in seen(build.cylinder(10, 30), CORNER) if line.curve.kind == "ellipse"]
    assert {(round(float(np.hypot(*c.x)), 6), round(float(np.hypot(*c.y)), 6)) for c in askew} == {
        (10.0, round(10 / math.sqrt(3), 6))
    }


def test_hidden_lines_of_a_drilled_block_are_its_bore():
    part = build.subtract(build.box(40, 30, 20), build.cylinder(5, 60, (20, 15, -9)))
    front = seen(part, FRONT, hidden=True)
    hidden = [line for line in front if not line.visible]
    assert total(hidden, visible=False) == pytest.approx(2 * 20, abs=1e-3)
    assert sorted(round(float(line.curve.centre[0]), 3) for line in hidden) == [15, 25]


def test_edges_without_a_kink_are_drawn_where_asked():
    part = build.fillet(build.box(40, 30, 20), 4, lambda e: abs(e.middle[2] - 20) < 1e-6)
    plain, all_edges = seen(part, TOP), seen(part, TOP, smooth=True)
    assert not any(line.smooth for line in plain)
    smooth = [line for line in all_edges if line.smooth]
    assert total(smooth) >= 2 * (32 + 22) - 1e-3
    assert total(plain) == pytest.approx(2 * (40 + 30) + 4 * 4 * math.sqrt(2), abs=1e-3)  # with the four mitres


rectangles = st.lists(
    st.tuples(*(st.floats(0, 60) for _ in range(2)), *(st.floats(3, 40) for _ in range(2))), min_size=2, max_size=6
)


@settings(max_examples=25, deadline=None)
@given(rectangles)
def test_boxes_one_before_the_other_hide_what_polygons_say(rows):
    """Front k lies at depth 10 k; its outline is seen where no rectangle before it lies."""
    rows = [tuple(v + 0.013 * (k + 1) for v in row) for k, row in enumerate(rows)]  # no two edges on one line
    shapes = [build.box(w, 5, h, (x, 10 * k, z)) for k, (x, z, w, h) in enumerate(rows)]
    fronts = [rectangle(x, z, x + w, z + h) for x, z, w, h in rows]
    expected = sum(
        front.exterior.difference(unary_union(fronts[:k])).length if k else front.exterior.length
        for k, front in enumerate(fronts)
    )
    lines = seen(shapes, FRONT, hidden=True)
    assert total(lines) == pytest.approx(expected, abs=0.06 * len(rows))  # within the lean of the eye, 1e-3 × depth
    whole = sum(f.exterior.length for f in fronts)
    assert total(lines) + total(lines, visible=False) == pytest.approx(whole, abs=0.06 * len(rows))


def test_no_place_is_drawn_twice():
    part = build.unite(build.box(40, 30, 20), build.box(20, 15, 20, (10, 7.5, 20)), build.cylinder(5, 10, (20, 15, 40)))
    for way in (FRONT, TOP, CORNER):
        lines = [line for line in seen(part, way, hidden=True, smooth=True) if line.curve.kind == "line"]
        middles = np.array([line.curve.at(np.array([0.31]))[0] for line in lines])
        for k, line in enumerate(lines):
            c = line.curve
            off = middles - c.centre
            along = off @ c.x / float(c.x @ c.x)
            beside = np.hypot(*(off - along[:, None] * c.x).T)
            assert set(np.flatnonzero((beside < 1e-6) & (along > 1e-6) & (along < 1 - 1e-6))) == {k}


def test_a_chain_of_curves_is_one_ring():
    """Polygons of cut areas come from loops of curves; this guards the helper that they share with sketches."""
    assert polygon([line.curve for line in seen(build.cylinder(10, 30), TOP)]).shape[1] == 2


def screen(soup, *look):
    return Screen(soup, frame(*look).eye)


def test_a_mesh_is_drawn_by_kinks_and_where_it_turns_away():
    """A box of triangles as the exact one; a ball of facets as a ring of its size; what stands before it hides it."""
    corners = np.array([[x, y, z] for x in (0, 40) for y in (0, 30) for z in (0, 20)], float)
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    triangles = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))])
    soup = corners[triangles]
    found = mesh_lines(corners, triangles, screen(soup, *CORNER), frame(*CORNER))
    shrunk = math.sqrt(2 / 3)
    assert sum(c.radius for c, visible in found if visible) == pytest.approx(3 * 90 * shrunk, rel=0.01)
    assert sum(c.radius for c, visible in found if not visible) == pytest.approx(90 * shrunk, rel=0.03)

    wall = np.array([[[-5, -9, -5], [20, -9, -5], [20, -9, 30]], [[-5, -9, -5], [20, -9, 30], [-5, -9, 30]]], float)
    behind = mesh_lines(corners, triangles, screen(np.concatenate([soup, wall]), *FRONT), frame(*FRONT))
    seen_now = np.concatenate([c.at(np.array([0.0, 1.0])) for c, visible in behind if visible])
    assert seen_now[:, 0].min() == pytest.approx(20, abs=0.01)

    turns, lifts = np.meshgrid(np.linspace(0, 2 * math.pi, 49)[:-1], np.linspace(-math.pi / 2, math.pi / 2, 25))
    ball = 10 * np.column_stack(
        [(np.cos(turns) * np.cos(lifts)).ravel(), (np.sin(turns) * np.cos(lifts)).ravel(), np.sin(lifts).ravel()]
    )
    hull = ConvexHull(np.unique(np.round(ball, 9), axis=0))
    facets = hull.simplices.copy()
    places = hull.points
    inward = (
        np.cross(places[facets[:, 1]] - places[facets[:, 0]], places[facets[:, 2]] - places[facets[:, 0]])
        * places[facets[:, 0]]
    ).sum(axis=1) < 0
    facets[inward] = facets[inward][:, ::-1]
    ring = mesh_lines(places, facets, screen(places[facets], *CORNER), frame(*CORNER))
    assert sum(c.radius for c, visible in ring if visible) == pytest.approx(2 * math.pi * 10, rel=0.06)
