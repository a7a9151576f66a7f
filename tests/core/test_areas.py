"""Closed areas against exact sums, and as faces in the kernel."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.special import ellipe

from ravine.core.errors import EditError
from ravine.core.kernel.properties import area_properties
from ravine.core.model.profiles import face_of
from ravine.core.model.sketch_regions import region_named, regions_of_sketch
from ravine.core.model.snapshot import area_id
from ravine.core.sketch.drawing import Asked, Spot, draw
from ravine.core.sketch.entities import Curve, Plane, Point2, Sketch
from ravine.core.sketch.parallels import set_off
from ravine.core.sketch.plane_curves import plane_curve
from ravine.core.sketch.regions import regions
from ravine.core.sketch.trimming import round_corner, trim
from tests.core.test_sketch_edits import Desk


class Board:
    """A sketch that is drawn in, shape after shape."""

    def __init__(self) -> None:
        self.ids = itertools.count(2)
        self.sketch = Sketch(1, "S")

    def draw(
        self, shape: str, *places: Point2, size: float | None = None, count: int = 6, helper: bool = False
    ) -> list[int]:
        asked = Asked(size, count)
        self.sketch, curves = draw(self.sketch, shape, [Spot(p) for p in places], self.ids, asked, helper)
        return curves

    def amounts(self) -> list[float]:
        return [a.amount for a in regions(self.sketch)]


def lens(r: float, d: float) -> float:
    """What two circles of radius r share, d apart."""
    return 2 * r * r * math.acos(d / (2 * r)) - d / 2 * math.sqrt(4 * r * r - d * d)


def test_two_circles_make_a_lens_and_two_moons() -> None:
    board = Board()
    board.draw("circle", (0, 0), size=5)
    board.draw("circle", (6, 0), size=5)
    shared = lens(5, 6)
    assert board.amounts() == pytest.approx([25 * math.pi - shared] * 2 + [shared], abs=1e-9)


def test_nested_outlines_are_holes_and_areas_of_their_own() -> None:
    board = Board()
    board.draw("rectangle", (0, 0), (60, 40))
    board.draw("circle", (20, 20), size=12)
    board.draw("rectangle", (14, 16), (26, 24))
    board.draw("circle", (48, 20), size=4)
    ring = 144 * math.pi - 96
    assert board.amounts() == pytest.approx([2400 - 160 * math.pi, ring, 96, 16 * math.pi], abs=1e-9)


def test_dead_ends_and_helpers_bound_nothing() -> None:
    board = Board()
    board.draw("rectangle", (0, 0), (40, 20))
    board.draw("line", (5, 5), (70, 5))
    board.draw("line", (0, 10), (40, 10), helper=True)
    assert board.amounts() == pytest.approx([800])
    board.draw("line", (20, -5), (20, 30))
    assert sorted(board.amounts()) == pytest.approx([100, 300, 400])


def test_touching_and_overlapping_outlines() -> None:
    board = Board()
    board.draw("rectangle", (0, 0), (10, 10))
    board.draw("rectangle", (10, 2), (20, 8))
    board.draw("circle", (5, 15), size=5)
    board.draw("line", (0, 0), (10, 0))  # on top of a side
    assert board.amounts() == pytest.approx([100, 25 * math.pi, 60], abs=1e-9)


def test_a_closed_spline_by_fine_strips() -> None:
    board = Board()
    board.draw("spline", (0, 0), (20, -4), (30, 10), (12, 22), (0, 0))
    (area,) = regions(board.sketch)
    fine = np.concatenate([p.line(fine=True)[:-1] for p in area.outer])
    x, y = fine.T
    by_strips = abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())) / 2
    assert area.amount == pytest.approx(by_strips, rel=2e-3)
    assert area.amount > by_strips  # chords of a round outline cut corners


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6), st.integers(1, 9))
def test_the_areas_of_random_boxes_and_circles_fill_their_union(seed: int, count: int) -> None:
    """Sum of the areas against counting places, and against the kernel's faces."""
    rng = np.random.default_rng(seed)
    board, depths = Board(), []
    for _ in range(count):
        x, y, w, h = (round(float(v), 3) for v in (*rng.uniform(0, 60, 2), *rng.uniform(4, 30, 2)))
        if rng.random() < 0.5:
            board.draw("rectangle", (x, y), (x + w, y + h))
            depths.append(lambda p, x=x, y=y, w=w, h=h: np.minimum(p - (x, y), (x + w, y + h) - p).min(axis=1))
        else:
            board.draw("circle", (x, y), size=w / 2)
            depths.append(lambda p, x=x, y=y, w=w: w / 2 - np.hypot(*(p - (x, y)).T))
    found = regions(board.sketch)
    places = rng.uniform(-20, 110, (400, 2))
    deep = np.array([depth(places) for depth in depths])
    clear = np.abs(deep).min(axis=0) > 0.05  # places are tried against drawn outlines, whose chords cut corners
    for place, inside in zip(places[clear].tolist(), (deep > 0).any(axis=0)[clear], strict=True):
        count = sum(a.covers((place[0], place[1])) for a in found)
        assert count == 1 if inside else count <= 1  # what they enclose between them is an area, too
    for area in found:
        assert area.covers(area.inside)
        assert area_properties(face_of(Plane(), area)).amount == pytest.approx(area.amount, rel=1e-7)


