"""One box, one rigid motion: what they say agrees with counting corners and with matrices."""

from __future__ import annotations

import math
import pickle

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ravine.core.box import Box
from ravine.core.kernel import build
from ravine.core.kernel.properties import bounding_box, rough_box
from ravine.core.kernel.shapes import placed
from ravine.core.rigid import IDENTITY, Rigid

number = st.floats(-1e3, 1e3)
vector = st.tuples(number, number, number)
motions = st.builds(
    lambda p, a, angle, s: Rigid.slide(s) @ Rigid.about(p, a, angle),
    vector, vector.filter(lambda v: math.hypot(*v) > 1e-2), st.floats(-7, 7), vector,
)  # fmt: skip
boxes = st.lists(vector, min_size=1, max_size=6).map(Box.around)


@given(motions, st.lists(vector, min_size=1, max_size=5))
def test_many_points_go_where_each_goes(motion, points):
    there = motion.points(np.array(points))
    assert there == pytest.approx(np.array([motion.point(p) for p in points]), abs=1e-9)
    assert motion.vectors(np.array(points)) == pytest.approx(np.array([motion.direction(p) for p in points]), abs=1e-9)
    assert motion.matrix == pytest.approx(np.column_stack([motion.turn, motion.shift]))


@given(motions)
def test_a_motion_is_its_twelve_numbers(motion):
    back = pickle.loads(pickle.dumps(motion))
    assert back == motion == tuple(motion)
    assert isinstance(back, Rigid)
    assert hash(back) == hash(tuple(motion))
    assert Rigid.of(motion.turn, motion.shift) == motion
    assert (motion.inverse @ motion).near(IDENTITY, 1e-9)
    assert motion.same(motion)
    assert not motion.near(Rigid.slide((1, 0, 0)) @ motion)


def test_twelve_numbers_and_no_others():
    with pytest.raises(ValueError, match="twelve numbers, not 3"):
        Rigid((1, 2, 3))
    assert IDENTITY.is_slide
    assert Rigid.slide((1, 2, 3)).is_slide
    assert not Rigid.about((0, 0, 0), (0, 0, 1), 1e-6).is_slide


@given(boxes, motions)
def test_a_moved_box_holds_the_moved_corners(box, motion):
    there = box.moved(motion)
    for corner in box.corners:
        point = motion.point(corner)
        assert all(there.low[k] - 1e-9 <= point[k] <= there.high[k] + 1e-9 for k in range(3))
    assert len(set(box.corners)) <= 8
    assert box.diagonal == pytest.approx(math.hypot(*box.size))
    assert box.middle == pytest.approx(tuple(np.mean(box.corners, axis=0)), abs=1e-9)


@given(boxes, boxes, st.floats(0, 50))
def test_boxes_meet_where_grown_ones_share_a_place(a, b, slack):
    apart = max(max(a.low[k] - b.high[k], b.low[k] - a.high[k]) for k in range(3))
    assert a.meets(b, slack) == b.meets(a, slack) == (apart <= slack)
    assert a.grown(1).size == pytest.approx(tuple(s + 2 for s in a.size))


def test_the_kernel_gives_boxes():
    shape = placed(build.box(1, 2, 3), Rigid.slide((10, 0, 0)))
    exact, rough = bounding_box(shape), rough_box(shape)
    assert exact.low == pytest.approx((10, 0, 0), abs=1e-6)
    assert exact.size == pytest.approx((1, 2, 3), abs=1e-6)
    assert rough.meets(exact)
    assert all(r >= e for r, e in zip(rough.size, exact.size, strict=True))
