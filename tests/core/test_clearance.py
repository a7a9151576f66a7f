"""Gaps and overlaps against formulas and brute force, and fits against the printed tables."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.clearance.iso286 import fit, limits, tolerance
from ravine.core.clearance.pairs import gaps_between, shared_volume
from ravine.core.clearance.picked_fit import fit_of
from ravine.core.kernel import build
from ravine.core.kernel.nearest import nearest
from tests.parts import boss_block, step_file


def model_with(folder, **shapes):
    model = Model()
    for name, shape in shapes.items():
        model.do("import", path=str(step_file(folder / f"{name}.step", shape, name)))
    return model


def found(model, within=5.0, hidden=()):
    return gaps_between(model.snapshot, model.geometry, within, hidden)[0]


@settings(max_examples=25, deadline=None)
@given(st.floats(0.5, 30), st.floats(-25, 25), st.floats(-25, 25), st.floats(0, 3))
def test_the_gap_is_that_of_the_whole_bodies(tmp_path_factory, up, x, y, lean):
    """Only some faces are held against one another; all of them give the same."""
    ball = build.sphere(4, (30 + x, 20 + y, 26 + up + lean))
    model = model_with(tmp_path_factory.mktemp("pair"), Block=boss_block(), Ball=ball)
    (pair,) = found(model, 100.0)
    bare = nearest(boss_block(), ball)
    assert pair.state == "clear"
    assert pair.gap == pytest.approx(bare[0], abs=1e-7)
    assert math.dist(*pair.places) == pytest.approx(pair.gap, abs=1e-6)


def test_overlaps_come_first_then_what_touches_then_the_narrowest(tmp_path):
    shapes = {
        "Base": build.box(40, 40, 10), "Sunk": build.box(5, 5, 5, (2, 2, 7)), "Laid": build.box(5, 5, 5, (20, 2, 10)),
        "Over": build.box(5, 5, 5, (20, 20, 10.25)), "Away": build.box(5, 5, 5, (2, 30, 60)),
    }  # fmt: skip
    model = model_with(tmp_path, **shapes)
    pairs = found(model, 1.0)
    assert [(p.names, p.state) for p in pairs] == [
        (("Base", "Sunk"), "overlap"), (("Base", "Laid"), "touching"), (("Base", "Over"), "clear")
    ]  # fmt: skip
    assert pairs[0].volume == pytest.approx(5 * 5 * 3, rel=1e-9)
    assert pairs[2].gap == pytest.approx(0.25, abs=1e-9)
    corners = shared_volume(model.snapshot, model.geometry, pairs[0].nodes)
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6
    assert volume == pytest.approx(75, rel=1e-6)
    assert found(model, 1.0, {pairs[0].nodes[1]})[0].state == "touching"


def test_a_part_wholly_inside_another_overlaps_it(tmp_path):
    model = model_with(tmp_path, Outer=build.box(20, 20, 20), Inner=build.sphere(3, (10, 10, 10)))
    (pair,) = found(model)
    assert pair.state == "overlap"
    assert pair.volume == pytest.approx(4 / 3 * math.pi * 27, rel=1e-9)


def test_a_pin_in_a_hole_that_does_not_touch_is_clear(tmp_path):
    plate = build.subtract(build.box(20, 20, 10), build.cylinder(5.05, 12, (10, 10, -1)))
    (pair,) = found(model_with(tmp_path, Plate=plate, Pin=build.cylinder(5, 30, (10, 10, -10))))
    assert (pair.state, pair.gap) == ("clear", pytest.approx(0.05, abs=1e-6))


# ISO 286-2:2010, tables 2 to 32, µm: upper and lower deviation
@pytest.mark.parametrize(
    ("size", "zone", "high", "low"),
    [
        (25, "H7", 21, 0), (25, "g6", -7, -20), (40, "p6", 42, 26), (60, "s6", 72, 53), (10, "h6", 0, -9),
        (100, "f7", -36, -71), (8, "k6", 10, 1), (3, "n6", 10, 4), (30, "H8", 33, 0), (18, "d9", -50, -93),
        (50, "F8", 64, 25), (120, "r6", 76, 54), (500, "H11", 400, 0), (6, "m6", 12, 4), (200, "s7", 168, 122),
        (80, "G7", 40, 10), (315, "e8", -110, -191),
    ],
)  # fmt: skip
def test_zones_are_those_of_the_tables(size, zone, high, low):
    found = limits(size, zone)
    assert (round(1000 * found.high, 6), round(1000 * found.low, 6)) == (high, low)


@given(st.floats(1, 500), st.sampled_from([6, 7, 8, 9, 10, 11]))
def test_grades_follow_the_formula_of_the_standard(size, grade):
    """i = 0.45 ∛D + 0.001 D of the geometric mean of the range; the standard rounds its table."""
    from ravine.core.clearance.iso286 import UP_TO, _row

    row = _row(size)
    low = UP_TO[row - 1] if row else 1
    mean = math.sqrt(low * UP_TO[row])
    unit = 0.45 * mean ** (1 / 3) + 0.001 * mean
    factor = {6: 10, 7: 16, 8: 25, 9: 40, 10: 64, 11: 100}[grade]
    assert 1000 * tolerance(size, grade) == pytest.approx(factor * unit, rel=0.16)


def test_fits_are_named_by_their_kind_and_nonsense_is_refused():
    assert [fit(25, n).kind for n in ("H7/g6", "H7/k6", "H7/s6")] == ["clearance", "transition", "interference"]
    sliding = fit(25, "H7/g6")
    assert (round(sliding.least, 6), round(sliding.most, 6)) == (0.007, 0.041)
    for bad in ("H7", "g6/H7", "Q7/g6", "H7/q6", "H99/g6", "H7/g6/x"):
        with pytest.raises(EditError):
            fit(25, bad)
    with pytest.raises(EditError, match="500"):
        fit(501, "H7/g6")


def test_picked_faces_tell_their_fit(tmp_path):
    plate = build.subtract(build.box(40, 40, 10), build.cylinder(12.51, 12, (20, 20, -1)))
    model = model_with(tmp_path, Plate=plate, Pin=build.cylinder(12.5, 30, (20, 20, -10)))
    bodies = list(model.snapshot.bodies)
    hole = next(f.id for f in model.faces(f"b{bodies[0]}", kind="cylinder"))
    shaft = next(f.id for f in model.faces(f"b{bodies[1]}", kind="cylinder"))
    found = fit_of(model.snapshot, model.geometry, [shaft, hole])
    assert (found.hole, found.shaft, found.clearance) == pytest.approx((25.02, 25.0, 0.02))
    assert [r.name for r in found.rows if r.agrees] == ["H8/f7", "H7/g6", "H7/h6"]
    assert all("fuses" in words for _, words in found.printed)
    with pytest.raises(EditError, match="one round hole and one round shaft"):
        fit_of(model.snapshot, model.geometry, [hole])
