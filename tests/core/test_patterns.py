"""Patterns that are remembered: recounting, riders, and what becomes of members that were changed."""

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.model.snapshot import Snapshot
from tests.core.test_shaping_edits import sound
from tests.parts import model_of

PLATE = 100 * 60 * 10


def plate(tmp_path):
    shape = build.subtract(build.box(100, 60, 10), build.cylinder(2, 20, (10, 10, -5)))
    return model_of(tmp_path, shape)


def walls(model, body):
    return sorted(f.id for f in model.faces(body, kind="cylinder"))


def holes(count, radius=2.0):
    return count * math.pi * radius**2 * 10


def test_a_grid_is_recounted_and_members_that_stay_keep_their_ids(tmp_path):
    model, body = plate(tmp_path)
    model.do("pattern", faces=walls(model, body), count=4, along="x", step=12, rows=2, across="y", pitch=20)
    sound(model, body, PLATE - holes(8))
    before = walls(model, body)
    assert model.do("recount", face=[before[-1]], count=6).fact("members") == 12
    sound(model, body, PLATE - holes(12))
    assert set(before) < set(walls(model, body))
    model.do("recount", face=[walls(model, body)[0]], count=2, rows=1)
    sound(model, body, PLATE - holes(2))
    assert set(walls(model, body)) < set(before)
    model.do("recount", face=[walls(model, body)[0]], count=3, step=40)
    sound(model, body, PLATE - holes(3))
    assert sorted(round(f.axis[0][0]) for f in model.faces(body, kind="cylinder")) == [10, 50, 90]
    model.do("recount", face=[walls(model, body)[0]], count=1)
    sound(model, body, PLATE - holes(1))


def test_a_ring_shares_the_turn_anew(tmp_path):
    shape = build.subtract(build.cylinder(40, 10), build.cylinder(10, 20, (0, 0, -5)))
    model, body = model_of(tmp_path, build.subtract(shape, build.cylinder(3, 20, (25, 0, -5))))
    whole = math.pi * (1600 - 100) * 10
    hole = model.faces(body, kind="cylinder", radius=3)[0].id
    axis = model.faces(body, kind="cylinder", radius=10)[0].id
    model.do("pattern around", faces=[hole], count=6, axis=[axis])
    sound(model, body, whole - holes(6, 3))
    model.do("recount", face=[hole], count=8)
    sound(model, body, whole - holes(8, 3))
    angles = sorted(math.degrees(math.atan2(*reversed(f.axis[0][:2]))) % 360
                    for f in model.faces(body, kind="cylinder", radius=3))  # fmt: skip
    assert angles == pytest.approx([i * 45 for i in range(8)], abs=1e-6) or angles[-1] > 359.99
    with pytest.raises(EditError, match="more than once"):
        model.do("recount", face=[hole], count=8, angle="60°")
    with pytest.raises(EditError, match="its step is an angle"):
        model.do("recount", face=[hole], count=8, step=5)


def test_members_change_together_and_new_ones_are_like_the_first(tmp_path):
    model, body = plate(tmp_path)
    (hole,) = walls(model, body)
    model.do("pattern", faces=[hole], count=3, along="x", step=15)
    third = walls(model, body)[-1]
    model.do("resize", faces=[third], size=6, riders="pattern")
    sound(model, body, PLATE - holes(3, 3))
    model.do("recount", face=[hole], count=5)
    sound(model, body, PLATE - holes(5, 3))
    model.do("remove", faces=[walls(model, body)[2]])
    sound(model, body, PLATE - holes(4, 3))
    model.do("recount", face=[hole], count=2)
    sound(model, body, PLATE - holes(2, 3))


def test_patterns_are_stored_with_the_state_and_stepped_back(tmp_path):
    model, body = plate(tmp_path)
    (hole,) = walls(model, body)
    with pytest.raises(EditError, match="in no pattern"):
        model.do("recount", face=[hole], count=2)
    with pytest.raises(EditError, match="in no pattern"):
        model.do("push", faces=[hole], distance=1, riders="pattern")
    model.do("pattern", faces=[hole], count=3, along="x", step=15)
    text = model.snapshot.to_json()
    assert Snapshot.from_json(text).to_json() == text
    assert Snapshot.from_json(text).patterns == model.snapshot.patterns
    model.undo()
    assert not model.snapshot.patterns


def test_a_pattern_that_does_not_fit_changes_nothing(tmp_path):
    model, body = plate(tmp_path)
    model.do("pattern", faces=walls(model, body), count=3, along="x", step=15)
    before = model.snapshot
    with pytest.raises(EditError, match="too many"):
        model.do("recount", face=[walls(model, body)[0]], count=1000)
    with pytest.raises(EditError, match="further rows"):
        model.do("recount", face=[walls(model, body)[0]], count=3, rows=2)
    assert model.snapshot == before
