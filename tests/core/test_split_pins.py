"""Pins across a cut: where they stand, what they take away, that the pieces go together, what is refused."""

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from tests.parts import model_of

PLAY = 0.2


def named(model, start):
    return [b for b in model.bodies() if model.body(b).name.startswith(start)]


@pytest.mark.parametrize(("along", "height"), [("z", 20.0), ("x", 35.0)])
def test_two_pins_far_apart_hold_the_halves_of_a_block(tmp_path, along, height):
    model, body = model_of(tmp_path, build.box(60, 30, 40), "Block")
    change = model.do("split", parts=[body], along=along, height=height, pins="4 mm")
    assert change.fact("pins") == 2
    assert change.sentence.endswith(f"at {height:g} mm, with pins of 4 mm")
    pins = named(model, "Pin")
    assert [model.measure(p).volume for p in pins] == pytest.approx([math.pi * 4 * 12] * 2, rel=1e-9)
    halves = [b for b in model.bodies() if b not in pins]
    whole = sum(model.measure(b).volume for b in halves)
    hole = math.pi * (2 + PLAY / 2) ** 2 * (12 + 2 * PLAY)
    assert whole == pytest.approx(60 * 30 * 40 - 2 * hole, rel=1e-9)
    assert all(len(model.faces(b, kind="cylinder")) == 2 for b in halves), "a hole for each in either half"
    places = [model.faces(p, kind="cylinder")[0].axis[0] for p in pins]
    assert math.dist(*places) > 25, "as far apart as the cut lets them be"
    assert all(f.kind != "overlap" for f in model.clearances()), "with play all round"
    assert {model.body(p).material for p in pins} == {model.body(halves[0]).material}


def test_a_small_cut_gets_one_pin_and_none_where_there_is_no_room(tmp_path):
    model, body = model_of(tmp_path, build.box(9, 9, 60), "Post")
    assert model.do("split", parts=[body], along="z", height=30, pins="4 mm").fact("pins") == 1
    (pin,) = named(model, "Pin")
    x, y, _ = model.faces(pin, kind="cylinder")[0].axis[0]
    assert (x, y) == (pytest.approx(4.5, abs=0.05), pytest.approx(4.5, abs=0.05))
    model.undo()
    before = model.snapshot
    with pytest.raises(EditError, match="no room for pins as thick as that") as refused:
        model.do("split", parts=[body], along="z", height=30, pins="8 mm")
    assert model.snapshot is before
    assert refused.value.nearest is not None
    model.do("split", parts=[body], along="z", height=30, pins=refused.value.nearest)


def test_pins_stay_in_the_matter_near_a_hollow(tmp_path):
    """A bore below the cut lets them in less far, and through it none."""
    block = build.subtract(build.box(40, 20, 30), build.cylinder(4, 44, (-2, 10, 8), (1, 0, 0)))
    model, body = model_of(tmp_path, block, "Block")
    change = model.do("split", parts=[body], along="z", height=16, pins="3 mm")
    holes = [f for b in model.bodies() if not model.body(b).name.startswith("Pin")
             for f in model.faces(b, kind="cylinder") if abs(f.radius - 1.6) < 1e-9]  # fmt: skip
    assert change.fact("pins") == len(named(model, "Pin")) == 2
    assert len(holes) == 4
    for b in named(model, "Pin"):
        shared = [f for f in model.clearances() if f.kind == "overlap" and model.body(b).name in f.names]
        assert shared == []


def test_copies_are_pinned_where_they_stand(tmp_path):
    model, _ = model_of(tmp_path, build.box(60, 30, 40), "Block")
    model.do("move body", parts=model.nodes(), along="x", distance="200 mm")
    model.do("repeat parts", parts=model.nodes(), count=3, along="y", step=100)
    model.do("split", parts=model.nodes()[:1], along="x", height=225, pins="4 mm")
    assert len(named(model, "Pin")) == 2
    shown = [o for o in model.snapshot.occurrences() if o.body.name.startswith("Pin")]
    assert len(shown) == 6, "two in each of the three"
    assert [f for f in model.clearances() if f.kind == "overlap"] == []


def test_a_round_face_splits_without_pins_only(tmp_path):
    shape = build.subtract(build.box(60, 40, 20), build.cylinder(6, 24, (30, 20, -2)))
    model, body = model_of(tmp_path, shape, "Block")
    wall = model.faces(body, kind="cylinder")[0].id
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).highest().id
    with pytest.raises(EditError):
        model.do("split", parts=[body], face=[wall], pins="4 mm")
    with pytest.raises(EditError, match="does not pass through"):
        model.do("split", parts=[body], face=[top], pins="4 mm")
