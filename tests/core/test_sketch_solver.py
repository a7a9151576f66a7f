"""The sketch solver against closed forms, random consistent sketches, conflicts and freedom."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core.sketch.constraints import FORMS, SIZES, fit, measured
from ravine.core.sketch.drawing import Asked, Spot, draw
from ravine.core.sketch.entities import Constraint, Curve, Point2, Sketch
from ravine.core.sketch.solver import System, Unknowns, against, freedom, solve


def polygon(places: list[Point2], *constraints: tuple) -> Sketch:
    """Lines 101… through points 1…, closed; constraints (kind, on…, value or nothing)."""
    count = len(places)
    sketch = Sketch(999, "S").with_points({i + 1: p for i, p in enumerate(places)})
    sketch = sketch.with_curves(*(Curve(101 + i, "line", (i + 1, (i + 1) % count + 1)) for i in range(count)))
    for number, (kind, on, *value) in enumerate(constraints, 201):
        sketch = sketch.with_constraints(Constraint(number, kind, on, value[0] if value else None))
    return sketch


def test_a_triangle_gets_its_three_sides_and_the_angle_of_the_cosine_rule() -> None:
    sketch = polygon(
        [(0, 0), (9, 1), (4, 6)],
        ("fixed", (1,)), ("level", (101,)), ("length", (101,), 8.0), ("length", (102,), 5.0), ("length", (103,), 7.0),
    )  # fmt: skip
    solved = solve(sketch)
    assert solved.holds
    (ax, ay), (bx, by), (cx, cy) = (solved.sketch.points[n] for n in (1, 2, 3))
    assert (ax, ay) == (0, 0)
    assert math.dist((bx, by), (8, 0)) < 1e-9
    angle = math.acos((8**2 + 7**2 - 5**2) / (2 * 8 * 7))
    assert math.dist((cx, cy), (7 * math.cos(angle), 7 * math.sin(angle))) < 1e-9
    assert freedom(solved.sketch).degrees == 0


def test_a_circle_tangent_to_two_sides_of_a_corner_lies_on_the_bisector() -> None:
    sketch = Sketch(9, "S").with_points({1: (0, 0), 2: (20, 0), 3: (12, 16), 4: (9, 3)})
    sketch = sketch.with_curves(
        Curve(11, "line", (1, 2)), Curve(12, "line", (1, 3)), Curve(13, "circle", (4,), 2.5)
    ).with_constraints(
        *(Constraint(20 + p, "fixed", (p,)) for p in (1, 2, 3)),
        Constraint(31, "tangent", (11, 13)), Constraint(32, "tangent", (12, 13)), Constraint(33, "radius", (13,), 4.0),
    )  # fmt: skip
    solved = solve(sketch)
    assert solved.holds
    half = math.atan2(16, 12) / 2
    assert math.dist(solved.sketch.points[4], (4 / math.tan(half), 4)) < 1e-9


def test_what_is_dragged_goes_there_and_the_rest_follows_its_rules() -> None:
    sketch = solve(
        polygon([(0, 0), (30, 0), (30, 20), (0, 20)], ("level", (101,)), ("upright", (102,)), ("level", (103,)),
                ("upright", (104,)), ("length", (101,), 30.0))
    ).sketch  # fmt: skip
    solved = solve(sketch, {3: (50.0, 27.0)})
    assert solved.holds
    assert math.dist(solved.sketch.points[3], (50, 27)) < 1e-4
    assert solved.sketch.points[2][0] - solved.sketch.points[1][0] == pytest.approx(30, abs=1e-7)
    assert solved.sketch.points[1][1] == pytest.approx(0, abs=1e-6)  # nothing asks the bottom to move


@pytest.mark.parametrize(("kind", "on", "value"), [("length", (103,), 41.0), ("angle", (101, 102), 1.2)])
def test_a_contradiction_names_the_rules_that_take_part_in_it(kind: str, on: tuple[int, ...], value: float) -> None:
    sketch = polygon(
        [(0, 0), (40, 0), (40, 20), (0, 20)],
        ("level", (101,)), ("upright", (102,)), ("level", (103,)), ("upright", (104,)), ("length", (101,), 40.0),
        ("length", (102,), 20.0),
    )  # fmt: skip
    rule = Constraint(300, kind, on, value)
    assert solve(sketch).holds
    assert not solve(sketch.with_constraints(rule)).holds
    barring = against(sketch, rule)
    assert set(barring) == ({201, 202} if kind == "angle" else {202, 204, 205})  # the height has nothing to do with it


def test_a_rule_that_says_nothing_new_is_found() -> None:
    sketch = polygon(
        [(0, 0), (40, 0), (40, 20), (0, 20)],
        ("level", (101,)), ("upright", (102,)), ("level", (103,)), ("upright", (104,)), ("parallel", (101, 103)),
    )  # fmt: skip
    found = freedom(sketch)
    assert set(found.needless) == {201, 203, 205}
    assert found.degrees == 4


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.integers(4, 12), st.integers(1, 12))
def test_random_sketches_with_rules_that_can_hold_are_solved_from_near_by(
    seed: int, count: int, constraints: int
) -> None:
    """Sizes are read off a sketch, its points are shaken, and the constraints hold again."""
    rng = np.random.default_rng(seed)
    turns = np.sort(rng.uniform(0, 2 * math.pi, count)) + np.arange(count) * 1e-2
    places = [(40 * math.cos(t), 30 * math.sin(t)) for t in turns]
    sketch = polygon(places)  # type: ignore[arg-type]
    for number in range(constraints):
        kind = str(rng.choice(["length", "distance", "angle", "off line"]))
        lines = [int(n) for n in 101 + rng.permutation(count)]
        points = [int(n) for n in 1 + rng.permutation(count)]
        on = {"length": (lines[0],), "distance": (points[0], points[1]), "angle": (lines[0], lines[1]),
              "off line": (points[0], lines[0])}[kind]  # fmt: skip
        if kind == "off line" and points[0] in sketch.curves[lines[0]].points:
            continue
        value = measured(sketch, kind, on)
        sketch = sketch.with_constraints(
            Constraint(300 + number, kind, on, abs(value) if kind == "off line" else value)
        )
    assert solve(sketch).holds
    shaken = sketch.with_points({n: (x + rng.normal() * 0.05, y + rng.normal() * 0.05) for n, (x, y) in sketch.points.items()})  # fmt: skip  # noqa: E501
    solved = solve(shaken)
    assert solved.holds, solved.off
    system = System(Unknowns(solved.sketch), solved.sketch.constraints.values())
    assert np.abs(system.residuals(Unknowns(solved.sketch).start)).max(initial=0.0) < 1e-7
    again = Sketch.from_json(solved.sketch.to_json())
    assert again == solved.sketch


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6), st.sampled_from(sorted(set(FORMS) - {"fixed"})))
def test_slopes_are_those_of_the_residuals(seed: int, kind: str) -> None:
    rng = np.random.default_rng(seed)
    sketch = Sketch(9, "S").with_points({n: tuple(rng.uniform(-20, 20, 2)) for n in range(1, 7)})  # type: ignore[misc]
    sketch = sketch.with_curves(
        Curve(11, "line", (1, 2)), Curve(12, "line", (3, 4)),
        Curve(13, "circle", (5,), 3.0), Curve(14, "circle", (6,), 5.0),
    )  # fmt: skip
    supply = {"point": iter((5, 6)), "line": iter((11, 12)), "round": iter((13, 14))}
    rule = Constraint(20, kind, tuple(next(supply[t]) for t in FORMS[kind].takes), 0.7)
    layout = Unknowns(sketch)
    system = System(layout, [rule])
    slopes = system.slopes(layout.start).toarray()
    for column in range(len(layout.start)):
        step = np.zeros(len(layout.start))
        step[column] = 1e-6
        across = (system.residuals(layout.start + step) - system.residuals(layout.start - step)) / 2e-6
        assert np.abs(across - slopes[:, column]).max() < 1e-5


@pytest.mark.parametrize(
    ("shape", "places", "size", "degrees"),
    [
        ("line", [(0, 0), (20, 0), (20, 15), (0, 0)], None, 4),
        ("rectangle", [(0, 0), (30, 20)], None, 4),
        ("rectangle about", [(0, 0), (30, 20)], None, 4),
        ("circle", [(0, 0)], 5.0, 2),
        ("circle through", [(5, 0), (0, 5), (-5, 0)], None, 3),
        ("arc", [(5, 0), (-5, 0), (0, 5)], None, 5),
        ("arc about", [(0, 0), (5, 0), (0, 7)], None, 5),
        ("polygon", [(0, 0), (10, 0)], None, 4),
        ("slot", [(0, 0), (20, 8)], 3.0, 4),
        ("ellipse", [(0, 0), (10, 0), (0, 4)], None, 5),
        ("spline", [(0, 0), (10, 5), (20, 0)], None, 6),
        ("dot", [(3, 4)], None, 2),
    ],
)
def test_each_shape_is_free_in_as_many_ways_as_it_should_be(
    shape: str, places: list[Point2], size: float | None, degrees: int
) -> None:
    sketch, curves = draw(Sketch(1, "S"), shape, [Spot(p) for p in places], itertools.count(2), Asked(size))
    assert curves
    found = freedom(sketch)
    assert found.degrees == degrees
    assert solve(sketch).steps <= 2


def test_what_is_asked_takes_the_form_that_fits_the_pick() -> None:
    sketch = polygon([(0, 0), (40, 0), (40, 20), (0, 20)])
    assert fit(sketch, "distance", (101,)) == ("length", (101,))
    assert fit(sketch, "distance", (101, 3)) == ("off line", (3, 101))
    assert fit(sketch, "level", (1, 3)) == ("level points", (1, 3))
    assert all(form in FORMS for forms in SIZES.values() for form in forms)
    with pytest.raises(Exception, match="takes a circle or arc; picked: a line"):
        fit(sketch, "radius", (101,))
