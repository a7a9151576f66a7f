"""Pushes that change the form of the body: holes that break out, bosses that grow over a border, faces that vanish,
rounds that have to be suppressed.  The result is the part built at its new size."""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from ravine.core import EditError
from ravine.core.edits.perform import perform
from ravine.core.errors import Unsettled
from ravine.core.kernel import build
from ravine.core.kernel.shapes import parts_of
from ravine.core.kernel.volumes import volume_properties
from ravine.core.operations.work import Mode, Work
from tests.core.test_shaping_edits import BLOCK, sound, wall
from tests.parts import model_of


def segment(radius, distance):
    """Region of a disc beyond a chord at this distance from its middle."""
    return radius**2 * math.acos(distance / radius) - distance * math.sqrt(radius**2 - distance**2)


def test_a_hole_breaks_out_through_the_side_and_keeps_its_ids(tmp_path):
    model, body = model_of(tmp_path, build.subtract(build.box(40, 30, 20), build.cylinder(3, 22, (20, 5, -1))))
    hole = wall(model, body)
    ids = {f.id for f in model.faces(body)}
    model.do("push", faces=[hole], distance=-4)
    sound(model, body, BLOCK - 20 * (math.pi * 49 - segment(7, 5)))
    assert hole in {f.id for f in model.faces(body)}
    assert len(ids - {f.id for f in model.faces(body)}) == 0
    model.undo()
    model.do("resize", faces=[hole], size=14)
    sound(model, body, BLOCK - 20 * (math.pi * 49 - segment(7, 5)))
    with pytest.raises(EditError) as told:
        model.do("push", faces=[hole], distance=-30)
    assert told.value.nearest is not None


def test_a_boss_grows_over_the_border_of_its_plate(tmp_path):
    model, body = model_of(tmp_path, build.unite(build.box(40, 30, 20), build.cylinder(4, 10, (20, 6, 20))))
    model.do("push", faces=[wall(model, body)], distance=4)
    sound(model, body, BLOCK + math.pi * 64 * 10)


def test_a_round_end_shrinks_past_the_corner_beside_it(tmp_path):
    lug = build.subtract(
        build.cylinder(20, 10), build.box(60, 60, 12, (-30, 5, -1)), build.box(60, 60, 12, (-30, -72, -1))
    )
    model, body = model_of(tmp_path, lug)
    outer = model.faces(body, kind="cylinder").ids
    for radius in (18.0, 11.0):
        model.do("push", faces=outer, distance=radius - 20)
        area = math.pi * radius**2 - segment(radius, 5)
        sound(model, body, 10 * (area if radius <= 12 else area - segment(radius, 12)))
        model.undo()


def test_a_cone_and_a_ball_grow_through_what_is_beside_them(tmp_path):
    sunk = build.subtract(build.box(40, 30, 20), build.cone(2, 8, 12, (20, 9, 8.01)))
    model, body = model_of(tmp_path, sunk)
    (cone,) = [f.id for f in model.faces(body, kind="cone")]
    model.do("push", faces=[cone], distance=-3)
    shift = 3 / math.cos(math.atan(0.5))
    want = build.subtract(build.box(40, 30, 20), build.cone(2 + shift, 8 + shift, 12, (20, 9, 8.01)))
    sound(model, body, volume_properties(want).amount, rel=1e-6)
    bowl = build.subtract(build.box(40, 30, 20), build.sphere(8, (20, 10, 20)))
    model, body = model_of(tmp_path, bowl, "Bowl")
    (ball,) = [f.id for f in model.faces(body, kind="sphere")]
    model.do("push", faces=[ball], distance=-4)
    sound(model, body, volume_properties(build.subtract(build.box(40, 30, 20), build.sphere(12, (20, 10, 20)))).amount)


def test_rounds_are_set_aside_and_put_back_where_they_cannot_roll(tmp_path):
    post = build.unite(build.box(40, 30, 10), build.box(10, 10, 20, (4, 10, 10)))
    post = build.fillet(post, 2, lambda e: e.middle[2] == 10 and 3 < e.middle[0] < 15 and 9 < e.middle[1] < 21)
    model, body = model_of(tmp_path, post)
    side = next(f for f in model.faces(body, normal=(-1, 0, 0)) if f.centroid[2] > 12)
    rounds = {f.id for f in model.faces(body) if f.kind != "plane"}
    model.do("push", faces=[side.id], distance=1)  # its round runs up to one millimetre from the border
    grown = build.unite(build.box(40, 30, 10), build.box(11, 10, 20, (3, 10, 10)))
    grown = build.fillet(grown, 2, lambda e: e.middle[2] == 10 and 2 < e.middle[0] < 15 and 9 < e.middle[1] < 21)
    sound(model, body, volume_properties(grown).amount, rel=1e-6)
    assert rounds <= {f.id for f in model.faces(body)}


@settings(max_examples=12, deadline=None, derandomize=True)
@given(
    x=st.floats(4, 36),
    y=st.floats(4, 26),
    radius=st.floats(1, 3),
    grown=st.floats(3.2, 9),
    lean=st.sampled_from([0.0, 0.2, 0.5]),
)
def test_any_hole_grown_is_the_hole_drilled_larger(tmp_path_factory, x, y, radius, grown, lean):
    axis = (math.sin(lean), 0, math.cos(lean))
    start = (x - 30 * axis[0], y, -20)

    def drilled(size):
        return build.subtract(build.box(40, 30, 20), build.cylinder(size, 90, start, axis))

    model, body = model_of(tmp_path_factory.mktemp("hole"), drilled(radius))
    holes = model.faces(body, kind="cylinder").ids
    assume(holes and (lean or min(abs(grown - x), abs(grown - 40 + x)) > 0.05))  # no touch along a line
    assume(min(abs(grown - y), abs(grown - 30 + y)) > 0.05)
    want = drilled(grown)
    if len(parts_of(want, "solid")) != 1:
        with pytest.raises(EditError, match=r"pieces|nothing"):
            model.do("push", faces=holes, distance=radius - grown)
        return
    model.do("push", faces=holes, distance=radius - grown)
    sound(model, body, volume_properties(want).amount, rel=1e-6)


def test_a_quick_preview_leaves_the_slow_part_to_the_settled_one(tmp_path):
    lug = build.subtract(
        build.cylinder(20, 10), build.box(60, 60, 12, (-30, 5, -1)), build.box(60, 60, 12, (-30, -72, -1))
    )
    model, body = model_of(tmp_path, lug)
    values = {"faces": model.faces(body, kind="cylinder").ids, "distance": -9}  # past the corners of the flat beside it
    with pytest.raises(Unsettled) as told:
        perform("push", values, Work(model.snapshot, model.geometry, mode=Mode.DRAG))
    assert told.value.as_dict()["later"]
    _, change = perform("push", values, Work(model.snapshot, model.geometry))
    assert change.after != model.snapshot
