"""Edits on whole bodies: combine, split, mirror, scale, hollow out.  Volumes by formula."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.edits.perform import perform
from ravine.core.kernel import build
from ravine.core.operations.work import Mode, Work
from tests.core.test_shaping_edits import BLOCK, sound, top, wall
from tests.parts import model_of, step_file

BALL = 4 / 3 * math.pi * 1000


def two(tmp_path, first, second, names=("Block", "Ball")):
    model = Model()
    for shape, name in zip((first, second), names, strict=True):
        model.do("import", path=str(step_file(tmp_path / f"{name}.step", shape, name)))
    return model, *model.bodies()


def volumes(model):
    return sorted(model.measure(b).volume for b in model.bodies())


def all_ids(model):
    return [i for b in model.snapshot.bodies.values() for row in b.ids().values() for i in row]


@pytest.mark.parametrize(
    ("way", "volume"), [("unite", BLOCK + BALL / 2), ("cut", BLOCK - BALL / 2), ("common", BALL / 2)]
)
@pytest.mark.parametrize("after", ["go", "stay"])
def test_combining_a_block_with_a_ball_half_in_it(tmp_path, way, volume, after):
    model, block, ball = two(tmp_path, build.box(40, 30, 20), build.sphere(10, (20, 15, 20)))
    faces = {f.id for f in model.faces(block)}
    model.do("combine", way=way, part=model.nodes("Block"), tools=model.nodes("Ball"), after=after)
    sound(model, block, volume)
    assert (ball in model.bodies()) == (after == "stay")
    if way != "common":
        assert faces <= {f.id for f in model.faces(block)}
    assert len(all_ids(model)) == len(set(all_ids(model)))
    model.undo()
    assert volumes(model) == pytest.approx([BALL, BLOCK])


def test_a_cut_into_pieces_makes_parts_of_them(tmp_path):
    model, block, _ = two(tmp_path, build.box(40, 30, 20), build.box(10, 50, 50, (12, -10, -10)))
    change = model.do("combine", way="cut", part=model.nodes("Block"), tools=model.nodes("Ball"))
    assert change.fact("pieces") == 2
    assert volumes(model) == pytest.approx([12 * 600, 18 * 600])
    sound(model, block, 18 * 600)
    assert len(all_ids(model)) == len(set(all_ids(model)))


def test_locked_parts_cut_but_are_never_joined_or_taken(tmp_path):
    model, block, ball = two(tmp_path, build.box(40, 30, 20), build.sphere(10, (20, 15, 20)))
    model.do("lock", parts=model.nodes("Ball"))
    with pytest.raises(EditError, match="locked"):
        model.do("combine", way="unite", part=model.nodes("Block"), tools=model.nodes("Ball"))
    with pytest.raises(EditError, match="locked"):
        model.do("combine", way="cut", part=model.nodes("Ball"), tools=model.nodes("Block"))
    change = model.do("combine", way="cut", part=model.nodes("Block"), tools=model.nodes("Ball"))
    sound(model, block, BLOCK - BALL / 2)
    assert ball in model.bodies()
    assert any("stays" in w for w in change.warnings)


def test_parts_that_do_not_touch_are_refused(tmp_path):
    model, _, _ = two(tmp_path, build.box(40, 30, 20), build.sphere(10, (200, 0, 0)))
    before = model.snapshot
    for way, reason in (("unite", "do not touch"), ("cut", "do not meet"), ("common", "nothing would be left")):
        with pytest.raises(EditError, match=reason):
            model.do("combine", way=way, part=model.nodes("Block"), tools=model.nodes("Ball"))
    with pytest.raises(EditError, match="with itself"):
        model.do("combine", part=model.nodes("Block"), tools=model.nodes("Block"))
    assert model.snapshot == before


def test_splitting_by_a_plane_and_by_a_round_face(tmp_path):
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.cylinder(5, 22, (20, 15, -1))))
    hole = wall(model, body)
    model.do("split", parts=model.nodes(), along="x", height=12)
    assert volumes(model) == pytest.approx([12 * 600, 28 * 600 - math.pi * 25 * 20])
    model.undo()
    model.do("repeat parts", parts=model.nodes(), count=3, along="y", step=50)
    change = model.do("split", parts=model.nodes()[:1], along="z", height=8)
    assert change.fact("pieces") == 2
    assert len(model.snapshot.occurrences()) == 6  # copies are split alike
    model.undo()
    with pytest.raises(EditError, match="does not pass through"):
        model.do("split", parts=model.nodes()[:1], along="z", height=80)
    with pytest.raises(EditError, match="does not pass through"):
        model.do("split", parts=model.nodes()[:1], face=[hole])
    shaft = build.unite(build.box(40, 30, 20), build.cylinder(6, 10, (20, 15, 20)))
    model, body = model_of(tmp_path, shaft, "Shaft")
    model.do("split", parts=model.nodes(), face=[wall(model, body)])
    assert volumes(model) == pytest.approx([math.pi * 36 * 30, BLOCK - math.pi * 36 * 20])


@settings(max_examples=12, deadline=None, derandomize=True)
@given(height=st.floats(0.5, 19.5), along=st.sampled_from("xyz"))
def test_pieces_of_a_split_add_up(tmp_path_factory, height, along):
    model, _ = model_of(
        tmp_path_factory.mktemp("split"), build.unite(build.box(20, 20, 20), build.sphere(6, (20, 20, 20)))
    )
    (whole,) = volumes(model)
    model.do("split", parts=model.nodes(), along=along, height=height)
    assert sum(volumes(model)) == pytest.approx(whole, rel=1e-9)
    assert len(all_ids(model)) == len(set(all_ids(model)))


def test_mirroring_apart_and_joined(tmp_path):
    wedge = build.extrude(build.outline([(0, 0, 0), (30, 0, 0), (0, 0, 20)]), (0, 10, 0))
    model, body = model_of(tmp_path, wedge)
    model.do("mirror", parts=model.nodes(), along="x")
    assert volumes(model) == pytest.approx([3000, 3000])
    (other,) = [b for b in model.bodies() if b != body]
    assert min(v.point[0] for v in model.vertices(other)) == pytest.approx(-30)
    sound(model, other, 3000)
    model.undo()
    side = model.faces(body, normal=(-1, 0, 0))[0].id
    model.do("mirror", parts=model.nodes(), face=[side], result="joined")
    sound(model, body, 6000)
    assert len(model.faces(body)) == 5
    with pytest.raises(EditError, match="do not touch"):
        model.do("mirror", parts=model.nodes(), along="z", height=-50, result="joined")


def test_scaling_about_the_middle_and_the_origin(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20, (100, 0, 0)))
    faces = model.faces(body).ids
    model.do("scale", parts=model.nodes(), factor="150 %")
    sound(model, body, BLOCK * 1.5**3)
    assert model.faces(body).ids == faces
    assert min(v.point[0] for v in model.vertices(body)) == pytest.approx(90)
    model.do("scale", parts=model.nodes(), factor=2, centre="origin")
    assert min(v.point[0] for v in model.vertices(body)) == pytest.approx(180)
    with pytest.raises(EditError, match="goes from"):
        model.do("scale", parts=model.nodes(), factor=1e6)
    with pytest.raises(EditError, match="such as"):
        model.do("scale", parts=model.nodes(), factor="-2")


def test_hollowing_out_with_rounds_two_openings_and_two_walls(tmp_path):
    model, body = model_of(tmp_path, build.box(40, 30, 20))
    open_ = [top(model, body)]
    model.do("hollow", faces=open_, thickness=2)
    sound(model, body, BLOCK - 36 * 26 * 18)
    model.undo()
    open_.append(model.faces(body, normal=(0, -1, 0))[0].id)
    floor = model.faces(body, normal=(0, 0, -1))[0].id
    model.do("hollow", faces=open_, thickness=2, other=5, thick=[floor])
    sound(model, body, BLOCK - 36 * 28 * 15)
    model.undo()
    with pytest.raises(EditError) as told:
        model.do("hollow", faces=open_[:1], thickness=18)
    assert 14 < float(told.value.nearest.split()[0]) <= 15.01
    rounded = build.fillet(build.box(40, 30, 20), 4, lambda e: abs(e.middle[2] - 10) < 1e-6)
    model, body = model_of(tmp_path, rounded, "Rounded")
    corners = (4 - math.pi) * 16, (4 - math.pi) * 4
    model.do("hollow", faces=[top(model, body)], thickness=2)
    sound(model, body, (1200 - corners[0]) * 20 - (36 * 26 - corners[1]) * 18)


def test_pieces_are_dropped_by_their_numbers(tmp_path):
    """A bar cut by a wall falls into 12 and 8 mm; a preview shows what would go."""
    bar, wall = build.box(22, 4, 4), build.box(2, 10, 10, (12, -3, -3))
    model, _ = model_of(tmp_path, bar, "Bar")
    model.do("import", path=str(step_file(tmp_path / "wall.step", wall, "Wall")))
    first, second = model.nodes()
    values = {"part": [first], "tools": [second], "way": "cut"}
    change = model.do("combine", **values)
    assert [(p.number, p.dropped) for p in change.pieces] == [(1, False), (2, False)]
    model.undo()
    change = model.do("combine", **values, drop="2")
    assert change.fact("volume_change") == pytest.approx(12 * 16 - 22 * 16 - 200)
    assert [model.measure(b).volume for b in model.bodies()] == pytest.approx([192])
    model.undo()
    _, shown = perform("combine", {**values, "drop": "1"}, Work(model.snapshot, model.geometry, mode=Mode.PREVIEW))
    assert len(shown.after.bodies) == 2
    assert shown.fact("volume_change") == pytest.approx(8 * 16 - 22 * 16 - 200)
    for drop, words in (("3", "no piece 3"), ("1 2", "nothing would be left"), ("x", "numbers such as")):
        with pytest.raises(EditError, match=words):
            model.do("combine", **values, drop=drop)
    model.do("split", parts=[first], along="x", height="5", drop="2")
    assert model.measure(model.bodies()[0]).volume == pytest.approx(17 * 16)


@pytest.mark.parametrize("room", [0.0, 0.5, 2.0])
def test_an_opening_is_cut_with_clearance_all_round(tmp_path, room):
    """A block and a pin through a plate: what is gone is the tool made larger by the clearance on every side."""
    model, plate = model_of(tmp_path, build.box(80, 50, 10), "Plate")
    for name, shape in (("Block", build.box(20, 12, 30, (10, 10, -10))), ("Pin", build.cylinder(6, 40, (60, 25, -15)))):
        model.do("import", path=str(step_file(tmp_path / f"{name}.step", shape, name)))
    values = {"tools": ["Block", "Pin"], "way": "cut", "after": "stay", "clearance": room}
    change = model.do("combine", part=["Plate"], **values)
    gone = (20 + 2 * room) * (12 + 2 * room) * 10 + math.pi * (6 + room) ** 2 * 10
    sound(model, plate, 80 * 50 * 10 - gone)
    assert change.sentence.endswith("clear all round") == bool(room)
    assert {f.kind for f in model.clearances(0.4)} == ({"gap"} if 0 < room < 0.4 else set())
