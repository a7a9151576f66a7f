"""Lifted features planted elsewhere: the part is that built with them there."""

from __future__ import annotations

import math

import pytest

from ravine.core import EditError
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from ravine.core.kernel.volumes import volume_properties
from ravine.core.model.records import FEET
from tests.parts import model_of, step_file

BOSS = math.pi * 36 * 9


def with_feature(folder, shape, kind):
    """A part, the feature of a kind lifted out as a copy, and a plain block beside them."""
    model, body = model_of(folder, shape)
    found = next(f for f in model.features(body) if f.kind == kind)
    made = next(a for a in model.do("lift out", faces=[found.faces[0]], way="copy").added if a.startswith("b"))
    block = model.do("import", path=str(step_file(folder / "block.step", build.box(60, 50, 20), "Block"))).added[0]
    return model, made, block


def place_of(model, body):
    return next(p.id for p in model.parts() if p.body == body)


def top(model, body):
    return model.faces(body, kind="plane", normal=(0, 0, 1)).largest().id


def same(model, body, shape):
    solid = model.geometry.solid(model.body(body).shape).shape
    assert fault(solid) is None
    assert model.measure(body).volume == pytest.approx(volume_properties(shape).amount, rel=1e-9)
    assert model.measure(body).centroid == pytest.approx(volume_properties(shape).centroid, abs=1e-6)


def bossed(x=15.0, y=15.0):
    return build.unite(build.box(40, 30, 10), build.cylinder(6, 10, (x, y, 9)))


def test_a_boss_is_planted_as_often_as_wanted(tmp_path):
    model, boss, block = with_feature(tmp_path, bossed(), "boss")
    spots = [(15.0, 15.0), (40.0, 30.0)]
    want = build.box(60, 50, 20)
    for x, y in spots:
        middle = model.face(top(model, block)).centroid  # that the places count from
        model.do(
            "plant", what=[place_of(model, boss)], face=[top(model, block)], across=x - middle[0], up=y - middle[1]
        )
        want = build.unite(want, build.cylinder(6, 10, (x, y, 19)))
        same(model, block, want)
    model.do("plant", what=[place_of(model, boss)], face=[top(model, block)], across=0, up=-18, after="used")
    assert boss not in model.bodies()


def test_a_pocket_is_cut_turned_and_on_a_side(tmp_path):
    plate = build.subtract(build.box(40, 30, 10), build.box(16, 8, 5, (12, 11, 6)))
    model, plug, block = with_feature(tmp_path, plate, "pocket")
    model.do("plant", what=[place_of(model, plug)], face=[top(model, block)], across=-10, angle="90°")
    same(model, block, build.subtract(build.box(60, 50, 20), build.box(8, 16, 5, (16, 17, 16))))
    side = model.faces(block, kind="plane", normal=(1, 0, 0)).largest().id
    model.do("plant", what=[place_of(model, plug)], face=[side])
    assert model.measure(block).volume == pytest.approx(60 * 50 * 20 - 2 * 16 * 8 * 4, rel=1e-9)


def test_on_a_cylinder_the_foot_is_carried_on(tmp_path):
    model, boss, _ = with_feature(tmp_path, bossed(), "boss")
    shaft = model.do("import", path=str(step_file(tmp_path / "shaft.step", build.cylinder(15, 60), "Shaft"))).added[0]
    wall = model.faces(shaft, kind="cylinder")[0].id
    model.do("plant", what=[place_of(model, boss)], face=[wall], across=5)
    solid = model.geometry.solid(model.body(shaft).shape).shape
    assert fault(solid) is None
    axis = build.cylinder(6, 24, (0, 0, 35), (1, 0, 0))  # as long as its top stands off the axis, wherever it points
    assert model.measure(shaft).volume == pytest.approx(
        volume_properties(build.unite(build.cylinder(15, 60), axis)).amount, rel=1e-7
    )


