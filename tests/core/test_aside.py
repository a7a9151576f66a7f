"""Set aside and put back: the part closes, and is as built with the features on the faces as they are then."""

from __future__ import annotations

import pytest

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.volumes import volume_properties
from tests.parts import model_of
from tests.planted import planted_plate

EXACT = 1e-9


def block(wide=60.0, high=20.0, holes=True, boss=True):
    body = build.box(wide, 40, high)
    if boss:
        body = build.unite(body, build.cylinder(6, 9, (30, 30, high - 1)))
    if not holes:
        return body
    return build.subtract(body, *(build.cylinder(3, high + 2, (x, 10, -1)) for x in (10, 25, 40)))


@pytest.fixture
def part(tmp_path):
    model, body = model_of(tmp_path, block())
    return model, body


def hole_of(model, body, number=0):
    holes = [f for f in model.features(body) if f.kind == "hole"]
    return sorted(holes, key=lambda h: h.place[0])[number]


def same(model, body, shape):
    want = volume_properties(shape)
    assert model.measure(body).volume == pytest.approx(want.amount, rel=EXACT)
    assert model.measure(body).centroid == pytest.approx(want.centroid, abs=1e-6)


def flat(model, body, normal, which=0):
    return model.faces(body, kind="plane", normal=normal).highest(normal).id


def test_a_repeat_waits_and_comes_back_on_a_wall_that_has_grown(part):
    model, body = part
    change = model.do("set aside", faces=[hole_of(model, body).faces[0]], members="alike")
    assert change.fact("aside") == "hole-1"
    same(model, body, block(holes=False))
    assert not [f for f in model.features(body) if f.kind == "hole"]
    bottom, end = flat(model, body, (0, 0, -1)), flat(model, body, (1, 0, 0))
    model.do("push", faces=[bottom], distance=4)
    model.do("push", faces=[end], distance=7)
    model.do("put back", what="hole-1")
    want = build.moved(block(wide=67, high=24), _down(4))
    same(model, body, want)
    assert [h.sizes["depth"] for h in model.features(body) if h.kind == "hole"] == pytest.approx([24] * 3)


def _down(by):
    from ravine.core.rigid import Rigid

    return Rigid.slide((0, 0, -by))


def test_a_boss_stands_on_its_face_again_wherever_that_went(part):
    model, body = part
    boss = next(f for f in model.features(body) if f.kind == "boss")
    model.do("set aside", faces=[boss.faces[0]])
    same(model, body, block(boss=False))
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).largest().id
    model.do("push", faces=[top], distance=5)
    model.do("put back", what=["boss-1"])
    same(model, body, block(high=25))


def test_what_is_set_aside_leans_with_its_face(part):
    model, body = part
    boss = next(f for f in model.features(body) if f.kind == "boss")
    height = boss.sizes["height"]
    model.do("set aside", faces=[boss.faces[0]])
    without = model.measure(body).volume
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).largest()
    axis = next(e.id for e in model.edges(body, direction=(0, 1, 0)) if e.middle[0] < 1 and e.middle[2] > 19)
    model.do("tilt", faces=[top.id], axis=[axis], angle="6°")
    tilted = model.measure(body).volume
    model.do("put back", what="boss-1")
    added = model.measure(body).volume - tilted
    assert added == pytest.approx(3.14159265 * 36 * height, rel=1e-6)
    assert without != pytest.approx(tilted)
    assert next(f for f in model.features(body) if f.kind == "boss").sizes["height"] == pytest.approx(height)


def test_rounds_and_chamfers_come_back_along_edges_that_have_moved(tmp_path):
    model, body = model_of(tmp_path, build.box(60, 40, 20))
    upright = [e.id for e in model.edges(body, direction=(0, 0, 1)) if e.middle[1] > 39]
    model.do("round", edges=upright, size=4)
    long = next(e.id for e in model.edges(body, direction=(1, 0, 0)) if e.middle[2] < 1 and e.middle[1] < 1)
    model.do("chamfer", edges=[long], size=2)
    kinds = {f.kind: f for f in model.features(body)}
    model.do("set aside", faces=[kinds["fillet"].faces[0]], members="alike")
    model.do("set aside", faces=[kinds["chamfer"].faces[0]])
    assert model.measure(body).volume == pytest.approx(48_000, rel=EXACT)
    model.do("push", faces=[flat(model, body, (1, 0, 0))], distance=10)
    model.do("put back", what="round-1 chamfer-1")
    corner = (4 - 3.141592653589793) * 4  # of a round of 4 mm, per mm
    after = {f.kind: f.sizes for f in model.features(body)}
    assert after["fillet"]["radius"] == pytest.approx(4)
    assert after["chamfer"]["width"] == pytest.approx(2)
    assert 56_000 - model.measure(body).volume == pytest.approx(2 * 20 * corner + 2 * 70, rel=0.02)


def test_where_its_face_has_gone_it_says_which_and_nothing_changes(part):
    model, body = part
    boss = next(f for f in model.features(body) if f.kind == "boss")
    model.do("set aside", faces=[boss.faces[0]])
    top = model.faces(body, kind="plane", normal=(0, 0, 1)).largest().id
    record = next(iter(model.snapshot.records["aside"].values()))
    gone = Model(snapshot=_without_face(model, body, int(top[1:])), geometry=model.geometry)
    with pytest.raises(EditError, match=f"boss-1 stood on {top}, which is there no more"):
        gone.do("put back", what="boss-1")
    assert record.parts[0].matter
    with pytest.raises(EditError, match="nothing that is set aside is called “hole-7”; there is boss-1"):
        model.do("put back", what="hole-7")
    model.do("forget aside", what="boss-1")
    with pytest.raises(EditError, match="there is nothing"):
        model.do("put back", what="boss-1")


def _without_face(model, body, face):
    from dataclasses import replace

    now = model.body(body)
    (fresh,), snapshot = model.snapshot.fresh(1)
    return snapshot.with_body(replace(now, faces=tuple(fresh if f == face else f for f in now.faces)))


def test_it_is_stored_with_the_model_and_its_shape(part, tmp_path):
    model, body = part
    model.do("set aside", faces=[hole_of(model, body).faces[0]])
    snapshot = type(model.snapshot).from_json(model.snapshot.to_json())
    assert snapshot == model.snapshot
    (record,) = snapshot.records["aside"].values()
    assert record.parts[0].shape in snapshot.addresses()
    again = Model(snapshot=snapshot, geometry=model.geometry)
    again.do("put back", what="hole-1")
    same(again, body, block())


@pytest.mark.parametrize("seed", range(6))
def test_planted_features_come_back_as_they_were(tmp_path, seed):
    """Every feature that can be set aside alone, one after the other, on plates with many kinds."""
    shape, _ = planted_plate(seed)
    model, body = model_of(tmp_path, shape)
    before = model.measure(body)
    tried = 0
    for item in model.features(body):
        if item.kind in ("cluster",):
            continue
        try:
            model.do("set aside", faces=[item.faces[0]])
        except EditError:
            continue  # what cannot be removed says so
        tried += 1
        (record,) = model.snapshot.records["aside"].values()
        model.do("put back", what=record.name)
        after = model.measure(body)
        assert after.volume == pytest.approx(before.volume, rel=EXACT), item
        assert after.centroid == pytest.approx(before.centroid, abs=1e-6)
        model.undo()
        model.undo()
    assert tried >= 4