def test_an_area_is_found_again_by_its_name_after_its_outline_moved() -> None:
    board = Board()
    board.draw("rectangle", (0, 0), (40, 20))
    name = area_id(1, regions_of_sketch(board.sketch)[0].inside)
    moved = board.sketch.with_points({n: (x + 3, y * 1.5) for n, (x, y) in board.sketch.points.items()})
    assert region_named(moved, name).amount == pytest.approx(1200)
    with pytest.raises(EditError, match="no closed area of S lies around"):
        region_named(board.sketch.without(list(board.sketch.curves)[:1]), name)


def test_cut_back_to_what_crosses() -> None:
    board = Board()
    (circle,) = board.draw("circle", (0, 0), size=10)
    board.draw("line", (-20, 0), (20, 0))
    board.sketch = trim(board.sketch, circle, (0.0, -10.0), board.ids)
    assert board.amounts() == pytest.approx([50 * math.pi])
    line = next(c for c in board.sketch.curves.values() if c.kind == "line")
    board.sketch = trim(board.sketch, line.id, (15.0, 0.0), board.ids)
    right = max(board.sketch.places(c)[1][0] for c in board.sketch.curves.values() if c.kind == "line")
    assert right == pytest.approx(10)


def test_rounded_corners_keep_their_tangents() -> None:
    board = Board()
    board.draw("rectangle", (0, 0), (40, 20))
    for point in list(board.sketch.points):
        board.sketch = round_corner(board.sketch, point, 3.0, board.ids)
    assert board.amounts() == pytest.approx([800 - (4 - math.pi) * 9])
    sharp = Board()
    sharp.draw("rectangle", (0, 0), (40, 20))
    with pytest.raises(EditError, match="the largest is"):
        round_corner(sharp.sketch, next(iter(sharp.sketch.points)), 25.0, sharp.ids)


@pytest.mark.parametrize(("rounded", "more"), [(False, 16.0), (True, 4 * math.pi)])
def test_a_chain_set_off_outwards(rounded: bool, more: float) -> None:
    board = Board()
    lines = board.draw("rectangle", (0, 0), (40, 20))
    board.sketch, _ = set_off(board.sketch, lines[0], -2.0, board.ids, rounded)
    ring, inner = board.amounts()
    assert {round(ring, 6), round(inner, 6)} == {800.0, round(2 * 2 * (40 + 20) + more, 6)}
    board.sketch, _ = set_off(board.sketch, lines[0], 2.0, board.ids, rounded)
    assert min(board.amounts()) == pytest.approx(4 * (40 + 20) - 16)


def test_ellipses_and_chains_with_splines_set_off_keep_to_steiners_formula() -> None:
    """Around a convex outline of area A and length L its parallel at d bounds A + L d + π d² (J. Steiner, 1840)."""
    board = Board()
    (ellipse,) = board.draw("ellipse", (0, 0), (30, 0), (0, 20))
    round_about = 4 * 30 * ellipe(1 - (20 / 30) ** 2)
    board.sketch, _ = set_off(board.sketch, ellipse, 5.0, board.ids, True)
    assert sum(board.amounts()) == pytest.approx(600 * math.pi + 5 * round_about + 25 * math.pi, rel=1e-6)
    with pytest.raises(EditError, match="bends more sharply") as refused:
        set_off(board.sketch, ellipse, -14.0, board.ids, True)
    assert refused.value.nearest == "-13.32 mm"  # b²/a is the sharpest
    for rounded in (True, False):
        board = Board()
        (bow,) = board.draw("spline", (0, 0), (15, 12), (40, 0))
        start, *_, end = board.sketch.curve(bow).points
        board.sketch = board.sketch.with_curves(Curve(next(board.ids), "line", (end, start)))
        flat = plane_curve(board.sketch, board.sketch.curve(bow))
        t = np.linspace(0, 2, 20001)
        length = 40 + np.hypot(*np.diff(flat.at(t), axis=0).T).sum()
        (inner,) = board.amounts()
        board.sketch, _ = set_off(board.sketch, bow, 3.0, board.ids, rounded)  # to the left: outwards
        assert sum(board.amounts()) == pytest.approx(inner + 3 * length + 9 * math.pi, rel=3e-6)
        board.sketch, _ = set_off(board.sketch, bow, -1.0, board.ids, rounded)
        assert min(board.amounts()) < inner - 0.9 * length + 30


@pytest.mark.parametrize("ends", ["straight", "round"])
def test_a_wall_around_an_open_chain_is_closed_at_its_ends(ends: str) -> None:
    desk = Desk()
    sketch = desk.begin()
    lines = desk.draw(sketch, "line", "0,0 40,0 40,30")
    desk.model.do("set off", curve=[lines[0]], distance=3, corners="round", sides="both", ends=ends)
    wall = 2 * 3 * 70 + (math.pi / 4 - 1) * 9  # the corner is round outside and sharp inside
    areas_found = [a.amount for a in regions(desk.of(sketch))]
    # the chain itself divides the wall lengthwise, where its ends meet the caps
    assert sum(areas_found) == pytest.approx(wall + (9 * math.pi if ends == "round" else 0), rel=1e-9)
    ring = desk.draw(sketch, "rectangle", "100,0 140,30")
    with pytest.raises(EditError, match="has no ends to close"):
        desk.model.do("set off", curve=[ring[0]], distance=3, sides="both", ends="round")