@pytest.mark.parametrize("sunk", [False, True])
def test_the_round_at_its_foot_is_laid_anew_on_a_cylinder(tmp_path, sunk):
    """As if it had been built there: the flare for a flat face would stand off, or reach in.  On a flat face it is
    as it was."""
    tool = build.cylinder(6, 9, (20, 15, 1 if sunk else 10))
    block = build.box(40, 30, 10)
    sharp = build.subtract(block, tool) if sunk else build.unite(block, tool)
    part = build.fillet(sharp, 1.5, lambda e: e.kind == "circle" and abs(e.middle[2] - 10) < 1e-6)
    model, made, other = with_feature(tmp_path, part, "hole" if sunk else "boss")
    solid = build.cylinder(20, 60)
    shaft = model.do("import", path=str(step_file(tmp_path / "shaft.step", solid, "Shaft"))).added[0]
    wall = model.faces(shaft, kind="cylinder")[0].id
    model.do("plant", what=[place_of(model, made)], face=[wall], across=5)
    own = build.cylinder(6, 40, (11 if sunk else 0, 0, 35), (1, 0, 0))
    want = build.subtract(solid, own) if sunk else build.unite(solid, build.cylinder(6, 29, (0, 0, 35), (1, 0, 0)))
    want = build.fillet(want, 1.5, lambda e: e.kind not in ("line", "circle"))
    assert model.measure(shaft).volume == pytest.approx(volume_properties(want).amount, rel=1e-6)
    assert [f.sizes["radius"] for f in model.features(shaft) if f.kind == "fillet"] == pytest.approx([1.5])
    before = model.measure(other).volume
    model.do("plant", what=[place_of(model, made)], face=[top(model, other)])
    assert abs(model.measure(other).volume - before) == pytest.approx(model.measure(made).volume, rel=1e-9)
    assert model.snapshot.__class__.from_json(model.snapshot.to_json()) == model.snapshot


def test_feet_of_features_lifted_together_are_their_own(tmp_path):
    """With the part cut in between: each keeps the round by which it stood."""
    rows = [(12.0, 1.0), (40.0, 2.0)]
    part = build.unite(build.box(60, 30, 10), *(build.cylinder(6, 10, (x, 15, 9)) for x, _ in rows))
    for x, r in rows:
        part = build.fillet(
            part, r, lambda e, x=x: e.kind == "circle" and abs(e.middle[2] - 10) < 1e-6 and abs(e.middle[0] - x) < 9
        )
    model, body = model_of(tmp_path, part)
    model.do("lift out", faces=[f.faces[0] for f in model.features(body) if f.kind == "boss"], way="cut")
    feet = sorted(model.snapshot.kept(FEET).values(), key=lambda foot: foot.point[0])
    assert [foot.round for foot in feet] == pytest.approx([1.0, 2.0])
    assert all(model.geometry.get(foot.plain).volume_mm3 == pytest.approx(BOSS, rel=1e-9) for foot in feet)


def test_a_round_that_finds_no_room_is_told(tmp_path):
    part = build.fillet(bossed(), 2, lambda e: e.kind == "circle" and abs(e.middle[2] - 10) < 1e-6)
    model, boss, _ = with_feature(tmp_path, part, "boss")
    short = model.do("import", path=str(step_file(tmp_path / "s.step", build.cylinder(15, 11), "Disc"))).added[0]
    before = model.snapshot
    with pytest.raises(EditError, match="round of 2 mm at its foot does not go there"):
        model.do("plant", what=[place_of(model, boss)], face=[model.faces(short, kind="cylinder")[0].id])
    assert model.snapshot is before


def test_a_cut_boss_and_an_added_plug(tmp_path):
    model, boss, block = with_feature(tmp_path, bossed(), "boss")
    with pytest.raises(EditError, match="nothing of it meets"):
        model.do("plant", what=[place_of(model, boss)], face=[top(model, block)], way="subtracted")
    with pytest.raises(EditError):
        model.do("plant", what=[place_of(model, boss)], face=[top(model, block)], across=200)
    with pytest.raises(EditError, match="cannot be planted on itself"):
        model.do("plant", what=[place_of(model, block)], face=[top(model, block)])


def test_a_feature_moved_to_another_part_by_lifting_and_planting(tmp_path):
    """Cut here, planted there: what both parts hold together is what they held before."""
    model, body = model_of(tmp_path, bossed())
    other = model.do("import", path=str(step_file(tmp_path / "b.step", build.box(60, 50, 20), "Block"))).added[0]
    feature = next(f for f in model.features(body) if f.kind == "boss")
    made = next(a for a in model.do("lift out", faces=[feature.faces[0]]).added if a.startswith("b"))
    model.do("plant", what=[place_of(model, made)], face=[top(model, other)], after="used")
    assert model.measure(body).volume == pytest.approx(40 * 30 * 10, rel=1e-9)
    assert model.measure(other).volume == pytest.approx(60 * 50 * 20 + BOSS, rel=1e-9)
    again = next(f for f in model.features(other) if f.kind == "boss")
    assert again.sizes == pytest.approx({"diameter": 12, "height": 9})
