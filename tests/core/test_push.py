import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ravine.core import EditError, Model
from ravine.core.kernel import build
from ravine.core.kernel.check import fault
from tests.parts import boss_block, drilled_block, drilled_volume, grid_plate, model_of, step_file

SIDES = [(1, 0, 0), (-1, 0, 0), (0, 1, 0), (0, -1, 0), (0, 0, 1), (0, 0, -1)]


def solid(model, body):
    return model.geometry.solid(model.body(body).shape)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(st.sampled_from(SIDES), st.floats(-6, 15)), min_size=1, max_size=4))
def test_a_pushed_box_is_the_box_built_at_the_new_size(tmp_path_factory, pushes):
    size = dict.fromkeys(range(3), 20.0)
    model, body = model_of(tmp_path_factory.mktemp("box"), build.box(20, 20, 20))
    before = set(model.body(body).faces)
    for side, distance in pushes:
        axis = next(i for i in range(3) if side[i])
        if abs(distance) < 1e-3 or size[axis] + distance < 0.5:
            continue
        model.do("push", faces=[model.faces(body, normal=side)[0].id], distance=distance)
        size[axis] += distance
    measure = model.measure(body)
    assert measure.volume == pytest.approx(size[0] * size[1] * size[2], rel=1e-9)
    assert sorted(measure.size) == pytest.approx(sorted(size.values()), rel=1e-9)
    assert set(model.body(body).faces) == before
    assert fault(solid(model, body).shape) is None


@pytest.mark.parametrize("distance", [7.0, -7.0])
@pytest.mark.parametrize("normal", [(0, 0, 1), (0, 0, -1)])
def test_a_hole_stays_one_wall_and_all_ids_stay(tmp_path, normal, distance):
    model, body = model_of(tmp_path, drilled_block(40, 30, 20, 5))
    ids = model.body(body).ids()
    model.do("push", faces=model.faces(body, normal=normal).ids, distance=distance)
    assert model.measure(body).volume == pytest.approx(drilled_volume(40, 30, 20 + distance, 5), rel=1e-9)
    assert {k: set(v) for k, v in model.body(body).ids().items()} == {k: set(v) for k, v in ids.items()}
    (wall,) = model.faces(body, kind="cylinder")
    assert wall.area == pytest.approx(2 * math.pi * 5 * (20 + distance))


def test_boss_end_with_hole_grows_with_both_walls(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    end = model.faces(body, normal=(0, 0, 1)).highest()
    walls = {f.id: f.area for f in model.faces(body, kind="cylinder")}
    change = model.do("push", faces=[end.id], distance="12.5 mm")
    assert change.fact("volume_change") == pytest.approx(math.pi * (100 - 16) * 12.5)
    assert {f.id for f in model.faces(body, kind="cylinder")} == set(walls)
    assert change.sentence == "Pushed top of Part out by 12.5 mm"
    assert change.ended == ()


def test_several_faces_at_once_fill_their_corner(tmp_path):
    model, body = model_of(tmp_path, build.box(10, 10, 10))
    faces = [model.faces(body, normal=n)[0].id for n in [(1, 0, 0), (0, 1, 0), (0, 0, 1)]]
    model.do("push", faces=faces, distance=5)
    assert model.measure(body).volume == pytest.approx(15**3)
    model.do("push", faces=faces, distance=-5)
    assert model.measure(body).volume == pytest.approx(10**3)
    assert len(model.faces(body)) == 6


def test_there_and_back_and_undo_gives_the_same_bytes(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    original, state = model.geometry.blob(model.body(body).shape), model.snapshot
    end = model.faces(body, normal=(0, 0, 1)).highest().id
    model.do("push", faces=[end], distance=4)
    model.do("push", faces=[end], distance=-4)
    assert model.measure(body).volume == pytest.approx(60 * 40 * 10 + math.pi * 100 * 12 - math.pi * 16 * 22)
    model.undo()
    model.undo()
    assert model.snapshot == state
    assert model.geometry.blob(model.body(body).shape) == original
    assert len(solid(model, body).index.edges_of_faces) == len(model.body(body).faces)
    model.redo()
    assert model.face(end).centroid[2] == pytest.approx(26)


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"distance": "-40"}, "nothing of the body would be left"),
        ({"distance": "0"}, "nothing would change"),
        ({"distance": "12,5"}, "write 12.5"),
        ({}, "still empty"),
        ({"distance": "5", "faces": []}, "pick 1 face first"),
        ({"distance": "5", "faces": ["e1"]}, "not an edge"),
        ({"distance": "5", "touching": "perhaps"}, "one of"),
        ({"distance": "5", "twist": 1}, "no field"),
        ({"distance": True}, "takes a length"),
    ],
)
def test_refusals_name_the_reason_and_change_nothing(tmp_path, values, words):
    model, body = model_of(tmp_path, build.box(30, 20, 20))
    state, volume = model.snapshot, model.measure(body).volume
    top = model.faces(body, normal=(0, 0, 1))[0].id
    with pytest.raises(EditError, match=words):
        model.do("push", **{"faces": [top], **values})
    assert model.snapshot is state
    assert model.measure(body).volume == volume
    assert fault(solid(model, body).shape) is None


