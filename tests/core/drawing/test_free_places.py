"""Views that are put where there is room for them."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from ravine.core.drawing.free_place import CLEAR, free_place
from ravine.core.drawing.paper import Paper
from ravine.core.drawing.sheet import ink_sheet
from ravine.core.kernel import build
from tests.parts import model_of

PAPER = Paper.of("A3")
OWN = (-20.0, -10.0, 20.0, 10.0)


def test_the_wish_is_kept_where_it_is_free_else_the_line_else_the_nearest_place():
    wish = (120.0, 200.0)
    assert free_place(PAPER, [], OWN, wish) == wish
    in_the_way = [(110.0, 190.0, 130.0, 210.0)]
    x, y = free_place(PAPER, in_the_way, OWN, wish, along=(0.0, -1.0))
    assert x == 120
    assert 190 - 10 - CLEAR[0] - 4 <= y <= 190 - 10 - CLEAR[0]
    across = [(0.0, 0.0, 420.0, 230.0)]  # nothing below
    x, y = free_place(PAPER, across, OWN, wish, along=(0.0, -1.0))
    assert y - 10 - CLEAR[1] >= 230


def test_where_nothing_is_free_it_stays_on_the_paper():
    whole = [(0.0, 0.0, 420.0, 297.0)]
    low_x, low_y, high_x, high_y = PAPER.room
    x, y = free_place(PAPER, whole, OWN, (900.0, -50.0))
    assert (x + 20, y - 10) == (high_x, low_y)
    beside = free_place(PAPER, [], OWN, (-50.0, 900.0))
    assert beside == pytest.approx((low_x + 20 + CLEAR[0], high_y - 10 - CLEAR[0]), abs=4)


def test_views_cut_and_enlarged_one_after_the_other_stand_clear(tmp_path):
    plate = build.subtract(build.box(60, 40, 20), *(build.cylinder(4, 30, (x, 20, -1)) for x in (15, 45)))
    model, _ = model_of(tmp_path, plate)
    sheet = model.drawing(size="A2", views="usual")
    top = next(v for v in sheet.views if sheet.record.views[v.number].eye == (0.0, 0.0, 1.0))
    top.section()
    top.section(toward="left")
    top.section(line="-40,0 -15,0 40,30")
    top.detail((15, 0), 8)
    ink = ink_sheet(model.snapshot, model.geometry, sheet.record)
    assert len(ink.boxes) == 8
    low, high = np.array(ink.paper.room[:2]), np.array(ink.paper.room[2:])
    for one, other in itertools.combinations(ink.boxes.values(), 2):
        assert min(one[2] - other[0], other[2] - one[0], one[3] - other[1], other[3] - one[1]) <= 0
    assert all((low <= b[:2]).all() and (high >= b[2:]).all() for b in ink.boxes.values())