def test_the_nearest_value_named_in_a_refusal_works(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    bottom = model.faces(body, normal=(0, 0, -1))[0].id
    with pytest.raises(EditError) as told:
        model.do("push", faces=[bottom], distance="-50 mm")
    nearest = told.value.nearest
    assert nearest is not None
    change = model.do("push", faces=[bottom], distance=nearest)
    assert change.fact("volume_change") < 0


def test_a_cut_that_would_split_the_body_is_refused(tmp_path):
    bridge = build.subtract(build.box(60, 20, 20), build.box(20, 22, 15, (20, -1, -1)))
    model, body = model_of(tmp_path, bridge)
    ceiling = next(f for f in model.faces(body, normal=(0, 0, -1)) if f.centroid[2] > 5)
    with pytest.raises(EditError, match="2 pieces") as told:
        model.do("push", faces=[ceiling.id], distance=-10)
    assert told.value.nearest.startswith("-5.9")


def test_only_free_bodies(tmp_path):
    model, body = model_of(tmp_path, boss_block())
    model.do("lock", parts=model.nodes())
    with pytest.raises(EditError, match="locked"):
        model.do("push", faces=[model.faces(body, normal=(0, 0, 1))[0].id], distance=1)


def two_blocks(tmp_path, lock=False):
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "a.step", build.box(20, 20, 20), "Left")))
    model.do("import", path=str(step_file(tmp_path / "b.step", build.box(20, 20, 20, (30, 0, 0)), "Right")))
    if lock:
        model.do("lock", parts=model.nodes("Right"))
    left, right = model.bodies()
    return model, left, right, model.faces(left, normal=(1, 0, 0))[0].id


def test_touching_matter_joins_and_keeps_the_others_ids(tmp_path):
    model, left, right, face = two_blocks(tmp_path)
    far = model.faces(right, normal=(1, 0, 0))[0].id
    change = model.do("push", faces=[face], distance=10, touching="joining")
    assert change.fact("joins") == "Right"
    assert change.removed == (right,)
    assert model.measure(left).volume == pytest.approx(50 * 20 * 20)
    assert model.face(far).body == left
    assert change.fact("volume_change") == pytest.approx(10 * 400)


def test_bodies_kept_apart_locked_or_short_of_each_other_do_not_join(tmp_path):
    for number, (values, lock, words) in enumerate(
        [
            ({"distance": 10}, False, "kept apart"),
            ({"distance": 10, "touching": "joining"}, True, "locked"),
            ({"distance": 9.99, "touching": "joining"}, False, None),
        ]
    ):
        folder = tmp_path / str(number)
        folder.mkdir()
        model, left, right, face = two_blocks(folder, lock)
        change = model.do("push", faces=[face], **values)
        assert model.bodies() == [left, right]
        assert change.fact("joins") is None
        assert bool(words) == bool(change.warnings)
        assert words is None or words in change.warnings[0]


def test_a_push_beside_other_parts_leaves_no_seams(tmp_path):
    """Near another part, joined or not, a face goes with its neighbours: no wall is left in two."""
    for number, (touching, near) in enumerate([("keeping apart", 10), ("joining", 9), ("keeping apart", 9)]):
        folder = tmp_path / str(number)
        folder.mkdir()
        model, left, right, face = two_blocks(folder)
        change = model.do("push", faces=[face], distance=near, touching=touching)
        assert len(model.faces(left)) == len(model.faces(right)) == 6
        assert bool(change.warnings) == (near == 10)
        assert model.measure(left).volume == pytest.approx((20 + near) * 400)


def test_parts_that_meet_along_an_edge_only_do_not_join(tmp_path):
    model = Model()
    model.do("import", path=str(step_file(tmp_path / "a.step", build.box(20, 20, 20), "Box")))
    model.do("import", path=str(step_file(tmp_path / "b.step", build.box(20, 20, 5, (0, 0, 20)), "Lid")))
    box = model.bodies()[0]
    change = model.do("push", faces=[model.faces(box, normal=(1, 0, 0))[0].id], distance=5)
    assert len(model.bodies()) == 2
    assert change.fact("volume_change") == pytest.approx(5 * 400)


def test_faces_far_from_the_push_keep_shape_and_ids(tmp_path):
    model, body = model_of(tmp_path, grid_plate(6, 4))
    before = model.body(body)
    index = solid(model, body).index
    side = model.faces(body, normal=(1, 0, 0))[0].id
    model.do("push", faces=[side], distance=3)
    after = model.body(body)
    assert set(before.faces) == set(after.faces)
    now = solid(model, body).index
    same = sum(now.find("face", f) >= 0 for f in index.all("face"))
    assert same >= len(before.faces) - 6


def test_where_the_kernel_merges_badly_the_result_is_still_sound(tmp_path):
    """The end of a rib with rounded top edges: the kernel makes a crossing face when it merges the rounds."""
    rib = build.unite(build.box(40, 60, 10), build.box(3, 40, 9, (18, 10, 9)))
    rib = build.fillet(rib, 1, lambda e: e.kind == "line" and abs(e.middle[2] - 18) < 1e-6 and e.length > 20)
    model, body = model_of(tmp_path, rib)
    end = next(f for f in model.faces(body, normal=(0, -1, 0)) if f.centroid[1] > 5)
    change = model.do("push", faces=[end.id], distance=2)
    assert change.fact("volume_change") == pytest.approx(2 * end.area, rel=1e-9)
    assert fault(solid(model, body).shape) is None
